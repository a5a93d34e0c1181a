"""Lists put over lines, in each language as its compilers take it: with a comma at the end or none."""

from __future__ import annotations

import shutil
import subprocess
from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import Finding, Rule, Ruleset, fix
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = [
    ("python", "f(alpha, *b)", "f(\n    alpha,\n    *b,\n)"),
    ("javascript", "f(alpha, ...b)", "f(\n    alpha,\n    ...b,\n)"),
    ("javascript", "function f(alpha, ...b) {}", "function f(\n    alpha,\n    ...b\n) {}"),
    ("javascript", "const {alpha, ...b} = c", "const {\n    alpha,\n    ...b\n} = c"),
    ("typescript", "function f(alpha: A, ...b: B[]) {}", "function f(\n    alpha: A,\n    ...b: B[]\n) {}"),
    ("java", "class A { int g() { return f(alpha, b); } }", "f(\n    alpha,\n    b\n)"),
    ("java", "class A { int[] a = {alpha, b}; }", "{\n    alpha,\n    b,\n}"),
    ("java", "class A { void g(int alpha, int b) {} }", "(\n    int alpha,\n    int b\n)"),
    ("csharp", "class A { int G() { return F(alpha, b); } }", "F(\n    alpha,\n    b\n)"),
    ("c", "int a[] = {alpha, b};", "{\n    alpha,\n    b,\n}"),
    ("c", "int a = f(alpha, b);", "f(\n    alpha,\n    b\n)"),
    ("go", "package a\n\nvar b = f(alpha, c...)\n", "f(\n    alpha,\n    c...,\n)"),
    ("rust", "fn g() -> S { S { alpha: 1, ..b } }", "S {\n    alpha: 1,\n    ..b\n}"),
    ("php", "<?php\nf($alpha, ...$b);\n", "f(\n    $alpha,\n    ...$b,\n)"),
    ("php", "<?php\nfunction f($alpha, $b) {}\n", "f(\n    $alpha,\n    $b\n)"),
    ("ruby", "f(alpha, *b)", "f(\n    alpha,\n    *b,\n)"),
    ("ruby", "f(alpha, &b)", "f(\n    alpha,\n    &b\n)"),
    ("ruby", "def f(alpha, b)\nend", "f(\n    alpha,\n    b\n)"),
    ("swift", "f(alpha, b)", "f(\n    alpha,\n    b\n)"),
    ("swift", "let a = [alpha, b]", "[\n    alpha,\n    b,\n]"),
]
COMPILERS = {
    "javascript": ("node", "--check", ".js"), "php": ("php", "-l", ".php"),
    "ruby": ("ruby", "-c", ".rb"), "go": ("gofmt", "-l", ".go"),
}


@pytest.mark.parametrize(("language", "code", "wanted"), CASES)
def test_a_list_over_lines_is_one_of_its_language(
    tmp_path: Path, language: str, code: str, wanted: str
) -> None:
    tree = tree_of(code, language)
    lists = [n for n in tree.root.walk() if n.kind in tree.language.lists and "alpha" in n.text]
    node = next(n for n in reversed(lists) if n.children[0].kind in ("(", "[", "{"))
    made = fix("f", safety="review").over_lines(node).made(node.span)
    assert made is not None
    finding = Finding("r", "warning", node.span, "m", (made,))
    plan = make_plan(tree, [finding], with_review=True)
    new = prove(plan).tree.source.data.decode()
    assert [outcome.reason for outcome in plan.outcomes] == [""]
    assert wanted in new.replace("\t", "    ")
    name, option, suffix = COMPILERS.get(language, ("", "", ""))
    if name and shutil.which(name):
        file = tmp_path / f"a{suffix}"
        file.write_text(new, "utf-8")
        done = subprocess.run([name, option, str(file)], capture_output=True, check=False)
        assert done.returncode == 0, done.stderr + done.stdout


@pytest.mark.parametrize(("language", "code"), [
    ("java", "class A { void g() { f(alpha, b); } }"), ("c", "void g(void) { f(alpha, b); }"),
    ("csharp", "class A { void G() { f(alpha, b); } }"), ("cpp", "void g() { f(alpha, b); }"),
    ("swift", "f(alpha, b)"), ("rust", "fn g() { f(alpha, b); }"),
])
def test_a_line_that_is_too_long_is_broken(language: str, code: str) -> None:
    put = "longer(@{a}, @{b}, @{a})"
    rule = Rule("r", summary="s", find="f(@{a}, @{b})", put=put, width=20, language=language)
    tree = tree_of(code, language)
    plan = make_plan(tree, Ruleset.of([rule]).look(tree)[0], with_review=True)
    new = prove(plan).tree.source.data.decode()
    comma = "," if language == "rust" else ""
    assert f"longer(\n    alpha,\n    b,\n    alpha{comma}\n)" in new
