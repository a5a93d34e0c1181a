"""TypeScript with JSX, which has a grammar of its own."""

from yellow_trellis.languages.typescript.declaration import LANGUAGE_WITH_JSX

LANGUAGE = LANGUAGE_WITH_JSX
