"""C#: its declaration."""

from yellow_trellis.languages.csharp.declaration import LANGUAGE as LANGUAGE
