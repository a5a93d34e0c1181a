"""A shape in the notation of the parser's query engine, as far as the engine can tell it.

The engine knows kinds, fields and the order of named children. It does not know that brackets and
wrappers mean nothing: so wherever one may stand, the form lets anything stand. It does not know
that comments mean nothing either: nodes with comments in them are candidates whatever the form
says. What a form rejects else, the exact matcher rejects.
"""

from __future__ import annotations

from yellow_trellis.languages import Language
from yellow_trellis.patterns.pattern import PatternNode
from yellow_trellis.syntax.queries import MAX_DEPTH

_ANY = "(_)"


def query_form(root: PatternNode, language: Language) -> str:
    """Return how a node must be built that a shape, the root of a pattern, fits."""
    kinds = language.spellings_of(root.kind, root.field)
    if kinds is None or root.more_kinds or root.meaning or root.hole is not None:
        return ""
    return f"[{' '.join(_kinds(root, kinds, language, 0))}]"


def _form(shape: PatternNode, language: Language, depth: int) -> str:
    if shape.hole is not None or shape.meaning:
        return _ANY
    kinds = language.spellings_of(shape.kind, shape.field)
    if kinds is None or shape.more_kinds:
        return _ANY
    entries = [kind for kind in sorted(language.thin - set(kinds)) if kind in language.kinds]
    forms = [*_kinds(shape, kinds, language, depth), *(f"({kind})" for kind in entries)]
    return f"[{' '.join(forms)}]"


def _kinds(shape: PatternNode, kinds: tuple[str, ...], language: Language, depth: int) -> list[str]:
    """Return the forms of nodes of some kinds, of which the first is that of the shape."""
    own, *others = kinds
    forms = _own(shape, own, language, depth)
    for kind in others:
        if kind in language.wrappers:  # of one item it is nothing but that
            marks = " ".join(map(_token, sorted(language.separators)))
            forms.append(f"({kind} [{marks}])")
        elif kind in language.kinds:
            forms.append(f"({kind})")
    return forms


def _own(shape: PatternNode, kind: str, language: Language, depth: int) -> list[str]:
    if kind not in language.kinds:
        return [_token(kind)]
    plain = f"({kind})"
    if language.word_expressions and any(
        item.hole is not None or item.kind in language.word_expressions for item in shape.items
    ):
        return [plain]  # they may have a wrapper around, and are no named nodes without
    if language.is_token(kind) or not shape.items or shape.named or depth >= MAX_DEPTH:
        return [plain, *([_token(kind)] if language.is_token(kind) else [])]
    items = [item for item in shape.items if item.hole is not None or item.kind in language.kinds]
    if any(not _is_one_named(item, language) for item in items):
        return [plain]
    children = " . ".join(
        (f"{item.field}: " if item.field else "") + _form(item, language, depth + 1)
        for item in items
    )
    operators = "".join(
        f" {item.field}: {_token(item.kind)}"
        for item in shape.items
        if item.field and item.kind not in language.kinds and item.hole is None
    )
    return [f"({kind}{operators})" if operators else f"({kind} . {children} .)"]


def _is_one_named(item: PatternNode, language: Language) -> bool:
    """Return whether an item is surely one named child, whatever code it fits."""
    if item.hole is not None:
        return not item.hole.many
    return not language.is_token(item.kind) and not item.may_be_absent


def _token(kind: str) -> str:
    return '"%s"' % kind.replace("\\", "\\\\").replace('"', '\\"')
