"""Bytes of one file: encoding, line ending, lines, spans."""

from yellow_trellis.source.encoding import UnreadableError as UnreadableError
from yellow_trellis.source.lines import line_count as line_count
from yellow_trellis.source.normal_form import (
    NormalForm as NormalForm,
    normalized as normalized,
    words_in_other_form as words_in_other_form,
)
from yellow_trellis.source.source import Source as Source
from yellow_trellis.source.span import Place as Place, Span as Span, is_within as is_within
from yellow_trellis.source.token_index import (
    MultiPatternMatcher as MultiPatternMatcher,
    TokenIndex as TokenIndex,
    TokenSequence as TokenSequence,
    whole_word as whole_word,
)
from yellow_trellis.source.words import NAME as NAME, holds_word as holds_word, words_at as words_at
