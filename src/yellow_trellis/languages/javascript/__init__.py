"""JavaScript: its declaration."""

from yellow_trellis.languages.javascript.declaration import LANGUAGE

__all__ = ["LANGUAGE"]
