"""Python: its declaration, the scanner of its statements, and its compiler."""

from yellow_trellis.languages.python.declaration import LANGUAGE as LANGUAGE
