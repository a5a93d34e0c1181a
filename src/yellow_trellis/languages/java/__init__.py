"""Java: its declaration."""

from yellow_trellis.languages.java.declaration import LANGUAGE as LANGUAGE
