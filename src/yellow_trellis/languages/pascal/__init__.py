"""Pascal: its declaration."""

from yellow_trellis.languages.pascal.declaration import LANGUAGE

__all__ = ["LANGUAGE"]
