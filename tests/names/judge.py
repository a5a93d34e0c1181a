"""One random program before and after a change of names or imports: whether it does the same."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Mapping
from pathlib import Path
from random import Random
from typing import NamedTuple

from tests.names.packages import CLASSES, FUNCTIONS, Maker, Module, Program, RenameTarget
from tests.names.running import TWIN, Trace, failed, trace_of
from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, load_rules, run


class Case(NamedTuple):
    """What became of a program: ``same``, ``refused``, ``nothing`` or ``wrong``, and the story."""

    state: str
    told: str
    is_ordinary: bool = False
    """Whether the program gives little reason to refuse the change."""


class Change(NamedTuple):
    """A rule that changes a program."""

    rules: Ruleset
    said: str
    target: str = ""
    """The module that is imported anew, where one is."""


def judged(kind: str, seed: int) -> Case:
    """Change the program of `seed` by a random rule of `kind` and run it before and after."""
    random = Random(f"{kind} {seed}")
    program = Maker(seed).program()
    made = _MAKERS[kind](random, program)
    if made is None:
        return Case("nothing", "")
    rules, said, target = made
    start = [module.name for module in program.modules]
    if random.random() < 0.5:
        start = random.sample(start, random.randint(1, len(start)))
    before = _trace(program, program.files, start)
    if "fallback" in before or any(failed(before[name]) for name in start):
        return Case("nothing", "")  # it lives by the order of its imports
    if target and failed(_trace(program, program.files, [target])[target]):
        return Case("nothing", "")  # what is to be imported cannot be
    with _Folder(program.files) as folder:
        try:
            after, refusals = folder.reworked(rules, kind != "rename")
        except RuleError as wrong:
            after, refusals = program.files, [str(wrong)]
    changed = after != program.files
    state = "same" if changed else "refused" if refusals else "nothing"
    if state == "same" and refusals and kind in ("rename", "move"):
        state = "half"
    told = [f"seed {seed}: {said}, started by {', '.join(start)}", *refusals]
    wrong = ""
    now = _trace(program, after, start)
    for name, told_before in before.items():
        if not failed(told_before) and now.get(name) != told_before:
            wrong = f"{name} does another thing: {told_before} became {now.get(name)}"
            break
    if wrong:
        pass
    elif state == "half":
        wrong = "done in part"
    if wrong:
        state = "wrong"
        told.append(wrong)
    for path, text in program.files.items():
        told.append(f"--- {path}\n{text}")
        if after[path] != text:
            told.append(f"+++ {path}\n{after[path]}")
    return Case(state, "\n".join(told), program.is_ordinary)


def _trace(program: Program, files: Mapping[str, str], start: list[str]) -> Trace:
    try:
        return trace_of(files, start, program.roots)
    except SyntaxError as wrong:
        return {name: [f"does not compile: {wrong}"] for name in start}


class _Folder:
    """The files of a program in a folder of their own."""

    def __init__(self, files: Mapping[str, str]) -> None:
        self.root = Path(tempfile.mkdtemp()).resolve()
        self.files = files
        for name, text in files.items():
            path = self.root / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, "utf-8")

    def __enter__(self) -> _Folder:
        return self

    def __exit__(self, *why: object) -> None:
        shutil.rmtree(self.root)

    def reworked(self, rules: Ruleset, review: bool) -> tuple[dict[str, str], list[str]]:
        """Return the new texts, and what was refused."""
        done = run([self.root], rules, RunOptions(mode="rework", with_review=review, workers=1))
        files = dict(self.files)
        refusals = []
        for report in done.reports:
            name = str(Path(report.path).relative_to(self.root))
            if report.change is not None:
                files[name] = report.change.raw.decode("utf-8")
            refusals += [
                f"{name}:{fate.start}: {fate.state}: {fate.reason}"
                for fate in report.fates
                if fate.state in ("refused", "left")
            ]
            refusals += [f"{name}: {problem.reason}" for problem in report.problems]
        return files, [one.replace(str(self.root), "") for one in refusals]


# ---------------------------------------------------------------------- rules

def _rename(random: Random, program: Program) -> Change | None:
    things = program.things
    thing = random.choice(things)
    old = thing.path
    if thing.kind == "class" and thing.own and random.random() < 0.6:
        old = f"{old}.{random.choice(sorted(thing.own))}"
    elif thing.kind == "function" and thing.parameters and random.random() < 0.4:
        old = f"{old}({random.choice(thing.parameters)})"
    fresh = ("fresh", "Fresh") if random.random() < 0.8 else (*FUNCTIONS, *CLASSES, "zone")
    new = random.choice(("fresh", "Fresh") if program.is_ordinary else fresh)
    if new == old.rpartition(".")[2] or f"({new})" in old:
        return None
    rule = Rule("rename-it", summary="It has another name.", rename=old, to=new)
    return Change(Ruleset.of([rule]), f"rename {old} to {new}")


def _twin(random: Random, program: Program, name: str) -> tuple[RenameTarget, str] | None:
    """Give another module, or a new one, a function that does what one of the program does."""
    targets = program.modules
    if program.is_ordinary or random.random() < 0.4:
        fresh = Module("anew", "/".join(filter(None, (*program.roots, "anew.py"))), False)
        program.modules.append(fresh)
        program.files[fresh.path] = ""
        targets = [fresh]
    tries = [
        (one, target)
        for one in program.things
        if one.kind == "function"
        for target in targets
        if target.name != one.module and (name or one.name) not in target.taken
    ]
    random.shuffle(tries)
    if random.random() < 0.7:  # mostly to where it closes no circle
        order = [module.name for module in program.modules]
        tries.sort(key=lambda one: order.index(one[1].name) > order.index(one[0].module))
    for old, target in tries:
        home = next(m for m in program.modules if m.name == old.module)
        body = _definition(home, old)
        if body is None:
            continue
        new = name or old.name
        body[0] = body[0].replace(f"def {old.name}(", f"def {new}(")
        lines = program.files[target.path].splitlines()
        at = random.choice((len(lines), _head(lines)))
        lines[at:at] = ["", *body, ""]
        program.files[target.path] = "\n".join(lines) + "\n"
        return old, f"{target.name}.{new}"
    return None


def _head(lines: list[str]) -> int:
    """Return the number of the first line that is neither import nor text."""
    for number, line in enumerate(lines):
        if line and not line.startswith(("import ", "from ", '"""')):
            return number
    return len(lines)


