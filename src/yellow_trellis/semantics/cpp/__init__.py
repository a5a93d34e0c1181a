"""The local names of C++; see `LexicalSemantics`."""

from yellow_trellis.semantics.cpp.rules import SEMANTICS as SEMANTICS
