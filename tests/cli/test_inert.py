"""Whatever strangers wrote, what a person sees steers no terminal and turns no text around."""

import os
import re
import sys
import unicodedata
from pathlib import Path

import pytest

_STYLE = re.compile(r"\x1b\[[0-9]+m")
ODD = "".join(
    char
    for char in map(chr, range(sys.maxunicode + 1))
    if unicodedata.category(char) in ("Cc", "Cf", "Zl", "Zp") and char not in "\n\r\0"
)
STEERS = "\x1b]0;title\x07\x1b[2J\u202eevil\u2066\u200b\u2028\ufdd031\ufdd1"

CALLS = (
    "survey -r r.toml",
    "survey -r r.toml --all",
    "preview -r r.toml --with-review",
    "clashes -r r.toml",
    "rules -r r.toml",
    "rules -r r.toml evil",
    "prove -r r.toml",
    "seek f(@{x})",
    "seek f(@{x}) --put g(@{x})",
    "why g(@{x}) {file}:1",
    "tree {file}",
    "apply -r r.toml --with-review",
    "undo",
    "undo --list",
    "survey -r {odd}",
    "survey -r r.toml --only {odd}",
    "seek {odd}",
    "survey {odd}",
    "{odd}",
    "--{odd}",
    "undo --run {odd}",
)


@pytest.fixture
def base(tmp_path: Path) -> Path:
    code = f"f('{STEERS}')  # {ODD}\nf(2)\n"
    (tmp_path / f"a{STEERS.replace('/', '')}.py").write_text(code, "utf-8")
    quoted = "".join(f"\\u{ord(c):04x}" if ord(c) < 0x10000 else f"\\U{ord(c):08x}" for c in ODD)
    (tmp_path / "r.toml").write_text(
        f'[[rule]]\nname = "evil"\nsummary = "s {quoted}"\nhelp = "h {quoted}"\n'
        f'find = "f(@{{x}})"\nput = "g(@{{x}})"\n'
        f'[[rule.examples]]\ncode = "f(1)  # {quoted}"\nstays = true\n',
        "utf-8",
    )
    return tmp_path


@pytest.mark.parametrize("colour", [True, False])
def test_nothing_that_is_shown_steers_a_terminal(base: Path, ytr, monkeypatch, colour: bool) -> None:
    (file,) = base.glob("*.py")
    for call in CALLS:
        words = [
            word.replace("{file}", file.name).replace("{odd}", f"x{STEERS}")
            for word in call.split(" ")
        ]
        if colour:
            monkeypatch.setenv("FORCE_COLOR", "1")
        told = ytr(*words)
        assert not colour or "preview" not in call or "\x1b[" in told.out
        for text in (told.out, told.err):
            shown = _STYLE.sub("", text) if colour else text
            odd = {c for c in shown if unicodedata.category(c) in ("Cc", "Cf", "Zl", "Zp")}
            assert odd <= {"\n"}, (call, sorted(map(hex, map(ord, odd))), text[:300])


def test_a_terminal_that_is_dumb_has_no_colour(base: Path) -> None:
    from yellow_trellis.cli.output import _is_wanted

    before = os.environ.pop("TERM", None), os.environ.pop("NO_COLOR", None)
    try:
        assert _is_wanted(True)
        os.environ["TERM"] = "dumb"
        assert not _is_wanted(True)
    finally:
        for name, value in zip(("TERM", "NO_COLOR"), before):
            os.environ.pop(name, None)
            if value is not None:
                os.environ[name] = value
