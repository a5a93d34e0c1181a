"""One fix that an editor makes itself, put to the same proof as those of rules."""

from __future__ import annotations

from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans import rework
from yellow_trellis.plans.outcome import WRITTEN
from yellow_trellis.syntax import Tree

RULE = "made-in-the-editor"


def text_after(tree: Tree, fix: Fix) -> bytes | str:
    """Return the text after a fix, in UTF-8, or why it cannot be proved right."""
    finding = Finding(RULE, "note", fix.extent, fix.title, (fix,))
    done = rework(tree, lambda text: [finding] if text is tree else [], with_review=True)
    for _, outcome in done.outcomes:
        if outcome.state not in WRITTEN:
            return outcome.reason
    return done.tree.source.data
