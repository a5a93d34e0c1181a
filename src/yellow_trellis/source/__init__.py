"""Bytes of one file: encoding, line ending, lines, spans."""

from yellow_trellis.source.encoding import Unreadable
from yellow_trellis.source.source import Source
from yellow_trellis.source.span import Place, Span
from yellow_trellis.source.words import holds_word, words_at

__all__ = ["Place", "Source", "Span", "Unreadable", "holds_word", "words_at"]
