"""The names and imports of Go; see `LexicalSemantics`."""

from yellow_trellis.semantics.go.rules import SEMANTICS as SEMANTICS
