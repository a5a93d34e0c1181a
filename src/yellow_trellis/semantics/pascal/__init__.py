"""The local names of Object Pascal; see `LexicalSemantics`."""

from yellow_trellis.semantics.pascal.rules import SEMANTICS as SEMANTICS
