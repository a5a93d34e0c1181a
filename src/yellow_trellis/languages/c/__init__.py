"""C: its declaration."""

from yellow_trellis.languages.c.declaration import LANGUAGE as LANGUAGE
