"""The names and imports of Java; see `LexicalSemantics`."""

from yellow_trellis.semantics.java.rules import SEMANTICS as SEMANTICS
