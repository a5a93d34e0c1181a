"""Which language a file is in: by configuration, ending, or first line."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

from yellow_trellis.project.discovery import discover
from yellow_trellis.project.file_language import language_at


@pytest.mark.parametrize(
    ("line", "name"),
    [
        ("#!/usr/bin/env node\n", "javascript"),
        ("#!/usr/bin/env -S node --no-warnings\n", "javascript"),
        ("#! /usr/local/bin/python3.11 -u\n", "python"),
        ("#!/usr/bin/ruby", "ruby"),
        ("#!/bin/sh\nnode x\n", None),
        ("#!/usr/bin/env nodemon\n", None),
        ("node\n", None),
        ("", None),
    ],
)
def test_a_file_without_an_ending_is_told_by_its_first_line(
    tmp_path: Path, line: str, name: str | None
) -> None:
    (tmp_path / "till").write_text(line, "utf-8")
    assert language_at(str(tmp_path / "till")) == name


def test_what_a_configuration_says_of_an_ending_goes_first() -> None:
    assert language_at("a.inc") is None
    assert language_at("a.INC", {".inc": "php"}) == "php"
    assert language_at("a.py", {".py": "ruby"}) == "ruby"


def test_a_run_looks_at_files_by_endings_and_first_lines(tmp_path: Path, ytr) -> None:
    (tmp_path / "trellis.toml").write_text('rules = ["r.toml"]\nendings = { ".inc" = "php" }\n')
    rules = [f'[[rule]]\nname = "{name}"\nsummary = "x"\nlanguage = "{name}"\nfind = "old(@{{x}})"\nput = "new(@{{x}})"\n'
             for name in ("javascript", "php")]
    (tmp_path / "r.toml").write_text("".join(rules))
    (tmp_path / "a.inc").write_text("<?php\nold(1);\n")
    (tmp_path / "till").write_text("#!/usr/bin/env node\nold(1);\n")
    (tmp_path / "list").write_text("a.inc\ntill\n")
    for more in ((), ("--names-from", "list")):
        out = ytr("survey", *more, where=tmp_path).out
        assert "a.inc" in out and "till" in out
    for file, name in (("a.inc", "php"), ("till", "javascript")):
        assert f"{file} is looked at, as {name}" in ytr("survey", "--explain", file, where=tmp_path).out
        check = f"{name}={sys.executable} -c 'raise SystemExit(\"new\" in open(__import__(\"sys\").argv[1]).read())'"
        refused = ytr("apply", file, "--check-syntax", check, where=tmp_path)
        assert "refuses what it would become" in refused.err, refused
        assert "old(1)" in (tmp_path / file).read_text("utf-8")


HEADERS = {
    "c": [
        "int f(int class, int template);\n",
        '#ifdef __cplusplus\nextern "C" {\n#endif\nint f(void);\n#if defined(__cplusplus)\n}\n#endif\n',
        "/* namespace alder { class Tram; } */\n// std::string\nchar *a = \"std::string\";\n",
        "#define EACH(T) template<T>\\\n  class X {};\nint a = b & c;\n",
        "int private, new, delete, virtual;\n",
    ],
    "cpp": [
        "namespace alder {\nint f();\n}\n",
        "/* " + "text " * 5000 + "*/\nclass ALDER_API Tram final : public Wagon {};\n",
        "#include <string>\n",
        "struct Tram {\n public:\n  int stops();\n};\n",
        "int total(const Tram &tram);\n",
        "template <typename T> T first(T a);\n",
        'extern "C" int f(void);\n',
    ],
}


@pytest.mark.parametrize(("name", "text"), [(n, text) for n in HEADERS for text in HEADERS[n]])
def test_a_header_is_in_cpp_where_only_that_can_read_it(
    tmp_path: Path, name: str, text: str
) -> None:
    (tmp_path / "tram.h").write_text(text, "utf-8")
    assert language_at(str(tmp_path / "tram.h")) == name
    [file] = discover([tmp_path], frozenset({"c", "cpp"}))
    assert file.language == name
    assert language_at(str(tmp_path / "tram.h"), {".h": "c"}) == "c"
