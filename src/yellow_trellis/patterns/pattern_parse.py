"""Parsing a pattern: how its holes are written, and what stands around, so that it parses.

A hole is a name where it can be one, and code of another form where the grammar has none: a case, a
spread, a statement with its semicolon. The fewest holes are written in another form.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import combinations, islice

from msgspec import Struct, field
from msgspec.structs import replace

from yellow_trellis.languages import Language
from yellow_trellis.patterns.notation import Hole, Notation, PatternError
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node, Tree


class ParsedPattern(Struct, frozen=True):
    """A pattern that parses: where it stands in the code made for it, and how holes are written."""

    tree: Tree
    span: Span
    holes: dict[str, Hole]
    """By what stands for it in the code."""
    part: str | None = None
    """The part of the language that it is, if it was read as one."""
    forms: Mapping[str, str] = field(default_factory=dict)
    """By stand-in name of a hole: what stands for it in the code."""
    start: int = 0
    """The byte of the code at which the pattern starts."""

    def byte_of(self, code: str) -> int:
        """Return the byte at which the code stands that follows `code`, the start of a pattern."""
        for name, form in self.forms.items():
            code = code.replace(name, form)
        return self.start + len(code.encode("utf-8"))


def parse_pattern(
    text: str, notation: Notation, language: Language, part: str | None
) -> ParsedPattern:
    """Parse the pattern, with holes and surroundings written so that the grammar takes them."""
    if part is not None and part not in language.parts:
        entry = ", ".join(language.parts) or "none"
        raise PatternError(f"{language.name} has no part `{part}`; its parts: {entry}")
    contexts = language.contexts if part is None else (language.parts[part],)
    for roots in (_likely_roots, _sound_roots):
        parsed = _first_that_parses(notation, language, contexts, roots)
        if parsed is not None:
            return parsed
        if not (language.unlikely or language.unlikely_words):
            break
    around = language.around if part is None else ()
    parsed = _first_that_parses(notation, language, around, lambda it: roots_of(_whole(it)))
    if parsed is not None:
        return _whole(parsed)
    for name, context in language.parts.items() if part is None else ():
        parsed = _first_that_parses(notation, language, [context], _sound_roots)
        if parsed is not None:
            return replace(parsed, part=name)
    raise _refusal(text, notation, _parsed(notation, language, *contexts[0], {}))


def _refusal(text: str, notation: Notation, plain: ParsedPattern) -> PatternError:
    """Return the error for a pattern that does not parse; `plain` has all its holes as names."""
    tree = plain.tree
    at = tree.errors[0].start_byte if tree.errors else plain.span.start
    leaf = tree.leaf_at(at)
    if leaf is not None and leaf.kind == "ERROR":
        at = next((n.start for n in leaf.leaves() if n.end > n.start), at)
    code = tree.source.data[plain.span.start : max(at, plain.span.start)]
    at = notation.origin(len(code.decode("utf-8", "ignore")))
    tail = text[at:].split("\n", 1)[0].strip()
    near = f"near `{tail[:30]}`" if tail else "at its end"
    advice = "a pattern is code of the language, with `@{name}` where any code may stand"
    if text.split(None, 1)[0] == "else":
        advice = "an `else` is a part of its `if` here: write both, or only the inner `if`"
    return PatternError(
        f"the pattern is not valid {tree.language.name} code: it does not parse {near}",
        text,
        min(at, len(text)),
        advice,
    )


_MOST_REWRITTEN = 2
"""Up to how many holes all ways are tried to write them in another form than a name."""
_MOST_FORMS = 2000
"""How many ways of writing its holes are tried."""


def _likely_roots(parsed: ParsedPattern) -> tuple[Node, ...]:
    """Return the roots of a pattern, none if it is rather meant as something else."""
    language, roots = parsed.tree.language, _sound_roots(parsed)
    if len(roots) == 1 and roots[0].kind in language.unlikely:
        return ()
    for root in roots:
        words = language.unlikely_words.get(root.kind)
        if words and any(word in words for word in _own_words(root)):
            return ()
    return roots


_NEVER_NAMES = frozenset(
    b"catch do else elsif ensure except finally for if rescue return switch try when while".split()
)
_NAMES = frozenset(
    {"identifier", "name", "namespace_identifier", "simple_identifier", "type_identifier"}
)


def _sound_roots(parsed: ParsedPattern) -> tuple[Node, ...]:
    """Return the roots of a pattern, none if they are not what anybody means by it.

    The parser takes a keyword for a name where it makes sense of the rest so, and text between
    elements takes everything.
    """
    roots = roots_of(parsed)
    if any(_is_misread_keyword(leaf) for root in roots for leaf in root.leaves()):
        return ()
    texts = [root.text for root in roots if not root.children and root.text not in parsed.holes]
    return () if any(hole in text for text in texts for hole in parsed.holes) else roots


def _is_misread_keyword(leaf: Node) -> bool:
    """Return whether a leaf is a keyword that the parser took for a name, to make sense of it."""
    if leaf.kind not in _NAMES or leaf.data not in _NEVER_NAMES:
        return False
    return leaf.text in leaf.tree.language.keywords


def _own_words(root: Node) -> Iterator[str]:
    """Yield the words that a node starts with, and those that stand in it itself."""
    yield next((leaf.text for leaf in root.leaves()), "")
    for item in root.items:
        if not item.items or item.kind.startswith("modifier"):
            yield from (leaf.text for leaf in item.leaves())


def _whole(parsed: ParsedPattern) -> ParsedPattern:
    return replace(parsed, span=Span(0, len(parsed.tree.source.data)))


def _first_that_parses(
    notation: Notation,
    language: Language,
    contexts: Sequence[tuple[str, str]],
    roots: Callable[[ParsedPattern], tuple[Node, ...]],
) -> ParsedPattern | None:
    """Return the pattern as it parses with the fewest holes in another form than a name.

    Arguments: `contexts` are what it may stand in, of which the first that will do is taken;
    `roots` gives the nodes that it is, none where it is not a whole.
    """
    alone = _alone_on_lines(notation, language)
    for base in [alone, {}] if alone else [{}]:
        for count in range(_MOST_REWRITTEN + 1):
            for before, after in contexts:
                for changed in _ways_to_write(notation, language, count):
                    forms_of = base | changed
                    parsed = _parsed(notation, language, before, after, forms_of)
                    if _parses(parsed, forms_of) and roots(parsed):
                        return parsed
        if len(notation.holes) > _MOST_REWRITTEN:
            for before, after in contexts:
                found = _rewritten(notation, language, before, after, base)
                if found is not None and roots(found):
                    return found
    return None


def _alone_on_lines(notation: Notation, language: Language) -> dict[str, str]:
    """Return the form of a statement for each hole that stands between others.

    That is one alone on one of several lines, or one for several between statements on a line.
    Without the token that ends a statement it would be read as the start of the next one, and
    behind an arrow as the item of a list.
    """
    lines = [line.strip() for line in notation.code.split("\n")]
    if not language.terminator:
        return {}
    form, code = language.statement_stand_in, notation.code
    alone = {name for name in notation.holes if name in lines and len(lines) > 1}
    alone |= {
        name
        for name, hole in notation.holes.items()
        if hole.many and re.search(rf"[{{;}}]\s*{name}\s+[A-Za-z_$]", code)
    }
    alone |= {name for name in notation.holes if re.search(rf"=>\s*\{{\s*{name}\s*\}}", code)}
    return {name: form.replace("{}", name) for name in notation.holes if name in alone}


def _ways_to_write(notation: Notation, language: Language, count: int) -> Iterator[dict[str, str]]:
    """Yield the ways to write just `count` holes in another form: by hole, its form."""
    others = [(name, form) for name in notation.holes for form in language.stand_ins[1:]]
    for changed in islice(combinations(others, count), _MOST_FORMS):
        if len({name for name, _ in changed}) == count:
            yield {name: form.replace("{}", name) for name, form in changed}


def _rewritten(
    notation: Notation, language: Language, before: str, after: str, base: dict[str, str]
) -> ParsedPattern | None:
    """Write one hole after the other in the form that leaves the fewest errors.

    Arguments: `base` are the forms to start from.
    """
    forms_of = dict(base)
    least = _count_errors(_parsed(notation, language, before, after, forms_of))
    while len(forms_of) < len(notation.holes):
        best: dict[str, str] | None = None
        for name in notation.holes.keys() - forms_of.keys():
            for form in language.stand_ins[1:]:
                trial = forms_of | {name: form.replace("{}", name)}
                parsed = _parsed(notation, language, before, after, trial)
                if _parses(parsed, trial):
                    return parsed
                if (errors := _count_errors(parsed)) < least:
                    best, least = trial, errors
        if best is None:
            return None
        forms_of = best
    return None


def _count_errors(parsed: ParsedPattern) -> tuple[int, int]:
    """Return how much the parser made no sense of, in nodes, and in bytes behind the first."""
    errors = parsed.tree.errors
    size = len(parsed.tree.source.data)
    return len(errors), size - min((error.start_byte for error in errors), default=size)


def _parses(parsed: ParsedPattern, forms_of: Mapping[str, str]) -> bool:
    return not parsed.tree.errors and _stand_alone(parsed.tree, forms_of.values())


def _stand_alone(tree: Tree, forms: Iterable[str]) -> bool:
    """Return whether each of `forms` is a node: `a **b` parses too, but as something else."""
    targets = set(forms)
    return not targets or targets <= {node.text.rstrip() for node in tree.root.walk()}


def _parsed(
    notation: Notation, language: Language, before: str, after: str, forms_of: dict[str, str]
) -> ParsedPattern:
    plain = language.stand_ins[0]
    forms_of = {name: plain.replace("{}", name) for name in notation.holes} | forms_of
    code = notation.code
    for name, form in forms_of.items():
        code = code.replace(name, form)
    start = len(before.encode("utf-8"))
    span = Span(start, start + len(code.rstrip().encode("utf-8")))
    texts = {forms_of[name]: hole for name, hole in notation.holes.items()}
    tree = Tree(Source((before + code + after).encode("utf-8")), language)
    return ParsedPattern(tree, span, texts, forms=forms_of, start=start)


def roots_of(parsed: ParsedPattern) -> tuple[Node, ...]:
    """Return the node that fills the pattern's place, or the statements in a row that do."""
    tree, span = parsed.tree, parsed.span
    if span == Span(0, len(tree.source.data.rstrip())):
        statements = tree.root.items
        return statements if len(statements) != 1 else (_bare(statements[0], parsed),)
    bodies: list[Node] = []
    for node in tree.root.walk():
        if _fills(node, span) and not node.is_comment:
            holds_one = any(_fills(n, span) for n in node.children)
            if node.kind in tree.language.bodies | tree.language.groups and holds_one:
                continue  # it is a list of one statement, or of one modifier
            return (_bare(node, parsed),)
        if node.kind in tree.language.bodies and node.start < span.start and span.end < node.end:
            bodies.append(node)
    for body in reversed(bodies):
        inside = [n for n in body.children if span.start <= n.start and n.end <= span.end]
        items = tuple(item for item in body.items if item in inside)
        if items and (inside[0].start, inside[-1].end) == span:
            return items if len(items) > 1 else (_bare(items[0], parsed),)
    return ()


def _fills(node: Node, span: Span) -> bool:
    """Return whether a node is what stands in a span, but for a line break that ends it."""
    if node.start != span.start or node.end < span.end:
        return False
    if node.end > span.end and node.kind in node.tree.language.bodies:
        return False
    return not node.tree.source.data[span.end : node.end].strip()


def _bare(node: Node, parsed: ParsedPattern) -> Node:
    """Return what a node holds, without brackets; those around a hole for several are a tuple's."""
    core = node.core
    hole = parsed.holes.get(core.text)
    if hole is None or not hole.many or not core.tree.language.many_in_brackets:
        return core
    around = core.outermost.parent
    return around if around is not None and around.kind in core.tree.language.brackets else core
