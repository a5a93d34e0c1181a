"""Long texts: parsed in parts, with nothing kept of them."""

from __future__ import annotations

import gc
import subprocess
import sys
import textwrap
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


def test_a_tracer_that_keeps_all_frames_finds_every_object_sound() -> None:
    script = textwrap.dedent(
        """
        import sys
        from yellow_trellis.languages import language
        from yellow_trellis.source import Source
        from yellow_trellis.syntax import Tree

        seen = []

        def trace(frame, event, argument):
            seen.append(dict(frame.f_locals))
            return trace

        python = language("python")
        text = b"".join(b"stop_%d = line(%d)\\n" % (number, number) for number in range(2000))
        for _ in range(20):
            sys.settrace(trace)
            tree = Tree(Source(text), python)
            sys.settrace(None)
            del seen[:-50]
            assert tree.root.end == len(text) and not tree.errors
        """
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
