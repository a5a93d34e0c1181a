"""Renaming and moving over a code base with every way to import, alias, re-export and shadow.

In the text of the base, what stands between « and » must change; everything else must not.
"""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest

from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, run, undo, write_changes
from yellow_trellis.plans.outcome import DOUBT

BASE = (Path(__file__).parent / "across" / "base.txt").read_text("utf-8")
MARK = re.compile("«([^»]*)»")


def files_of(text: str) -> dict[str, str]:
    """Return the files of a text in which ``=== path`` starts each."""
    parts = re.split(r"^=== (\S+)\n", text, flags=re.MULTILINE)
    return dict(zip(parts[1::2], parts[2::2], strict=True))


def before(text: str) -> str:
    """Return a marked text as it is; ``«a as b»`` stands for ``a``."""
    return MARK.sub(lambda found: found[1].partition(" as ")[0], text)


def after(text: str, new: str) -> str:
    """Return a marked text with what is marked renamed; ``«a as b»`` becomes ``new as b``."""
    return MARK.sub(lambda found: new + found[1].removeprefix("park"), text)


def laid_out(root: Path, text: str) -> None:
    for path, code in files_of(before(text)).items():
        (root / path).parent.mkdir(parents=True, exist_ok=True)
        (root / path).write_text(code, "utf-8")


def applied(root: Path, *rules: Rule, with_review: bool = False):
    """Apply rules to a folder; return the run and what was written."""
    found = run([root], Ruleset.of(rules), RunOptions(mode="rework", with_review=with_review))
    changes = [report.change for report in found.changed]
    return found, write_changes(changes, root, [one.name for one in rules])


def now(root: Path) -> dict[str, str]:
    return {
        p.relative_to(root).as_posix(): p.read_text("utf-8")
        for p in root.rglob("*.py")
        if ".yellow-trellis" not in p.parts
    }


def own_tests(root: Path) -> str:
    done = subprocess.run(
        [sys.executable, "-B", "tests_of_alder.py"],
        cwd=root,
        capture_output=True,
        text=True,
        check=False,
    )
    return done.stdout + done.stderr


RENAME = Rule("rename-park", summary="park is called store.", rename="alder.depot.park", to="store")


def test_the_table_is_long_enough() -> None:
    assert len(MARK.findall(BASE)) >= 60
    assert len(re.findall(r"\bpark\b", MARK.sub("", BASE))) >= 40


def test_a_rename_touches_exactly_what_it_must(tmp_path: Path, monkeypatch) -> None:
    monkeypatch.chdir(tmp_path)
    laid_out(tmp_path, BASE)
    was = own_tests(tmp_path)
    assert was == "all well\n"
    found, report = applied(tmp_path, RENAME)
    assert not found.problems and not report.left
    wanted = files_of(after(BASE, "store"))
    for path, text in now(tmp_path).items():
        assert text == wanted[path], path
    assert own_tests(tmp_path) == was
    assert not applied(tmp_path, RENAME)[1].written
    undo(tmp_path)
    assert now(tmp_path) == files_of(before(BASE))


@pytest.mark.parametrize(
    ("path", "line", "reason"),
    [
        ("alder/depot.py", "store = 1", "`store` is taken: it is bound at"),
        ("alder/lines/night.py", "def store(): pass", "`store` is taken"),
        ("alder/stars.py", "def late(): return store", "`store` means something else at"),
        ("alder/local.py", "def six(store):\n    return one\nfrom .depot import park\ndef seven(store):\n    return park", "taken in between"),
        ("alder/other2.py", "from .depot import park\ndef broken(:\n    park(", "does not parse"),
    ],
)  # rows
def test_a_clash_anywhere_stops_it_everywhere(
    tmp_path: Path, path: str, line: str, reason: str
) -> None:
    laid_out(tmp_path, BASE)
    with (tmp_path / path).open("a") as file:
        file.write(line + "\n")
    was = now(tmp_path)
    found, report = applied(tmp_path, RENAME)
    assert not report.written and now(tmp_path) == was
    reasons = {fate.reason for r in found.reports for fate in r.fates}
    assert any(reason in told for told in reasons), reasons
    assert all(told.startswith("in no file, because of") or told == DOUBT for told in reasons), reasons
    kinds = {c.kind for r in found.reports for c in r.conflicts}
    assert not kinds or "name clash" in kinds


def test_a_file_that_changes_meanwhile_stops_it_everywhere(tmp_path: Path) -> None:
    laid_out(tmp_path, BASE)
    found = run([tmp_path], Ruleset.of([RENAME]), RunOptions(mode="rework"))
    (tmp_path / "alder/local.py").write_text("pass\n")
    report = write_changes([r.change for r in found.changed], tmp_path, ["rename-park"])
    assert not report.written and len(report.left) == len(found.changed)


METHODS = """=== alder/cars.py
import abc

class Car(abc.ABC):
    __slots__ = ("«park»ed",)
    def «park»(self, track, *, slow=False):
        return ("car", track)
    def home(self):
        return self.«park»(1)
    leave = «park»

class Night(Car):
    def «park»(self, track, *, slow=False):
        return super().«park»(track), "night"

class Truck:
    def park(self, track):
        return ("truck", track)

def any_car() -> Car:
    return Night()
=== use.py
from alder.cars import *
import alder.cars as c

def given(car: Car, other, *more: c.Night, truck: c.Truck):
    with_it = [car.«park»(1), Night().«park»(2), c.any_car().«park»(3), truck.park(4)]
    mine = Car.«park»
    return with_it, other.park(5), mine, getattr(car, "home")()
"""


