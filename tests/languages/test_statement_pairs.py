"""Each form of a statement can be changed into each other one, with what ends them."""

from __future__ import annotations

import itertools
import re

import pytest

from tests.conftest import tree_of
from yellow_trellis import Rule

# A function around statements, what ends one that is but an expression, and forms of statements.
C_LIKE = {
    "call": "go(a, 1);",
    "assignment": "x = a;",
    "if": "if (a) { go(1); }",
    "else": "if (a) { go(1); } else { go(2); }",
    "while": "while (a) { go(1); }",
    "for": "for (; a;) { go(1); }",
    "do": "do { go(1); } while (a);",
    "return": "return;",
    "block": "{ go(1); }",
    "switch": "switch (a) { case 1: go(1); }",
}
FORMS: dict[str, tuple[str, dict[str, str]]] = {
    "c": ("void f() {\n    s();\n    %s\n    t();\n}\n", {**C_LIKE, "local": "int q = a;"}),
    "cpp": (
        "void f() {\n    s();\n    %s\n    t();\n}\n",
        {**C_LIKE, "local": "auto q = a;", "try": "try { go(1); } catch (E& e) { go(2); }"},
    ),
    "java": (
        "class A {\n    void f() {\n        s();\n        %s\n        t();\n    }\n}\n",
        {
            **C_LIKE,
            "local": "int q = a;",
            "lambda": "run(() -> { go(1); });",
            "try": "try { go(1); } finally { go(2); }",
            "throw": "throw a;",
        },
    ),
    "csharp": (
        "class A {\n    void F() {\n        s();\n        %s\n        t();\n    }\n}\n",
        {
            **C_LIKE,
            "local": "var q = a;",
            "using": "using (a) { go(1); }",
            "lock": "lock (a) { go(1); }",
            "switch": "switch (a) { case 1: go(1); break; }",
        },
    ),
    "javascript": (
        "function f() {\n    s();\n    %s\n    t();\n}\n",
        {
            **{k: v for k, v in C_LIKE.items() if k != "block"},
            "local": "const q = a;",
            "function": "function g() { go(1); }",
            "arrow": "run(() => { go(1); });",
            "throw": "throw a;",
        },
    ),
    "typescript": (
        "function f() {\n    s();\n    %s\n    t();\n}\n",
        {**{k: v for k, v in C_LIKE.items() if k != "block"}, "local": "let q: number = a;"},
    ),
    "php": (
        "<?php\nfunction f() {\n    s();\n    %s\n    t();\n}\n",
        {
            "call": "go($a, 1);",
            "assignment": "$x = $a;",
            "if": "if ($a) { go(1); }",
            "while": "while ($a) { go(1); }",
            "foreach": "foreach ($a as $b) { go(1); }",
            "return": "return 1;",
            "echo": "echo $a;",
            "closure": "run(function () { go(1); });",
        },
    ),
    "go": (
        "package a\n\nfunc f() {\n\ts()\n\t%s\n\tt()\n}\n",
        {
            "call": "g(a, 1)",
            "assignment": "x = a",
            "define": "x := a",
            "if": "if a { g(1) }",
            "for": "for a { g(1) }",
            "return": "return",
            "go": "go g(1)",
            "switch": "switch a { case 1: g(1) }",
        },
    ),
    "rust": (
        "fn f() {\n    s();\n    %s\n    t();\n}\n",
        {
            "call": "go(a, 1);",
            "assignment": "x = a;",
            "let": "let q = a;",
            "if": "if a { go(1); }",
            "loop": "loop { go(1); }",
            "while": "while a { go(1); }",
            "match": "match a { 1 => go(1), _ => go(2) }",
            "return": "return;",
            "macro": "say!(a);",
        },
    ),
    "swift": (
        "func f() {\n    s()\n    %s\n    t()\n}\n",
        {
            "call": "go(a, 1)",
            "assignment": "x = a",
            "let": "let q = a",
            "if": "if a { go(1) }",
            "while": "while a { go(1) }",
            "for": "for b in a { go(1) }",
            "return": "return",
        },
    ),
    "ruby": (
        "def f\n  s()\n  %s\n  t()\nend\n",
        {
            "call": "go(a, 1)",
            "assignment": "x = a",
            "if": "if a then go(1) end",
            "unless": "unless a then go(1) end",
            "while": "while a do go(1) end",
            "return": "return 1",
            "block": "run { go(1) }",
        },
    ),
    "python": (
        "def f():\n    s()\n    %s\n    t()\n",
        {
            "call": "go(a, 1)",
            "assignment": "x = a",
            "if": "if a: go(1)",
            "while": "while a: go(1)",
            "with": "with a: go(1)",
            "return": "return 1",
            "assert": "assert a",
            "raise": "raise a",
        },
    ),
    "pascal": (
        "procedure F;\nbegin\n  S;\n  %s\n  T;\nend;\n",
        {
            "call": "Go(a, 1);",
            "assignment": "x := a;",
            "if": "if a then Go(1);",
            "while": "while a do Go(1);",
            "block": "begin Go(1); end;",
            "with": "with a do Go(1);",
        },
    ),
}  # rows


@pytest.mark.parametrize("language", FORMS)
def test_each_statement_can_become_each_other(language: str) -> None:
    around, forms = FORMS[language]

    def plain(code: str) -> list[str]:
        """Return the words of some code; Ruby may have brackets around arguments, or not."""
        return (re.sub("[()]", " ", code) if language == "ruby" else code).split()

    wrong: list[str] = []
    for first, second in itertools.permutations(forms, 2):
        if forms[first] in forms[second]:
            continue  # it would find what it has written, again and again
        rule = Rule("r", summary="s", find=forms[first], put=forms[second], language=language)
        done = rule.fix(around % forms[first])
        target = around % forms[second]
        if done.refused:
            wrong.append(f"{first} to {second}: refused: {done.refused[0].reason[:120]}")
        elif plain(done.code) != plain(target) or tree_of(done.code, language).errors:
            wrong.append(f"{first} to {second}: {done.code!r}")
    assert not wrong, "\n".join(wrong)
