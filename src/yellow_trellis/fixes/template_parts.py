"""The parts of heads that a template does not write: what they took stays where it is.

Where that is follows from the tokens that the pattern and the template share: a part of the pattern
between two tokens stands between the same two in the template. A part whose neighbours are gone, or
have other code between them, has no certain place: the author has to name it and to write it.
"""

from __future__ import annotations

from collections.abc import Container, Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.fixes.sequence_alignment import align
from yellow_trellis.languages import Language
from yellow_trellis.patterns import Hole, Match, Pattern, PatternError
from yellow_trellis.patterns.notation import HeadPart, read_notation, without_part
from yellow_trellis.patterns.pattern import PlacedPart

if TYPE_CHECKING:
    from yellow_trellis.fixes.template import Slot


def optional_parts(text: str) -> tuple[HeadPart, ...]:
    """Return the parts of a template that are not always written, in order."""
    return tuple(part for part in read_notation(text).parts if part.hole.form == "optional")


def resolved(text: str, find: Pattern, empty: Container[str]) -> str:
    """Return a template with those of its parts that are to be written, as plain code.

    Arguments: `empty` are the holes and the parts of `find` that took nothing.
    Errors: `PatternError` for a part of which `find` does not say when it is written.
    """
    notation = read_notation(text)
    for part in reversed(notation.parts):
        if part.hole.form != "optional":
            continue
        holes = frozenset(notation.holes[name].name for name in part.holes)
        asked = _bound(part.hole, holes, find, text)
        if all(name in empty for name in asked):
            text = without_part(text, part)
        else:
            start, end = part.inner
            text = text[: part.hole.at] + text[start:end].rstrip() + text[end + 1 :]
    return text


def _bound(hole: Hole, holes: frozenset[str], find: Pattern, text: str) -> frozenset[str]:
    """Return the holes on which it depends whether a part of a template is written."""
    if not hole.numbered:
        _refuse_unbound(hole, find, text)
        return frozenset({hole.name})
    asked = frozenset(name for name in holes if name in find.holes and find.holes[name].many)
    if not asked:
        raise PatternError(
            "nothing says when this part of the template is written",
            text,
            hole.at,
            "write a hole in it that may take nothing, or give it the name of a part of `find`",
        )
    return asked


def refuse_unbound_parts(shape: Pattern, find: Pattern) -> None:
    """Refuse the open parts of a template that `find` cannot fill.

    Errors: `PatternError`.
    """
    for part in shape.parts:
        if part.hole.numbered:
            raise PatternError(
                "a part without a name says nothing in a template",
                shape.text,
                part.hole.at,
                "leave it out, what it took stays; or name it in `find` and here",
            )
        _refuse_unbound(part.hole, find, shape.text)


def _refuse_unbound(hole: Hole, find: Pattern, text: str) -> None:
    bound = find.holes.get(hole.name)
    if bound is None or not bound.many or (hole.form == "open" and not bound.form):
        raise PatternError(
            f"the template uses the part `{hole.name}`, which the pattern does not have",
            text,
            hole.at,
            f"write `@{{{hole.name}~}}` or `@{{{hole.name}?= code}}` in `find` too",
        )


def unwritten_parts(
    find: Pattern,
    shape: Pattern,
    old: Sequence[Slot],
    new: Sequence[Slot],
    named: frozenset[str],
) -> Iterator[PlacedPart]:
    """Yield the parts of `find` that `shape`, a template, does not write, at their places in it.

    Arguments: `old` and `new` are the slots of both; `named` are parts that it says when to write.
    Errors: `PatternError` where a part has no certain place.
    """
    written = {part.hole.name for part in shape.parts} | shape.holes.keys() | named
    parts = [part for part in find.parts if written.isdisjoint({part.hole.name, *part.holes})]
    if not parts:
        return
    kept = [
        slot
        for slot in old
        if not (slot.hole is not None and slot.hole.form)
        and not any(part.start <= slot.start < part.end for part in parts)
    ]
    pairs = dict(align(tuple(slot.sign for slot in kept), tuple(slot.sign for slot in new)))
    for part in parts:
        at = sum(slot.start < part.start for slot in kept)
        before, behind = pairs.get(at - 1), pairs.get(at)
        if not at:
            place = shape.nodes[0].start
        elif at == len(kept):
            place = shape.nodes[-1].end
        elif before is not None and (
            behind in (None, before + 1) or ("\n" in part.gap_behind and "\n" not in part.gap)
        ):
            place = new[before + 1].start if before + 1 < len(new) else shape.nodes[-1].end
        elif before is None and behind is not None:
            place = new[behind].start
        else:
            raise _placeless(find, part)
        hole = replace(part.hole, least=0, most=None, form="open")
        yield replace(part, hole=hole, start=place, end=place, holes=frozenset())


def rivals_in(slots: Sequence[Slot], match: Match) -> str:
    """Return why words of a template do not go with those that its head keeps; empty if they do.

    Arguments: `slots` are those that are written where `match` is.
    """
    language = match.tree.language
    for at, slot in enumerate(slots):
        if slot.hole is None or not slot.is_open:
            continue
        beside = [*_words(slots[at + 1 :], language), *_words(slots[:at][::-1], language)]
        for node in match.taken(slot.hole.name):
            for piece in node.items if node.kind in language.groups else (node,):
                for word in beside:
                    if word == piece.text:
                        return f"the head has `{word}` already, at {piece.place}"
                    if any({word, piece.text} <= rivals for rivals in language.rival_words):
                        return f"`{word}` does not go with `{piece.text}`, at {piece.place}"
    return ""


def _words(slots: Sequence[Slot], language: Language) -> Iterator[str]:
    """Yield the keywords that slots start with."""
    for slot in slots:
        if slot.hole is None and slot.text in language.keywords and slot.text.isalpha():
            yield slot.text
        elif slot.hole is None or not slot.hole.form:
            return


def _placeless(find: Pattern, part: PlacedPart) -> PatternError:
    hole = part.hole
    text = "@{~}" if hole.form == "open" else "@{? ...}"
    shown = text if hole.numbered else f"@{{{hole.name}~}}"
    return PatternError(
        f"the template has no certain place for what `{shown}` takes: the code around it is other",
        find.text,
        hole.at,
        "name it, as in `@{rest~}`, and write `@{rest~}` in the template where it belongs",
    )
