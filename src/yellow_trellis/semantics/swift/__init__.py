"""The local names of Swift; see `LexicalSemantics`."""

from yellow_trellis.semantics.swift.rules import SEMANTICS as SEMANTICS
