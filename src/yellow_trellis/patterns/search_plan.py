"""The search plan of a pattern: from bytes, or by a query of the tree, to candidate nodes.

A pattern with a rare word is led by it: the word is found in the bytes, and the tree is climbed
from there. A pattern of holes alone has no word; the parser's query engine then names the nodes
that are built like it. Either way the exact matcher sees candidates only.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.patterns.literal_anchors import led_by_hole
from yellow_trellis.patterns.pattern import Anchor, Pattern
from yellow_trellis.patterns.prefilter import HoleConstraint, Prefilter, prefilter
from yellow_trellis.patterns.query_form import query_form
from yellow_trellis.syntax.queries import StructureQuery


class SearchPlan(NamedTuple):
    """A way to the nodes at which a match may start."""

    lead: Anchor | None
    """What to look for in the bytes; None where the tree is queried."""
    query: StructureQuery | None = None
    """What to look for in the tree; None where bytes lead, or every node may match."""
    prefilters: tuple[Prefilter, ...] = ()
    """By root of the pattern: what a node must be like that may match it."""
    has_runs: bool = False
    """Whether any root is a hole for several statements."""


def search_plan(pattern: Pattern, constraints: Iterable[HoleConstraint] = ()) -> SearchPlan:
    """Return how to get to the matches of `pattern`.

    Arguments: `constraints` are what a rule requires of holes beyond the pattern.
    """
    constraints = list(constraints)
    prefilters = tuple(prefilter(root, pattern, constraints) for root in pattern.roots)
    if pattern.lead is not None:
        return SearchPlan(pattern.lead, None, prefilters)
    kinds = pattern.kinds or pattern.language.kinds
    root = pattern.roots[0]
    if len(pattern.roots) > 1 or root.hole is not None or pattern.without is not None:
        has_runs = any(root.hole is not None and root.hole.many for root in pattern.roots)
        return SearchPlan(None, StructureQuery(kinds), prefilters, has_runs)
    own = [HoleConstraint(s.key, None, s.regex) for s in pattern.stand_ins.values()]
    for constraint in (*own, *constraints):
        if constraint.regex is not None:
            regex = constraint.regex.pattern
            lead = led_by_hole(root, constraint.hole, regex, pattern.language)
            if lead is not None:
                return SearchPlan(lead, None, prefilters)
    form = query_form(root, pattern.language)
    return SearchPlan(None, StructureQuery(kinds, form), prefilters)
