"""Go: its declaration."""

from yellow_trellis.languages.go.declaration import LANGUAGE as LANGUAGE