def test_a_method_is_renamed_in_all_classes_of_its_line(tmp_path: Path) -> None:
    text = METHODS.replace("«park»ed", "parked")
    laid_out(tmp_path, text)
    rule = Rule("r", summary="s", rename="alder.cars.Car.park", to="store")
    found, report = applied(tmp_path, rule)
    doubt = "this may be `alder.cars.Car.park`: what it is asked of is not known"
    reasons = [fate.reason for r in found.reports for fate in r.fates if fate.state == "refused"]
    assert not report.written and all(doubt in reason for reason in reasons)
    found, _ = applied(tmp_path, rule, with_review=True)
    assert now(tmp_path) == files_of(after(text, "store"))
    left = [f for f in found.findings if not f.fixes]
    assert [(f.path.endswith("use.py"), f.line.strip()[:30]) for f in left] == [
        (True, "return with_it, other.park(5),")
    ]


def test_a_member_that_may_come_from_outside_is_refused(tmp_path: Path) -> None:
    laid_out(tmp_path, "=== a.py\nimport far\nclass C(far.Base):\n    def park(self): ...\n")
    found, report = applied(tmp_path, Rule("r", summary="s", rename="a.C.park", to="store"))
    assert not report.written
    assert "`far.Base` of `a.C` is not of this code base" in found.reports[0].fates[0].reason


def test_an_argument_is_renamed_with_the_calls_that_name_it(tmp_path: Path) -> None:
    laid_out(
        tmp_path,
        METHODS.replace("«park»ed", "x") + "def slow(slow): return slow\nf = slow(slow=1)\n"
        "any_car().park(1, slow=True), Night().park(1, slow=2), dict(slow=3)\n",
    )
    rule = Rule("r", summary="s", rename="alder.cars.Night.park(slow)", to="calmly")
    applied(tmp_path, rule)
    cars, use = now(tmp_path)["alder/cars.py"], now(tmp_path)["use.py"]
    assert cars.count("slow=False") == 0 and cars.count("calmly=False") == 2
    assert (
        use.splitlines()[-1]
        == "any_car().park(1, calmly=True), Night().park(1, calmly=2), dict(slow=3)"
    )


MOVE = """=== tramline/__init__.py
=== tramline/clock.py
from .timeline import stamp
def other(): pass
=== tramline/timeline.py
def stamp(z): return z
def tick(z): return z
=== alder/__init__.py
from tramline.clock import stamp
=== alder/a.py
from tramline.clock import stamp, other
print(stamp(1))
=== alder/b.py
from tramline.clock import stamp as s  # the time
import tramline.clock
print(s(1), tramline.clock.stamp(2), tramline.clock.other)
=== alder/c.py
from alder import stamp
from tramline.timeline import tick
def f():
    from tramline.clock import stamp as t
    return t(stamp(tick(1)))
=== alder/d.py
from tramline import clock
from tramline.timeline import tick
print(clock.stamp(tick(1)))
"""
MOVED = """=== tramline/__init__.py
=== tramline/clock.py
from .timeline import stamp
def other(): pass
=== tramline/timeline.py
def stamp(z): return z
def tick(z): return z
=== alder/__init__.py
from tramline.timeline import stamp
=== alder/a.py
from tramline.clock import other
from tramline.timeline import stamp
print(stamp(1))
=== alder/b.py
from tramline.timeline import stamp as s  # the time
import tramline.clock
print(s(1), s(2), tramline.clock.other)
=== alder/c.py
from alder import stamp
from tramline.timeline import tick
def f():
    from tramline.timeline import stamp as t
    return t(stamp(tick(1)))
=== alder/d.py
from tramline import timeline
from tramline.timeline import tick
print(timeline.stamp(tick(1)))
"""


def test_a_move_changes_where_a_thing_is_imported_from(tmp_path: Path) -> None:
    laid_out(tmp_path, MOVE)
    rule = Rule("m", summary="s", move="tramline.clock.stamp", to="tramline.timeline.stamp")
    applied(tmp_path, rule)
    assert now(tmp_path) == files_of(MOVED)
    for path in ("alder/a.py", "alder/b.py", "alder/c.py", "alder/d.py"):
        done = subprocess.run(
            [sys.executable, "-B", "-m", path[:-3].replace("/", ".")], cwd=tmp_path, check=False
        )
        assert done.returncode == 0, path


@pytest.mark.parametrize(
    ("wish", "reason"),
    [
        ({"rename": "park", "to": "store"}, "dotted name"),
        ({"rename": "a.park", "to": "class"}, "must be a name"),
        ({"rename": "a.park", "to": "park"}, "has that name already"),
        ({"rename": "a.park"}, "give it `to`"),
        ({"move": "a.park", "to": "b.store"}, "keeps its name"),
        ({"find": "f()", "to": "g"}, "`to` goes with"),
        ({"find": "f()", "rename": "a.b", "to": "g"}, "both `find` and `rename`"),
    ],
)
def test_a_wrong_wish_says_what_is_wrong(wish: dict[str, str], reason: str) -> None:
    with pytest.raises(RuleError, match=reason):
        Rule("r", summary="s", **wish)
