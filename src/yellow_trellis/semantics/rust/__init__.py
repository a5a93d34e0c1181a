"""The names and imports of Rust; see `LexicalSemantics`."""

from yellow_trellis.semantics.rust.rules import SEMANTICS as SEMANTICS
