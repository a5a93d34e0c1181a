"""Patterns: code with holes, compiled once, laid over trees."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.patterns.compile import compile_pattern
    from yellow_trellis.patterns.match import Match
    from yellow_trellis.patterns.mismatch import Explanation, explain
    from yellow_trellis.patterns.notation import Hole, PatternError
    from yellow_trellis.patterns.pattern import Pattern, PatternNode
    from yellow_trellis.patterns.search import may_be_among, may_hold, seek

_HOMES = {
    "compile": ("compile_pattern",),
    "match": ("Match",),
    "mismatch": ("Explanation", "explain"),
    "notation": ("Hole", "PatternError"),
    "pattern": ("Pattern", "PatternNode"),
    "search": ("may_be_among", "may_hold", "seek"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Explanation",
    "Hole",
    "Match",
    "Pattern",
    "PatternError",
    "PatternNode",
    "compile_pattern",
    "explain",
    "may_be_among",
    "may_hold",
    "seek",
]
