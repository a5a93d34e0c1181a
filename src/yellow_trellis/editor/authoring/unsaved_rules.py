"""A rule file or a configuration as it is typed, in a folder of its own."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from yellow_trellis.source import Source


@contextmanager
def as_file(path: str, source: Source) -> Iterator[Path]:
    """Give a file of the same name with the text of `source`; what lies above it does not count."""
    with tempfile.TemporaryDirectory(prefix="ytr-rules-") as folder:
        copy = Path(folder).resolve() / Path(path).name
        copy.write_bytes(source.data)
        (copy.parent / ".git").mkdir()  # the search for a configuration ends here
        yield copy
