"""Rust: its declaration."""

from yellow_trellis.languages.rust.declaration import LANGUAGE as LANGUAGE
