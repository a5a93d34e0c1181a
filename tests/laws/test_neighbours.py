"""Fixes that are right alone are not refused for others, and each is refused for its own reason.

YTR_CASES=20000 is the long run.
"""

from __future__ import annotations

import os
from random import Random

from yellow_trellis import Rule, Ruleset, parse
from yellow_trellis.plans.outcome import Outcome
from yellow_trellis.plans.plan import make_plan
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.syntax import Tree

CASES = int(os.environ.get("YTR_CASES", "240"))
_CALLS = ("halt", "ring", "wait", "stop")
_RIGHT = (
    *("tell(@{v})", "@{v} + 1", "-@{v}", "trams[@{v}]", "(@{v})", "if late:\n    tell(@{v})"),
    *("log()\ntell(@{v})",),
)
_WRONG = (
    *("return @{v}", "await @{v}", "break", "continue", "nonlocal @{v}", "*@{v}, *rest = line"),
    *("async with @{v}: pass", "try:\n    pass\nexcept: pass\nexcept Late: pass"),
)
_STATEMENTS = (
    *("zone = halt(late, 1)", "return halt(late)", "assert halt(late), why", "halt(late)"),
    *("zone += halt(late)", "if halt(late):\n    ring()", "for line in halt(late):\n    ring(line)"),
    *("@mark\ndef wait(late, zone=1):\n    return halt(late)", "zone = line = halt(1)"),
)
_PAIRS = {
    "halt(@{a*})": ("tell(@{a*})", "-halt(@{a*})", "halt(@{a*}) + 1", "trams.halt(@{a*})"),
    "zone = @{v}": ("zone = tell(@{v})", "log()\nzone = @{v}", "if late:\n    zone = @{v}"),
    "return @{v}": ("return tell(@{v})", "if late:\n    return @{v}\nreturn 2"),
    "assert @{v}, why": ("assert tell(@{v}), why", "if not @{v}:\n    raise Late(why)"),
    "def wait(@{p*}):\n    @{b*}": (
        *("def wait(@{p*}, line=1):\n    @{b*}", "@new\ndef wait(@{p*}):\n    @{b*}"),
        "def wait(@{p*}):\n    log()\n    @{b*}",
    ),
    "@mark\ndef wait(@{p*}):\n    @{b*}": ("@other\ndef wait(@{p*}):\n    @{b*}",),
    "late": ("trams.late", "late or soon", "late[0]"),
    "if @{c}:\n    @{b*}": (
        *("if not @{c}:\n    @{b*}", "if @{c}:\n    @{b*}\nelse:\n    stop()"),
        "while @{c}:\n    @{b*}",
    ),
}


def planned(tree: Tree, rules: list[Rule], only: str = "") -> list[Outcome]:
    """Return what one round does about the findings of `rules`."""
    ruleset = Ruleset.of(rules)
    findings = [f for n, r in enumerate(ruleset.rules) for f in r.compiled.look(tree, n)]
    plan = make_plan(tree, [f for f in findings if only in ("", f.rule)])
    prove(plan)
    return plan.outcomes


def test_two_fixes_that_are_right_alone_are_never_both_refused() -> None:
    tried = 0
    for seed in range(CASES * 4):
        random = Random(f"pairs {seed}")
        code = random.choice(_STATEMENTS) + "\n"
        if random.random() < 0.5:
            code = "def outer():\n    " + code.rstrip().replace("\n", "\n    ") + "\n"
        tree = parse(code, "python")
        rules = []
        for name in ("one", "two"):
            find = random.choice(list(_PAIRS))
            put = random.choice(_PAIRS[find])
            rules.append(Rule(name, summary="s", find=find, put=put))
        alone = [planned(tree, rules, rule) for rule in ("one", "two")]
        if not all(alone) or any(o.state == "refused" for some in alone for o in some):
            continue
        tried += 1
        together = planned(tree, rules)
        assert not [o.reason for o in together if o.state == "refused"], (code, rules)
    assert tried > CASES / 10


def test_a_fix_that_fails_takes_no_other_with_it() -> None:
    failures = 0
    for seed in range(CASES // 2):
        random = Random(f"neighbours {seed}")
        lines = [
            f"{random.choice(_CALLS)}({end})"
            for end in random.choices(("1", "late", "zone  # why\n"), k=random.randint(2, 5))
        ]
        lines = [line.replace("  # why\n)", ")  # why") for line in lines]
        code = "".join(f"    {line}\n" for line in lines)
        tree = parse(random.choice(("def run():\n", "for line in trams:\n")) + code, "python")
        rules = []
        for call in _CALLS:
            put = random.choice(_WRONG if random.random() < 0.4 else _RIGHT)
            rules.append(Rule(call, summary="s", find=f"{call}(@{{v}})", put=put))
        for call in _CALLS:
            wrong = {o.reason for o in planned(tree, rules, call) if o.state == "refused"}
            told = {o.reason for o in planned(tree, rules) if o.finding.rule == call and o.reason}
            assert told == wrong, (tree.source.data.decode(), rules)
            failures += bool(wrong)
    assert failures
