"""Code that fixes write at random places of C, Java, Go and Rust computes what it does in brackets.

One program of each language has both forms of all cases; its compiler has to take it.
YTR_CASES=2000 is the long run.
"""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path
from random import Random
from typing import NamedTuple

import pytest

from yellow_trellis import Rule, Ruleset, parse
from yellow_trellis.plans.plan import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = int(os.environ.get("YTR_CASES", "150"))
_OPERATORS = ("+", "-", "*", "/", "%", "&", "|", "^", "<<", ">>")
_COMPARED = ("==", "!=", "<", ">", "<=", ">=")


class _Compiled(NamedTuple):
    """The way a program of a language is written and run."""

    suffix: str
    method: str
    """A function of a number that returns one; ``NAME`` and ``BODY`` stand for what is in it."""
    whole: str
    """All of a program; ``METHODS`` and ``CALLS``."""
    call: str
    commands: tuple[str, ...]
    more: tuple[str, ...] = ()
    """Expressions of this language, with ``A`` and ``B`` for parts."""


_LANGUAGES = {
    "c": _Compiled(
        ".c",
        "int NAME(int x) { int y = 3; int v[] = {4, 9}; (void) y; (void) v; return BODY; }\n",
        "#include <stdio.h>\nint old(int a) { return a; }\nint tell(int a) { return a * 2; }\n"
        "METHODSint main(void) {\nCALLS return 0; }\n",
        'printf("%d\\n", NAME(5));\n',
        ("gcc -w -fwrapv -o main main.c", "./main"),
        ("A ? B : A", "A && B", "A || B", "!A", "~A", "-A", "(int) A", "v[A & 1]", "y = A", "(A, B)"),
    ),
    "java": _Compiled(
        ".java",
        "static int NAME(int x) { int y = 3; int[] v = {4, 9}; return BODY; }\n",
        "class Main { static int old(int a) { return a; } static int tell(int a) { return a * 2; }\n"
        "METHODSpublic static void main(String[] a) {\nCALLS}}\n",
        "System.out.println(NAME(5));\n",
        ("javac Main.java", "java -cp . Main"),
        ("A > B ? A : B", "~A", "-A", "(int) A", "v[A & 1]", "y = A", "(A == B || A < 2) ? 1 : B"),
    ),
    "go": _Compiled(
        ".go",
        "func NAME(x int) int { y := 3; v := []int{4, 9}; _, _ = y, v; return BODY }\n",
        'package main\n\nimport "fmt"\n\nfunc old(a int) int { return a }\n'
        "func tell(a int) int { return a * 2 }\nMETHODSfunc main() {\nCALLS}\n",
        "fmt.Println(NAME(5))\n",
        ("go run main.go",),
        ("-A", "^A", "int(A)", "v[A & 1]", "A &^ B", "+A"),
    ),
    "rust": _Compiled(
        ".rs",
        "fn NAME(x: i64) -> i64 { let y = 3; let v = [4, 9]; let _ = (y, v); BODY }\n",
        "fn old(a: i64) -> i64 { a }\nfn tell(a: i64) -> i64 { a * 2 }\n"
        "METHODSfn main() {\nCALLS}\n",
        'println!("{}", NAME(5));\n',
        ("rustc -A warnings -A arithmetic_overflow -A unconditional_panic -o main main.rs", "./main"),
        ("-A", "!A", "A as i64", "v[(A & 1) as usize]", "if A > B { A } else { B }", "(A < B) as i64"),
    ),
}


def _expression(random: Random, language: _Compiled, depth: int) -> str:
    """Return an expression of numbers; none divides by nought or shifts far."""
    if not depth or random.random() < 0.2:
        return random.choice(["x", "y", "1", "2", "7", "tell(2)", "v[1]"])
    first, second = (_expression(random, language, depth - 1) for _ in range(2))
    if random.random() < 0.4:
        text = random.choice(language.more)
        return f"({text})".replace("A", f"({first})").replace("B", f"({second})")
    operator = random.choice(_OPERATORS)
    second = random.choice("123") if operator in ("/", "%", "<<", ">>") else f"({second})"
    return f"({first}) {operator} {second}"


def _shape(random: Random, language: _Compiled, hole: str) -> str:
    """Return an expression with a hole in one of its places, without brackets around that."""
    if random.random() < 0.35:
        other = random.choice(["x", "y", "7"])
        return random.choice(language.more).replace("B", other).replace("A", hole)
    operator, other = random.choice(_OPERATORS), random.choice(["x", "2", "y"])
    if operator in ("/", "%", "<<", ">>"):
        return f"{hole} {operator} 2"
    return random.choice([f"{hole} {operator} {other}", f"{other} {operator} {hole}"])


@pytest.mark.parametrize("name", sorted(_LANGUAGES))
def test_what_is_written_computes_what_it_does_in_brackets(tmp_path: Path, name: str) -> None:
    language = _LANGUAGES[name]
    if any(shutil.which(c.split()[0]) is None for c in language.commands if c[0] != "."):
        pytest.skip(f"needs a compiler of {name}")
    methods: list[str] = []
    names: list[str] = []
    told: list[tuple[str, str]] = []
    for seed in range(CASES):
        random = Random(f"{name} {seed}")
        taken = _expression(random, language, 1).replace("((", "(").strip()
        place = _shape(random, language, "HOLE")
        put = random.choice(["@{v}", "(@{v})", _shape(random, language, "@{v}")])
        code = language.method.replace("NAME", "f").replace("BODY", place)
        head = "package main\n" if name == "go" else ""
        around = "class Main {\nCODE}\n" if name == "java" else "CODE"
        code = head + around.replace("CODE", code.replace("HOLE", f"old({taken})"))
        if taken.count("(") != taken.count(")"):
            continue
        tree = parse(code, name)
        rule = Rule("r", summary="s", find="old(@{v})", put=put, language=name)
        plan = make_plan(tree, Ruleset.of([rule]).look(tree)[0])
        new = prove(plan).tree.source.data.decode()
        if not plan.accepted or tree.broken:
            continue
        start = language.method.partition("NAME")[0]
        new = start + new.partition(start)[2].removesuffix("}\n" if name == "java" else "")
        meant = "(" + put.replace("@{v}", f"({taken})") + ")"
        wanted = language.method.replace("BODY", place.replace("HOLE", meant))
        number = len(told)
        methods += [
            new.replace(f"{start}f(", f"{start}f{number}(", 1),
            wanted.replace("NAME", f"g{number}"),
        ]
        names += [f"f{number}", f"g{number}"]
        told.append((new, wanted))
    assert len(told) > CASES / 2
    calls = "".join(language.call.replace("NAME", each) for each in names)
    program = language.whole.replace("METHODS", "".join(methods)).replace("CALLS", calls)
    file = tmp_path / (f"Main{language.suffix}" if name == "java" else f"main{language.suffix}")
    file.write_text(program, "utf-8")
    for command in language.commands:
        done = subprocess.run(
            command.split(), cwd=tmp_path, capture_output=True, text=True, check=False
        )
        assert not done.returncode, done.stderr[:3000]
    lines = done.stdout.split()
    wrong = [case for n, case in enumerate(told) if lines[2 * n] != lines[2 * n + 1]]
    assert not wrong, "\n".join(map(str, wrong[:5]))
