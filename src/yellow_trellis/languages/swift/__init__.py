"""Swift: its declaration."""

from yellow_trellis.languages.swift.declaration import LANGUAGE as LANGUAGE
