"""The local names of C; see `LexicalSemantics`."""

from yellow_trellis.semantics.c.rules import SEMANTICS as SEMANTICS
