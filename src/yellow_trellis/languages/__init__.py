"""The languages: what each calls a comment, a list, a body; found by name or by file name."""

from yellow_trellis.languages.language import Language, Telltale
from yellow_trellis.languages.registry import DEFAULT, MissingLanguage, language, language_of, names
from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.languages.pieces import Parsed

__getattr__ = face(__name__, globals(), {"pieces": ("Parsed",)})

__all__ = [
    "DEFAULT",
    "Language",
    "MissingLanguage",
    "Parsed",
    "Telltale",
    "language",
    "language_of",
    "names",
]
