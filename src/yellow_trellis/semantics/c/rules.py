"""The local names of C: they are those of C++, without names of several parts."""

from __future__ import annotations

from yellow_trellis.semantics.cpp.rules import C_RULES
from yellow_trellis.semantics.lexical.semantics import LexicalSemantics

SEMANTICS = LexicalSemantics(C_RULES)
