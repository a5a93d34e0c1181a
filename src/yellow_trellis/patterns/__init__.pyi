"""Patterns: code with holes, compiled once, laid over trees."""

from yellow_trellis.patterns.compile import compile_pattern as compile_pattern
from yellow_trellis.patterns.match import Match as Match
from yellow_trellis.patterns.mismatch import Explanation as Explanation, explain as explain
from yellow_trellis.patterns.notation import Hole as Hole, PatternError as PatternError
from yellow_trellis.patterns.pattern import Pattern as Pattern, PatternNode as PatternNode
from yellow_trellis.patterns.search import (
    may_be_among as may_be_among,
    may_hold as may_hold,
    seek as seek,
)
