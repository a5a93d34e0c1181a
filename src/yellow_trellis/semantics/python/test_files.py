"""Files of tests, by the names that test runners look for."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable

_TEST_FILE = re.compile(r"(?:test\w*|\w*_test|\w*_tests|conftest)\.pyi?")
_TEST_FOLDERS = frozenset({"test", "tests", "testing"})
_TEST_LIBRARIES = frozenset({"mock", "pytest", "unittest"})


def is_of_tests(path: str, imports: Iterable[str]) -> bool:
    """Return whether a file holds tests, or what they share.

    Arguments: `imports` are the dotted names of the modules that it imports.
    """
    if _TEST_FILE.fullmatch(os.path.basename(path)):
        return True
    return any(name.partition(".")[0] in _TEST_LIBRARIES for name in imports)


def is_in_tests(folder: str, base: str) -> bool:
    """Return whether `folder`, or one around it below the folder `base`, is one of tests."""
    return not _TEST_FOLDERS.isdisjoint(os.path.relpath(folder, base).split(os.sep))
