"""Ruby: its declaration."""

from yellow_trellis.languages.ruby.declaration import LANGUAGE as LANGUAGE
