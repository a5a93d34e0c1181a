"""Bytes of one file: encoding, line ending, lines, spans."""

from yellow_trellis.source.encoding import UnreadableError
from yellow_trellis.source.lines import line_count
from yellow_trellis.source.normal_form import NormalForm, normalized, words_in_other_form
from yellow_trellis.source.source import Source
from yellow_trellis.source.span import Place, Span, is_within
from yellow_trellis.source.token_index import (
    MultiPatternMatcher,
    TokenIndex,
    TokenSequence,
    whole_word,
)
from yellow_trellis.source.words import NAME, holds_word, words_at

__all__ = [
    "NAME",
    "NormalForm",
    "TokenSequence",
    "MultiPatternMatcher",
    "Place",
    "TokenIndex",
    "Source",
    "Span",
    "UnreadableError",
    "is_within",
    "holds_word",
    "line_count",
    "normalized",
    "whole_word",
    "words_at",
    "words_in_other_form",
]
