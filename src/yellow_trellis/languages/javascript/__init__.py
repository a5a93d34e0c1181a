"""JavaScript: its declaration."""

from yellow_trellis.languages.javascript.declaration import LANGUAGE as LANGUAGE
