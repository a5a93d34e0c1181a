"""The names and imports of PHP; see `LexicalSemantics`."""

from yellow_trellis.semantics.php.rules import SEMANTICS as SEMANTICS
