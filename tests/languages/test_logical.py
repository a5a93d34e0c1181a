"""Logical lines are those of the interpreter's own tokenizer, however they are asked for."""

import io
import os
import random
import sysconfig
import tokenize
from bisect import bisect_right
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yellow_trellis.languages.python.logical_lines import LogicalLines


def goes_on_by_tokens(raw: bytes) -> set[int]:
    """Return the numbers of the lines, from 1, that go on from the one before."""
    found: set[int] = set()
    start = None
    for token in tokenize.tokenize(io.BytesIO(raw).readline):
        if token.type in (tokenize.NL, tokenize.COMMENT) and start is None:
            continue
        if token.type == tokenize.NEWLINE:
            found.update(range((start or token.start[0]) + 1, token.start[0] + 1))
            start = None
        elif token.type not in (tokenize.INDENT, tokenize.DEDENT, tokenize.ENCODING):
            start = start or token.start[0]
    return found


def goes_on(raw: bytes) -> set[int]:
    lines = LogicalLines(raw, 0, len(raw))
    assert lines.at(len(raw) - 1)
    starts = [0]
    for line in raw.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    whole = set(range(1, len(starts)))
    return whole - {bisect_right(starts, at) for at in lines.bounds[:-1]}


def test_the_library_agrees_with_the_tokenizer() -> None:
    """A share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "60"))
    files = sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))[::share]
    compared = 0
    for file in files:
        raw = file.read_bytes()
        try:
            told = goes_on_by_tokens(raw)
        except (tokenize.TokenError, SyntaxError, UnicodeDecodeError):
            continue
        if b"\x0c" not in raw and b"\r" not in raw:
            assert goes_on(raw) == told, file
            compared += 1
    assert compared > len(files) * 0.8


PARTS = (
    "x = 1\n",
    "f(a,\n  b)\n",
    "y = '''a\n\"(\n'''\n",
    'z = "a\\\nb"\n',
    "w = 1 + \\\n  2\n",
    "d = [{(((((([1,\n2])))))): {3: (4,\n[5])}}]\n",
    "# it's (\n",
    "\n",
    "if a:  # [\n    b = r'\\\\'\n",
    "g('#', # '''\n  \"'\")\n",
)


@given(st.lists(st.sampled_from(PARTS), min_size=1, max_size=40), st.randoms())
def test_it_does_not_matter_in_which_order_places_are_asked_for(
    parts: list[str], chance: random.Random
) -> None:
    raw = "".join(parts).encode()
    whole = LogicalLines(raw, 0, len(raw))
    assert whole.at(len(raw) - 1) and whole.bounds[-1] == len(raw)
    other = LogicalLines(raw, 0, len(raw))
    for place in chance.sample(range(len(raw)), min(len(raw), 20)):
        assert other.at(place)
        assert other.bounds == whole.bounds[: len(other.bounds)]
        assert other.bounds[-1] > place
    assert goes_on(raw) == goes_on_by_tokens(raw)


@pytest.mark.parametrize("code", ["x = (1\n", "x = '''\n", "x = )\ny = 1\n", "x = 'a\ny = 1\n"])
def test_what_is_never_closed_is_not_plain(code: str) -> None:
    raw = b"a = 1\n" + code.encode()
    lines = LogicalLines(raw, 0, len(raw))
    assert lines.at(0) == (0, 6) and not lines.at(len(raw) - 1)
    assert lines.bounds == [0, 6]
