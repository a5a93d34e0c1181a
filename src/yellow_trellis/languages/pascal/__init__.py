"""Pascal: its declaration."""

from yellow_trellis.languages.pascal.declaration import LANGUAGE as LANGUAGE
