"""The names and imports of C#; see `LexicalSemantics`."""

from yellow_trellis.semantics.csharp.rules import SEMANTICS as SEMANTICS
