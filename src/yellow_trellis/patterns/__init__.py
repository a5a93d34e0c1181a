"""Patterns: code with holes, compiled once, laid over trees."""

from yellow_trellis.patterns.compile import compile_pattern
from yellow_trellis.patterns.explain import Explanation, explain
from yellow_trellis.patterns.match import Match
from yellow_trellis.patterns.notation import Hole, PatternError
from yellow_trellis.patterns.pattern import Pattern, Shape
from yellow_trellis.patterns.search import may_be_among, may_hold, seek, visit

__all__ = [
    "Explanation",
    "Hole",
    "Match",
    "Pattern",
    "PatternError",
    "Shape",
    "compile_pattern",
    "explain",
    "may_be_among",
    "may_hold",
    "seek",
    "visit",
]
