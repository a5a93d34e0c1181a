"""Long texts: parsed in parts, with nothing kept of them."""

from __future__ import annotations

import gc
import tracemalloc

from yellow_trellis.languages import language
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree


def test_nothing_is_kept_of_long_texts() -> None:
    text = b"".join(b"stop_%d = line(%d)\n" % (number, number) for number in range(5000))
    python = language("python")
    Tree(Source(text), python).release()
    tracemalloc.start()
    try:
        before, _ = tracemalloc.get_traced_memory()
        for _ in range(20):
            tree = Tree(Source(text), python)
            assert not tree.errors
            tree.release()
        del tree
        gc.collect()
        after, _ = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    assert after - before < 2 * len(text)  # and not twenty times as much