def _definition(module: Module, thing: RenameTarget) -> list[str] | None:
    """Return the lines of a function if it does nothing but tell of itself."""
    lines = module.lines
    starts = [i for i, line in enumerate(lines) if line.startswith(f"def {thing.name}(")]
    if not starts:
        return None
    found = [lines[starts[-1]]]
    for line in lines[starts[-1] + 1 :]:
        if not line.startswith("    "):
            break
        found.append(line)
    number = found[1].partition("(")[2].partition(",")[0].rstrip(")").strip()
    if not number.isdigit() or len(found) > 2 + bool(thing.parameters):
        return None
    found[1] = found[1].replace(f"hit({number}", f"hit({int(number) + TWIN}", 1)
    return found


def _move(random: Random, program: Program) -> Change | None:
    made = _twin(random, program, "")
    if made is None:
        return None
    old, new = made
    rule = Rule("move-it", summary="It has moved.", move=old.path, to=new)
    return Change(Ruleset.of([rule]), f"move {old.path} to {new}", new.rpartition(".")[0])


def _rewrite(random: Random, program: Program) -> Change | None:
    made = _twin(random, program, random.choice(("fresh", "tick", "halt", "größte")))
    if made is None:
        return None
    old, new = made
    find, put = random.choice(
        (
            (f"@<{old.path}>(@{{a*}})", f"@<{new}>(@{{a*}})"),
            (f"@<{old.path}>", f"@<{new}>"),
        )
    )
    rule = Rule("write-anew", summary="It is another one.", find=find, put=put)
    return Change(Ruleset.of([rule]), f"{find} => {put}", new.rpartition(".")[0])


def _unused(random: Random, program: Program) -> Change | None:
    rules = Ruleset.of(load_rules(["python-names"])).only(["idle-import"])
    return Change(rules, "idle-import")


_MAKERS = {"rename": _rename, "move": _move, "rewrite": _rewrite, "unused": _unused}
KINDS = tuple(_MAKERS)
