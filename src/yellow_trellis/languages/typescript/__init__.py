"""TypeScript: its declaration."""

from yellow_trellis.languages.typescript.declaration import LANGUAGE as LANGUAGE
