"""C++: its declaration."""

from yellow_trellis.languages.cpp.declaration import LANGUAGE as LANGUAGE
