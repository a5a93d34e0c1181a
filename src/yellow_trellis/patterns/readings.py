"""Other readings of a pattern: the same text is another thing where it stands elsewhere.

``int line;`` is a variable in a function and a member in a class; ``zone = 1`` is an assignment or
a named argument. The first reading that parses is taken; who writes a pattern is told of the rest.
"""

from __future__ import annotations

from functools import lru_cache

from yellow_trellis.languages import Language
from yellow_trellis.patterns.compile import compile_pattern
from yellow_trellis.patterns.notation import PatternError
from yellow_trellis.patterns.pattern import Pattern


def other_readings(pattern: Pattern) -> dict[str, Pattern]:
    """Return by part of the language what `pattern`, read without one, is as that part.

    A part as which it is the same code, or none, is left out.
    """
    language: Language = pattern.language
    seen = [_kinds(pattern)]
    readings: dict[str, Pattern] = {}
    for part in language.parts:
        reading = reading_as(pattern, part)
        if reading is not None and _kinds(reading) not in seen:
            seen.append(_kinds(reading))
            readings[part] = reading
    return readings


@lru_cache(maxsize=1024)
def reading_as(pattern: Pattern, part: str, template: bool = False) -> Pattern | None:
    """Return what the text of a pattern is as a part of its language; None where it is none.

    Arguments: `template` allows what only a template may be.
    """
    language: Language = pattern.language
    if part not in language.parts:
        return None
    try:
        return compile_pattern(pattern.text, language, part=part, template=template)
    except PatternError:
        return None


def _kinds(pattern: Pattern) -> list[str]:
    return [root.kind for root in pattern.roots]


def read_as(pattern: Pattern) -> str:
    """Return in words what a pattern is read as: ``a local variable declaration``."""
    words = pattern.roots[0].kind.replace("_", " ") if pattern.roots else "code"
    count = len(pattern.roots)
    article = "an" if words[:1] in "aeiou" else "a"
    return f"{f'{count} statements, first ' if count > 1 else ''}{article} {words}"
