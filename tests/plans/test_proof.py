"""What the proof takes out, what it costs, and that nothing that is raised ends a run."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.conftest import reworked, rules_of, text_of, tree_of
from yellow_trellis import Code, Finding, FixBuilder, Node, Rule, Ruleset, Span, fix, rule
from yellow_trellis.edits import Edit, New, Slice
from yellow_trellis.findings.finding import LazyFix
from yellow_trellis.fixes import Fix
from yellow_trellis.plans import make_plan, rework
from yellow_trellis.plans.proof.checker import Checker
from yellow_trellis.plans.proof.validation import prove


def proven(code: str, *fixes: Fix) -> tuple[str, list[str]]:
    findings = [
        Finding(f"rule-{n}", "warning", fix.extent, "m", (fix,), n) for n, fix in enumerate(fixes)
    ]
    plan = make_plan(tree_of(code), findings)
    text = prove(plan).tree.source.data.decode()
    return text, [outcome.reason for outcome in plan.outcomes if outcome.state == "refused"]


def hand_made(span: tuple[int, int], *pieces: object) -> Fix:
    made = tuple(New(p) if isinstance(p, str) else Slice(Span(*p)) for p in pieces)
    return Fix("f", (Edit(Span(*span), made),), Span(*span))


@pytest.mark.parametrize(
    ("code", "fix", "text"),
    [
        # hand-made edits get the brackets that they need, or are refused
        ("x = a * b\n", hand_made((8, 9), "c + d"), "x = a * (c + d)\n"),
        ("x = -(a)\n", hand_made((4, 8), (6, 7), ".x"), "x = a.x\n"),
        ("x = f(a + b)\n", hand_made((4, 12), "-", (6, 11)), "x = -(a + b)\n"),
        ("x = a\ny = 1\n", hand_made((4, 5), "a +"), "x = a\ny = 1\n"),
        ("x = a\ny = 1\n", hand_made((4, 5), "b; y = 2"), "x = a\ny = 1\n"),
        ("if a:\n    b()\nc()\n", hand_made((10, 13), "b()\n  c()"), "if a:\n    b()\nc()\n"),
        ("if a:\n    b()\n    c()\n", hand_made((10, 13), "b()\nd()"), "if a:\n    b()\n    c()\n"),
        ("f(a)\n", hand_made((0, 1), "g(1)\nf"), "f(a)\n"),
        ("g(x for x in y)\n", hand_made((2, 3), "a, x"), "g((a, x) for x in y)\n"),
    ],
)
def test_edits_by_hand_are_held_to_what_they_state(code: str, fix: Fix, text: str) -> None:
    got, reasons = proven(code, fix)
    assert got == text
    assert bool(reasons) is (text == code)


def test_a_fix_that_makes_it_worse_is_refused_where_the_code_did_not_compile_before() -> None:
    text, reasons = proven("return 1\nx = f(1)\n", hand_made((13, 17), "break_"))
    assert text == "return 1\nx = break_\n" and not reasons


def test_a_refusal_costs_no_more_than_two_attempts(monkeypatch) -> None:
    attempts = []
    attempt = Checker.attempt
    monkeypatch.setattr(
        Checker, "attempt", lambda self, chosen: attempts.append(1) or attempt(self, chosen)
    )
    code = "".join(f"def f{n}():\n    return g({n}, h({n}, {n}))\n\n" for n in range(40))
    code += "".join(f"bad(a, {n})\n" for n in range(20))
    ruleset = rules_of(("h(@{x}, @{y})", "k(@{x})"), ("bad(@{x}, @{y})", "b(x=@{x}, @{y})"))
    tree = tree_of(code)
    plan = make_plan(tree, ruleset.look(tree)[0])
    text = prove(plan).tree.source.data.decode()
    assert text.count("k(") == 40 and text.count("bad(a") == 20
    assert len(attempts) <= 2 * 20 + 2


def test_what_a_rule_raises_costs_its_own_fixes_only() -> None:
    ruleset = rules_of(("f(@{x})", "g(@{x})"))

    def broken() -> Fix:
        raise TypeError("no such thing")

    def look(tree):
        offer = LazyFix("Break", "safe", broken)
        bad = Finding("bad", "warning", Span(0, 4), "m", (offer,), 7)
        return [*ruleset.look(tree)[0], bad]

    done = rework(tree_of("f(1)\n"), look)
    assert text_of(done) == "g(1)\n"
    (failure,) = done.failures
    assert failure.rule == "bad"
    assert failure.reason.startswith("its fix at 1:1 raised TypeError: no such thing (")
    assert {o.finding.rule: o.state for _, o in done.outcomes} == {
        "rule-0": "applied",
        "bad": "refused",
    }


RULE = '''
from yellow_trellis import Rule, fix, rule

good = Rule("good", summary="g", find="f(@{x})", put="g(@{x})")

@rule("odd", summary="o", find="h(@{x})")
def odd(match, code):  # the width is no number, which shows when lines are measured
    yield code.finding(match, fixes=[fix("f", width="wide").replace(match.node, "[1]")])

@rule("worse", summary="w", find="i(@{x})")
def worse(match, code):
    raise OSError("worse")
'''


@pytest.mark.parametrize("command", ["survey", "preview", "apply", "clashes"])
@pytest.mark.parametrize("workers", ["1", "2"])
def test_a_rule_that_raises_ends_no_run(ytr, tmp_path: Path, command: str, workers: str) -> None:
    (tmp_path / "rules.py").write_text(RULE)
    for name in "abc":
        (tmp_path / f"{name}.py").write_text("f(1)\nh(2)\ni(3)\n")
    answer = ytr(command, "--rules", "rules.py", "--workers", workers, "a.py", "b.py", "c.py")
    assert answer.status == 3
    assert answer.err.count("the rule worse failed: OSError: worse") == 3
    if command != "survey":  # which makes fixes only where they may be in each other's way
        assert answer.err.count("the rule odd failed: its fix at 2:1 raised TypeError") == 3
    if command == "apply":
        assert (tmp_path / "c.py").read_text("utf-8") == "g(1)\nh(2)\ni(3)\n"


def test_the_oldest_python_is_honoured(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("f(x)\nf(y)[1]\n")
    rule = '[[rule]]\nname = "r"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(z := @{x})"\n'
    (tmp_path / "rules.toml").write_text(rule)
    call = ("preview", "--rules", "rules.toml", "a.py", "--format", "json")
    assert ytr(*call).json["summary"]["applied"] == 2
    refused = ytr(*call, "--python-version", "3.7").json
    assert refused["summary"]["refused"] == 2
    assert "only supported in Python 3.8" in json.dumps(refused["fates"])
    (tmp_path / "trellis.toml").write_text('python-version = "3.7"\n')
    assert ytr(*call).json["summary"]["refused"] == 2
    (tmp_path / "trellis.toml").write_text('python-version = "4"\n')
    assert "trellis.toml:1:1: `python-version`: a version is written as" in ytr(*call).err


def test_a_command_checks_changed_files(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "b.py").write_text("f(2)\n")
    (tmp_path / "check.py").write_text(
        "import sys\nif 'g(2)' in open(sys.argv[1]).read(): sys.exit('no 2 in ' + sys.argv[1])\n"
    )
    rule = '[[rule]]\nname = "r"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
    (tmp_path / "rules.toml").write_text(rule)
    command = f"python=python3 {tmp_path / 'check.py'}"
    answer = ytr("apply", "--rules", "rules.toml", "a.py", "b.py", "--check-syntax", command)
    assert answer.status == 3 and "refuses what it would become: no 2 in b.py" in answer.err
    assert (tmp_path / "a.py").read_text("utf-8") == "g(1)\n"
    assert (tmp_path / "b.py").read_text("utf-8") == "f(2)\n"
    wrong = ytr("apply", "--rules", "rules.toml", "a.py", "--check-syntax", "pyhton=x")
    assert wrong.status == 2 and "did you mean `python`" in wrong.err


@pytest.mark.parametrize("language", ["c", "cpp"])
def test_a_function_is_not_called_in_a_condition_of_the_preprocessor(language: str) -> None:
    text = "#if A && B\n#endif\n{}#if C(1)\n#elif D && E\n#endif\n"
    both = Rule("r", summary="s", find="@{a} && @{b}", put="both(@{a}, @{b})", language=language)
    done = both.fix(text.format("int f(int a, int b) { return a && b; }\n"))
    assert done.code == text.format("int f(int a, int b) { return both(a, b); }\n")
    assert sorted(one.state for one in done.outcomes) == ["applied", "refused", "refused"]
    macro = Rule("r", summary="s", find="C(@{x})", put="F(@{x})", language=language)
    assert macro.fix("#if C(1)\n#endif\n").code == "#if F(1)\n#endif\n"


@pytest.mark.parametrize("language", ["c", "cpp"])
def test_a_condition_of_the_preprocessor_is_a_pattern(language: str) -> None:
    find, put = "defined @{x}", "defined(@{x})"
    rule = Rule("r", summary="s", find=find, put=put, part="directive", language=language)
    text = "#if defined(A) && !defined B\n#elif ! defined C\n#endif\n"
    assert rule.fix(text).code == text.replace("defined B", "defined(B)").replace("ed C", "ed(C)")


@pytest.mark.parametrize("put", ["", "if (@{x}) { g(@{x}); }", "g(0); g(@{x});", "g(@{x}); g(0);"])
def test_a_tag_that_writes_keeps_one_expression(put: str) -> None:
    text = "<p><?= f(1); ?></p>\n<?php f(2); ?>\n<?= f(3) ?>\n<?= 4 ?>\n"
    rule = Rule("r", summary="s", find="f(@{x});", put=put, language="php")
    done = rule.fix(text)
    assert sorted(one.state for one in done.outcomes) == ["applied", "refused", "refused"]
    assert "<?= f(1); ?>" in done.code and "<?= f(3) ?>" in done.code and "f(2)" not in done.code


@pytest.mark.parametrize(
    ("put", "is_refused"),
    [("", True), ("k(); g(@{x});", True), ("g(@{x});", False), ("if c() { g(@{x}); }", False)],
)
def test_an_attribute_goes_on_with_its_statement(put: str, is_refused: bool) -> None:
    text = "fn a() {\n    #[cfg(test)] // only then\n    f(1);\n    f(2);\n    h();\n}\n"
    rule = Rule("r", summary="s", find="f(@{x});", put=put, language="rust")
    done = rule.fix(text)
    assert ("#[cfg(test)] // only then\n    f(1);" in done.code) is is_refused
    assert "f(2);" not in done.code
    refused = [one.reason for one in done.outcomes if one.state == "refused"]
    assert len(refused) == is_refused
    assert all("an attribute would speak for other code" in reason for reason in refused)


def test_a_decorator_goes_on_with_its_method() -> None:
    text = "class A {\n  @Out() f() {}\n  h() {}\n  f() {}\n}\n"
    rule = Rule("r", summary="s", find="f() {}", put="", part="member", language="typescript")
    done = rule.fix(text)
    assert done.code == "class A {\n  @Out() f() {}\n  h() {}\n}\n"


def test_an_insertion_where_code_ends_that_another_keeps_is_outside_of_it() -> None:
    def written(name: str, kind: str, change: Callable[[Node], FixBuilder]) -> Rule:
        def check(node: Node, code: Code) -> Iterator[Finding]:
            yield code.finding(node, fixes=[change(node)])

        return rule(name, summary="s", kinds=[kind])(check)

    rules = [
        Rule("missing", summary="s", find="@{x} is None", put="missing(@{x})"),
        written("trace", "function_definition", lambda n: fix("s").first_in(n, "trace_in()")),
        written("mark", "class_definition", lambda n: fix("s").last_in(n, "MARKED = True")),
        written("more", "argument_list", lambda n: fix("s").append_to(n, "more=1")),
    ]
    tree = tree_of("class Depot:\n    @skip(cars is None)\n    def halt(self):\n        stop(self)\n")
    findings, _ = Ruleset.of(rules).look(tree)
    assert prove(make_plan(tree, findings)).tree.source.data.decode() == (
        "class Depot:\n    @skip(missing(cars), more=1)\n    def halt(self):\n"
        "        trace_in()\n        stop(self, more=1)\n    MARKED = True\n"
    )


def test_two_verbs_for_one_clause_are_refused_inside_what_moves_them_both() -> None:
    tree = tree_of("def f():\n    if a:\n        b\n    elif c:\n        d\n    x\n")
    clause = next(node for node in tree.root.walk() if node.kind == "elif_clause")
    both = fix("Both").unwrap(tree.root.items[0]).unwrap(clause).remove(clause).made(Span(0, 0))
    assert both is not None
    plan = make_plan(tree, [Finding("r", "warning", both.extent, "m", (both,))])
    assert prove(plan).tree.source.data == tree.source.data
    assert [o.reason for o in plan.outcomes] == ["the fix edits the same bytes twice"]


@pytest.mark.parametrize(
    ("code", "wanted"),
    [
        ("with f((a,)):\n    g()\n", "with f((a,)):\n    g()\n"),  # refused: one item in brackets
        ("with f((a, b)):\n    g()\n", "with ((a, b)):\n    g()\n"),
        ("with f((a, b)), c:\n    g()\n", "with (a, b), c:\n    g()\n"),
        ("with f((a, b)) as c:\n    g()\n", "with (a, b) as c:\n    g()\n"),
    ],
)
def test_a_tuple_does_not_become_the_items_of_a_with(code: str, wanted: str) -> None:
    tree = tree_of(code)
    call = next(node for node in tree.root.walk() if node.kind == "call")
    inner = next(node for node in tree.root.walk() if node.kind == "tuple")
    lifted = fix("Lift").replace(call, inner).made(Span(0, 0))
    assert lifted is not None
    plan = make_plan(tree, [Finding("r", "warning", lifted.extent, "m", (lifted,))])
    assert prove(plan).tree.source.data.decode() == wanted


def test_a_set_that_would_be_an_empty_dictionary_keeps_its_item() -> None:
    tree = tree_of("x = {a.close()}\ny = {a.close(), b}\n")
    findings, _ = Ruleset.of(rules_of(("@{x}.close()", ""))).look(tree)
    plan = make_plan(tree, findings)
    assert prove(plan).tree.source.data.decode() == "x = {a.close()}\ny = {b}\n"
    assert [outcome.state for outcome in plan.outcomes] == ["refused", "applied"]


def test_what_the_parser_misreads_is_left_alone_as_a_whole() -> None:
    code = "f(1)\nif a:\n    [(b |\nf(2)\n)]\n    f(3)\nf(4)\n"
    compile(code, "code", "exec")
    tree = tree_of(code)
    assert tree.errors  # or the parser reads it by now: then look for other code that it does not
    findings, _ = Ruleset.of(rules_of(("f(@{x})", "a or @{x}"))).look(tree)
    new = prove(make_plan(tree, findings)).tree.source.data.decode()
    assert new.startswith(code.replace("f(1)", "a or 1").partition("f(4)")[0])


FOREIGN = '''
import sys
from yellow_trellis import Rule, fix, rule

good = Rule("good", summary="g", find="f(@{{x}})", put="g(@{{x}})")

class Odd(BaseException):
    def __str__(self): raise SystemExit(0)

@rule("foreign", summary="o", find="h(@{{x}})")
def foreign(match, code):
    {line}
'''


@pytest.mark.parametrize(
    "line",
    [
        "sys.exit(0)",
        "raise GeneratorExit",
        "raise Odd",
        "yield 42",
        "yield None",
        "return 42",
        "yield code.finding(match, 42)",
        "yield code.finding(match, fixes=[42])",
        "yield code.finding(match, fixes=[fix(42).replace(match.node, 42)])",
        "yield code.finding(match, fixes=[lambda: sys.exit(0)])",
    ],
)
@pytest.mark.parametrize("workers", ["1", "2"])
def test_foreign_code_costs_its_rule_whatever_it_does(
    ytr, tmp_path: Path, line: str, workers: str
) -> None:
    (tmp_path / "r.py").write_text(FOREIGN.format(line=line))
    (tmp_path / "a.py").write_text("f(1)\nh(2)\n")
    (tmp_path / "b.py").write_text("f(3)\n")
    for command in ("survey", "preview", "apply", "clashes"):
        told = ytr(command, "--rules", "r.py", "a.py", "b.py", "--workers", workers, "--no-cache")
        assert told.status == 3 and "a.py: the rule foreign failed" in told.err, (command, told.err)
        assert "b.py:" not in told.err
    assert (tmp_path / "a.py").read_text("utf-8") == "g(1)\nh(2)\n"


@pytest.mark.parametrize(
    ("line", "reason"),
    [
        ("import sys; sys.exit(0)", "SystemExit: 0"),
        ("raise BaseException", "BaseException"),
        ("1 / 0", "ZeroDivisionError: division by zero"),
        ('Rule("a-b", sumary="x")', "argument 'sumary': did you mean `summary`?"),
    ],
)
def test_a_rule_file_that_ends_itself_is_told(ytr, tmp_path: Path, line: str, reason: str) -> None:
    (tmp_path / "r.py").write_text(f"from yellow_trellis import Rule\n\n{line}\n")
    told = ytr("survey", "--rules", "r.py", ".")
    assert told.status == 2 and "r.py:3: the rule file fails when it is read: " in told.err
    assert reason in " ".join(told.err.split())


def test_the_only_decorator_goes_while_another_fix_writes_in_the_function() -> None:
    tree = tree_of("@plain\ndef f():\n    g(1)\n")
    mark = next(node for node in tree.root.walk() if node.kind == "decorator")
    made = [fix("Remove").remove(mark), fix("Trace").first_in(tree.root.items[0], "trace()")]
    fixes = [one for builder in made if (one := builder.made(Span(0, 0))) is not None]
    findings = [
        Finding(f"r{n}", "warning", one.extent, "m", (one,)) for n, one in enumerate(fixes)
    ]
    plan = make_plan(tree, findings)
    text = prove(plan).tree.source.data.decode()
    assert text == "def f():\n    trace()\n    g(1)\n"
    assert [outcome.state for outcome in plan.outcomes] == ["composed", "composed"]


@pytest.mark.parametrize(
    ("code", "find", "put"),
    [
        ("from a import\nb()\nc = 1\n", "b", "d"),
        ("x = 1\ndel\ny, f(1)\n", "f(@{x})", "g(@{x})"),
        ("if x and\nf(1):\n    pass\n", "f(@{x})", "g(@{x})"),
        ("while\nf(1): pass\n", "f(@{x})", "g(@{x})"),
    ],
)
def test_lines_that_only_the_parser_takes_for_one_statement_are_left(code, find, put) -> None:
    done = reworked(code, (find, put))
    assert text_of(done) == code
    assert {o.state for _, o in done.outcomes} <= {"refused", "left"}


@pytest.mark.parametrize(
    "code",
    [
        "x = f(1) + \\\n    y\n",
        "x = '''\n''' + f(1)\n",
        "@f(1)\ndef g():\n    pass\n",
        "if f(1):  # c\n    # d\n\n    pass\nelse:\n    y = f(\n        2)\n",
        "class A(f(1),\n        b):\n    x = f(2); y = 1\n",
        "with f(1) as x, \\\n        f(2) as y:\n    pass\n",
    ],
)
def test_statements_of_several_lines_are_fixed(code: str) -> None:
    assert text_of(reworked(code, ("f(@{x})", "g(@{x})"))) == code.replace("f(", "g(")


@pytest.mark.parametrize(("code", "wanted"), [
    ('x = f"{a=} {f(1)}"\n', 'x = f"{a=} {g(1)}"\n'),
    ('x = f"{f(1)=}"\n', 'x = f"{f(1)=}"\n'),
    ('x = f"{f(1)=} {f(2)}"\n', 'x = f"{f(1)=} {g(2)}"\n'),
    ('x = f"{f(1)}", f"{a=}", f(3)\n', 'x = f"{g(1)}", f"{a=}", g(3)\n'),
])
def test_a_field_that_shows_its_code_costs_no_other_field(code: str, wanted: str) -> None:
    assert text_of(reworked(code, ("f(@{x})", "g(@{x})"))) == wanted
