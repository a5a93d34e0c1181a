"""The local names of Ruby; see `LexicalSemantics`."""

from yellow_trellis.semantics.ruby.rules import SEMANTICS as SEMANTICS
