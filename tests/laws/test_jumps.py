"""Jumps leave what they left before, in every language: else the fix is refused, with the word."""

from __future__ import annotations

from typing import NamedTuple

import pytest

from yellow_trellis import Rule

PYTHON = "def f():\n    for x in y:\n        if a:\n            {}\n"
C = "void f() {{ for (;;) {{ if (a) {{ {} }} }} }}\n"
JAVA = "class A { void f() { for (;;) { if (a) { %s } } } }\n"
JS = "async function* f() { for (;;) { if (a) { %s } } }\n"
GO = "package a\n\nfunc f() {\n\tfor {\n\t\tif a {\n\t\t\t%s\n\t\t}\n\t}\n}\n"
RUST = "fn f() { loop { if a { %s } } }\n"
SWIFT = "func f() { while b { if a { %s } } }\n"
PHP = "<?php\nfunction f() { while ($b) { if ($a) { %s } } }\n"
RUBY = "def f\n  while b\n    if a\n      %s\n    end\n  end\nend\n"


class Case(NamedTuple):
    """What is put around the body of an `if`, and what of it leaves another thing then."""

    language: str
    code: str
    find: str
    put: str
    refused: tuple[str, ...]
    fine: tuple[str, ...]


BODY = "if (a) { @{b+} }"
CASES = [
    Case("python", PYTHON.replace("{}", "%s"), "if a:\n    @{b+}", "for q in r:\n    @{b+}",
         ("break", "continue"), ("return", "go()", "for z in q: break", "yield 1")),
    Case("python", PYTHON.replace("{}", "%s"), "if a:\n    @{b+}", "def g():\n    @{b+}",
         ("return", "return 1", "yield 1"), ("go()", "def h(): return 1", "for z in q: break")),
    Case("python", PYTHON.replace("{}", "%s"), "for x in y:\n    @{b+}", "@{b+}",
         ("break", "continue"), ("return", "go()", "while q: continue")),
    Case("python", PYTHON.replace("{}", "%s"), "for x in y:\n    @{b+}", "for x, _ in y:\n    @{b+}",
         (), ("return", "break", "continue")),
    Case("c", C.replace("{{", "{").replace("}}", "}").replace("{}", "%s"), BODY, "while (q) { @{b+} }",
         ("break;", "continue;"), ("return;", "go();", "for (;;) { break; }", "switch (c) { case 1: break; }")),
    Case("c", C.replace("{{", "{").replace("}}", "}").replace("{}", "%s"), BODY,
         "switch (q) { default: @{b+} }", ("break;",), ("return;", "continue;", "go();")),
    Case("java", JAVA, BODY, "run(() -> { @{b+} });", ("return;", "break;", "continue;"),
         ("go();", "for (;;) { break; }", "run(() -> { return; });")),
    Case("javascript", JS, BODY, "q.forEach(() => { @{b+} });",
         ("return;", "break;", "await p;", "yield 1;"), ("go();", "h(() => { return 1; });")),
    Case("typescript", JS, BODY, "for (const q of r) { @{b+} }", ("break;", "continue;"), ("return;", "await p;")),
    Case("csharp", JAVA, BODY, "run(() => {\n    @{b+}\n});", ("return;", "break;"), ("go();",)),
    Case("cpp", JAVA.replace("} } } }", "} } } };"), BODY, "run([&] { @{b+} });", ("return;", "continue;"), ("go();",)),
    Case("go", GO, "if a { @{b+} }", "for q { @{b+} }", ("break", "continue"), ("return", "g()")),
    Case("rust", RUST, "if a { @{b+} }", "run(|| { @{b+} });",
         ("return;", "break;", "go()?;"), ("go();", "loop { break; }", "h(|| { return 1; });")),
    Case("swift", SWIFT, "if a { @{b+} }", "run { @{b+} }", ("return", "break"), ("go()",)),
    Case("swift", SWIFT, "if a { @{b+} }", "do { @{b+} }", (), ("return", "break", "go()")),
    Case("php", PHP, "if ($a) { @{b+} }", "run(function () { @{b+} });", ("return;", "break;"), ("go();",)),
    Case("ruby", RUBY, "if a\n  @{b+}\nend", "q.each do\n  @{b+}\nend", ("next", "break"), ("go", "return")),
]  # rows


@pytest.mark.parametrize("case", CASES, ids=lambda case: f"{case.language}: {case.put[:12]}")
def test_a_jump_leaves_what_it_left(case: Case) -> None:
    rule = Rule("r", summary="s", find=case.find, put=case.put, language=case.language)
    for jump in case.refused:
        done = rule.fix(case.code % jump)
        assert len(done.refused) == 1, (jump, done)
        refused = done.refused[0]
        assert f"`{jump.split()[0].rstrip(';')}" in refused.reason.replace("go()?", "`go()?"), refused
        assert done.code == case.code % jump
    for body in case.fine:
        done = rule.fix(case.code % body)
        assert not done.refused and done.code != case.code % body, (body, done)
