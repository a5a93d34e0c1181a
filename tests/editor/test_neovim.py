"""A real editor, driven by a script, beside the command line."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
EDITOR = shutil.which("nvim")


@pytest.mark.skipif(EDITOR is None, reason="Neovim is not installed: apt install neovim")
def test_neovim_shows_and_fixes_what_the_command_line_does(
    trams: Path, ytr, home: Path, tmp_path_factory: pytest.TempPathFactory
) -> None:
    results = tmp_path_factory.mktemp("results")
    (results / "bin").mkdir()
    command = results / "bin/ytr"
    command.write_text(f'#!/bin/sh\nexec "{sys.executable}" -m yellow_trellis "$@"\n')
    command.chmod(0o755)
    (trams / "trellis.toml").write_text('rules = ["rules"]\npaths = ["alder"]\n')
    name = "alder/depot/yard.py"
    file = trams / name
    before = file.read_bytes()
    found = ytr("survey", name, "--format", "json").json["findings"]
    subprocess.run(
        [
            *(str(EDITOR), "--headless", "-i", "NONE", "-n", "-u", str(ROOT / "editors/neovim.lua")),
            *("--cmd", "filetype on", "-S", str(ROOT / "tests/editor/neovim.lua")),
        ],
        cwd=trams,
        env={
            **os.environ,
            "YTR_FILE": str(file),
            "YTR_RULE": "one-none",
            "YTR_RESULTS": str(results),
            "PATH": f"{command.parent}{os.pathsep}{os.environ['PATH']}",
            "HOME": str(results),
        },
        timeout=200,
        check=False,
        capture_output=True,
    )
    assert not (results / "failed").exists(), (results / "failed").read_text("utf-8")
    marks = json.loads((results / "marks").read_text("utf-8"))
    assert sorted((mark["lnum"] + 1, mark["code"], mark["message"]) for mark in marks) == sorted(
        (one["start"]["line"], one["rule"], one["message"]) for one in found
    )
    assert (results / "one").read_bytes() != before
    saved, fixed = file.read_bytes(), (results / "saved").read_bytes()
    assert saved == fixed and b"\nz = y is None\n" in saved
    for text, result in ((before, "all"), (before + b"\nz = y == None\n", "saved")):
        file.write_bytes(text)
        ytr("apply", name)
        assert (results / result).read_bytes() == file.read_bytes()
