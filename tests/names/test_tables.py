"""Each line of the tables on renaming in docs/names.md, on a small code base of its own."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, load_rules, run
from yellow_trellis.plans.outcome import DOUBT

PAGE = (Path(__file__).parents[2] / "docs/names.md").read_text("utf-8")
CLOCK = "def stamp(zone=1):\n    return zone\n"
CARS = """class Car:
    zone = 1
    def go(self):
        return self
"""
DATA = "import dataclasses\n@dataclasses.dataclass\nclass Car:\n    zone: int = 1\n"

MODES = "import enum\nclass Mode(enum.Enum):\n    FAST = 1\n"

Case = tuple[str, str, str, dict[str, str]]

FOLLOWED: dict[str, tuple[Case, ...]] = {
    "the definition, references, imports of every kind, re-exports, `__all__`": (
        (
            "clock.stamp",
            "tick",
            "from clock import tick\nimport clock as c\n__all__ = ['tick']\ntick(c.tick())\n",
            {"use.py": "from clock import stamp\nimport clock as c\n__all__ = ['stamp']\nstamp(c.stamp())\n"},
        ),
        (
            "clock.stamp",
            "tick",
            "from clock import tick as tick\n",
            {"use.py": "from clock import stamp as stamp\n"},
        ),
        (
            "data.Car",
            "Tram",
            "from data import Tram\nimport night\nTram()\n",
            {
                "use.py": "from data import Car\nimport night\nCar()\n",
                "night.py": "class Car: ...\n__all__ = ['Car']\n",
            },
        ),
    ),
    "`from m import *`": (
        ("clock.stamp", "tick", "from clock import *\ntick()\n", {"use.py": "from clock import *\nstamp()\n"}),
    ),
    "a name that is taken where it is imported": (
        (
            "clock.stamp",
            "tick",
            "from clock import tick as stamp\ntick = stamp()\n",
            {"use.py": "from clock import stamp\ntick = stamp()\n"},
        ),
    ),
    "a fallback, `except ImportError: def stamp()`": (
        (
            "clock.stamp",
            "tick",
            "try:\n    from clock import tick as stamp\nexcept ImportError:\n    def stamp(): ...\nstamp()\n",
            {"use.py": "try:\n    from clock import stamp\nexcept ImportError:\n    def stamp(): ...\nstamp()\n"},
        ),
    ),
    "a member": (
        (
            "cars.Car.go",
            "run",
            "import cars\nBase = cars.Car\nclass Night(Base):\n    def run(self):\n"
            "        type(self).run(self), self.__class__.run(self)\n        return super().run()\n",
            {
                "use.py": "import cars\nBase = cars.Car\nclass Night(Base):\n    def go(self):\n"
                "        type(self).go(self), self.__class__.go(self)\n        return super().go()\n"
            },
        ),
        (
            "cars.Car.go",
            "run",
            "from names import Tram\nclass Night(Tram):\n    def run(self): ...\n",
            {
                "names.py": "from cars import Car as Tram\n",
                "use.py": "from names import Tram\nclass Night(Tram):\n    def go(self): ...\n",
            },
        ),
    ),
    "an attribute of a class or instance, set in methods or from outside": (
        (
            "cars.Car.zone",
            "area",
            "from cars import Car\ncar = Car()\ncar.area = 2\nCar.area\n",
            {"use.py": "from cars import Car\ncar = Car()\ncar.zone = 2\nCar.zone\n"},
        ),
        (
            "use.Tram.speed",
            "rate",
            "class Tram:\n    rate: int\n    def __new__(cls):\n        tram = super().__new__(cls)\n"
            "        tram.rate = 1\n        return tram\nTram().rate\n",
            {
                "use.py": "class Tram:\n    speed: int\n    def __new__(cls):\n"
                "        tram = super().__new__(cls)\n        tram.speed = 1\n"
                "        return tram\nTram().speed\n"
            },
        ),
    ),
    "a field of a data class, `NamedTuple` or the like": (
        (
            "data.Car.zone",
            "area",
            "from data import *\nimport dataclasses\ncar = dataclasses.replace(Car(area=1), area=2)\n"
            "match car:\n    case Car(area=seen): ...\n",
            {
                "use.py": "from data import *\nimport dataclasses\n"
                "car = dataclasses.replace(Car(zone=1), zone=2)\n"
                "match car:\n    case Car(zone=seen): ...\n"
            },
        ),
    ),
    "an argument, `alder.clock.stamp(zone)`": (
        (
            "clock.stamp(zone)",
            "area",
            "from functools import partial\nfrom clock import stamp\n"
            "stamp(area=1), partial(stamp, area=2)\nring = partial(partial(stamp), area=3)\nring(area=4)\n",
            {
                "use.py": "from functools import partial\nfrom clock import stamp\n"
                "stamp(zone=1), partial(stamp, zone=2)\nring = partial(partial(stamp), zone=3)\nring(zone=4)\n"
            },
        ),
        (
            "use.f(zone)",
            "area",
            "def f(area, /, **more): return more\nf(1, zone=2)\n",
            {"use.py": "def f(zone, /, **more): return more\nf(1, zone=2)\n"},
        ),
    ),
    'keywords in `**{"zone": 1}` and `**dict(zone=1)`, and those of a function that hands all that it '
    "takes to one other, `def ring(**given): stamp(**given)`": (
        (
            "clock.stamp(zone)",
            "area",
            "from clock import stamp\nstamp(**{'area': 1}), stamp(**dict(area=2))\n"
            "def ring(**given): return stamp(**given)\ndef far(**given): ring(**given)\nfar(area=3)\n",
            {
                "use.py": "from clock import stamp\nstamp(**{'zone': 1}), stamp(**dict(zone=2))\n"
                "def ring(**given): return stamp(**given)\ndef far(**given): ring(**given)\nfar(zone=3)\n"
            },
        ),
    ),
    "a text that asks something known for it": (
        (
            "cars.Car.zone",
            "area",
            "from cars import Car\ngetattr(Car(), 'area'), setattr(Car, \"area\", 2)\n",
            {"use.py": "from cars import Car\ngetattr(Car(), 'zone'), setattr(Car, \"zone\", 2)\n"},
        ),
        (
            "clock.stamp",
            "tick",
            "import clock\nfrom unittest.mock import patch\npatch('clock.tick'), patch.object(clock, 'tick')\n",
            {
                "use.py": "import clock\nfrom unittest.mock import patch\n"
                "patch('clock.stamp'), patch.object(clock, 'stamp')\n"
            },
        ),
        (
            "modes.Mode.FAST",
            "QUICK",
            "import modes\nmodes.Mode['QUICK'], modes.Mode.QUICK\n",
            {"modes.py": MODES, "use.py": "import modes\nmodes.Mode['FAST'], modes.Mode.FAST\n"},
        ),
    ),
    "names in quoted annotations, `__slots__`, `__match_args__`, dotted names in `case`": (
        (
            "use.Tram.speed",
            "rate",
            "class Tram:\n    __slots__ = {'rate': 'in km/h'}\n    def __init__(self): self.rate = 1\n",
            {
                "use.py": "class Tram:\n    __slots__ = {'speed': 'in km/h'}\n"
                "    def __init__(self): self.speed = 1\n"
            },
        ),
        (
            "cars.Car",
            "Tram",
            "import cars\ndef f(x: 'cars.Tram'):\n    match x:\n        case cars.Tram(): ...\n",
            {"use.py": "import cars\ndef f(x: 'cars.Car'):\n    match x:\n        case cars.Car(): ...\n"},
        ),
    ),
}

REFUSED: dict[str, tuple[tuple[str, str, str | dict[str, str], str], ...]] = {
    "the new name is taken in a class of the line, in the module, or between": (
        ("cars.Car.go", "run", "import cars\nclass Night(cars.Car):\n    def run(self): ...\n", "is there already"),
        ("data.Car", "dataclasses", "", "`dataclasses` is taken"),
    ),
    '`f"{car.zone=}"`': (
        ("cars.Car.zone", "area", "from cars import Car\nprint(f'{Car.zone=}')\n", "shows the name"),
    ),
    "names with two leading underscores": (
        ("cars.Car.go", "__go", "", "two underscores"),
    ),
    "a base class from outside of the code base": (
        ("use.Far.park", "stay", "import far\nclass Far(far.Base):\n    def park(self): ...\n", "not of this code base"),
    ),
    "a setting or entry point that names it": (
        (
            "clock.stamp",
            "tick",
            {"pyproject.toml": '[project.scripts]\nstamp = "clock:stamp"\n'},
            "pyproject.toml:2 names `clock:stamp`",
        ),
        (
            "cars.Car",
            "Tram",
            {"face.py": "from cars import Car\n", "log.yaml": "class: face.Car\n"},
            "log.yaml:1 names `face.Car`",
        ),
    ),
    "a name that hides a module of its package": (
        (
            "face.ring.ring",
            "peal",
            {"face/__init__.py": "from .ring import ring\n", "face/ring.py": "def ring(): ...\n"},
            "`face.ring` is a module as well",
        ),
    ),
    "a module": (("clock", "watch", "", "by its dotted name"),),
    "a use that does not parse, or that a comment leaves alone": (
        ("clock.stamp", "tick", "from clock import stamp\nx = = stamp(\n", "does not parse"),
        (
            "clock.stamp",
            "tick",
            "from clock import stamp  # trellis: leave rename-it because the old exchange reads it\n",
            "left alone",
        ),
    ),
}

SHOWN: dict[str, tuple[tuple[str, str, str], ...]] = {
    "a receiver that is not known": (("cars.Car.zone", "area", "def f(car): return car.zone\n"),),
    "a member of a class with a base that is not known": (
        ("cars.Car.go", "run", "from far import made\nclass Night(made()):\n    def go(self): ...\n"),
        ("cars.Car.go", "run", "import cars\nNight = type('Night', (cars.Car,), {'go': len})\n"),
    ),
    "a call that is not known, by keyword": (("clock.stamp(zone)", "area", "def f(make): make(zone=1)\n"),),
    "keywords out of a mapping": (
        ("clock.stamp(zone)", "area", "from clock import stamp\ndef f(): stamp(**{'zone': 1, **far()})\n"),
        (
            *("clock.stamp(zone)", "area"),
            "from clock import stamp\ndef f(**given):\n    print(given)\n    stamp(**given)\nf(zone=1)\n",
        ),
        (
            *("clock.stamp(zone)", "area"),
            "from clock import stamp\ndef f(area=2, **given):\n    stamp(**given)\nf(zone=1)\n",
        ),
        ("clock.stamp(zone)", "area", "from clock import stamp\ndef f(given): stamp(**given)\n"),
    ),
    "a string that asks for a name": (
        ("cars.Car.zone", "area", "def f(car): return getattr(car, 'zone')\n"),
        ("cars.Car.zone", "area", "from cars import Car\nkey = 'zone'\ngetattr(Car(), key)\n"),
        ("cars.Car.zone", "area", "def f(car, key='zone'): return getattr(car, key)\n"),
        ("clock.stamp", "tick", "globals()['stamp']\n"),
        ("clock.stamp", "tick", "def __getattr__(name): return {'stamp': 'clock'}[name]\n"),
        ("clock.stamp", "tick", "HOME = 'clock'\ndef f(patch): patch(HOME + '.stamp')\n"),
    ),
    "a name that is put together": (
        ("cars.Car.zone", "area", "from cars import Car\ndef f(end): return getattr(Car(), 'zo' + end)\n"),
        ("cars.Car.zone", "area", "def f(car, end): return getattr(car, f'zo{end}')\n"),
        ("clock.stamp", "tick", "import clock\ndef f(end): return vars(clock)['st%s' % end]\n"),
    ),
    "names that the program lists": (
        ("cars.Car.zone", "area", "from cars import Car\nvars(Car())\n"),
        ("cars.Car.zone", "area", "def f(car, given): car.__dict__.update(given)\n"),
        ("data.Car.zone", "area", "import dataclasses, data\ndataclasses.asdict(data.Car())\n"),
        ("clock.stamp", "tick", "import clock\nclock.stamp.__name__\n"),
        ("clock.stamp", "tick", "import clock\ndir(clock)\n"),
        ("use.Mode.FAST", "QUICK", MODES + "def f(name): return Mode[name]\n"),
        ("use.Mode.FAST", "QUICK", MODES + "print(Mode.FAST)\n"),
    ),
    "a format, or code in a string": (
        ("cars.Car.zone", "area", "'{car.zone}'.format(car=1)\n"),
        ("cars.Car.zone", "area", "def f(car): return '%(zone)s' % vars(car)\n"),
        ("clock.stamp", "tick", "exec('import clock; clock.stamp()')\n"),
    ),
    "a stand-in, or what hands on what it lacks": (
        ("cars.Car.zone", "area", "from types import SimpleNamespace\nSimpleNamespace(zone=1)\n"),
        ("cars.Car.zone", "area", "from unittest.mock import Mock\nMock().zone\n"),
        ("cars.Car.go", "run", "import cars, unittest\nclass Still:\n    def go(self): ...\n"),
        (
            "cars.Car.go",
            "run",
            "import cars\nclass Shell:\n    def __getattr__(self, name): return name\nShell().go\n",
        ),
        ("clock.stamp", "tick", "from importlib import import_module\nimport_module('clock').stamp()\n"),
    ),
    "what a decorator or a test runner finds by its name": (
        ("use.tell", "say", "import far\n@far.command\ndef tell(): ...\n"),
        ("use.tell(zone)", "area", "import far\n@far.option('--zone')\ndef tell(zone): ...\n"),
        ("use.line", "track", "from pytest import fixture as f\n@f()\ndef line(): ...\n"),
        ("use.test_line(line)", "track", "import pytest\ndef test_line(line): ...\n"),
        ("use.test_line", "check_line", "import pytest\ndef test_line(): ...\n"),
    ),
    "a star import that binds the name anew, or brings the new one": (
        ("clock.stamp", "tick", "stamp = 1\nfrom clock import *\n"),
        ("clock.stamp", "tick", "from clock import *\nstamp()\ndef stamp(): ...\n"),
    ),
    "an example in a string": (
        ("clock.stamp", "tick", "def f():\n    '''\n    >>> stamp()\n    '''\n"),
    ),
}


def rows_of(head: str) -> list[str]:
    """Return the first cells of the table of the page that starts with `head`."""
    table = PAGE[PAGE.index(f"| {head}") :].partition("\n\n")[0].splitlines()[2:]
    return [re.match(r"\| (.+?) \|", line)[1] for line in table]


def test_the_tables_are_those_that_are_tried() -> None:
    assert rows_of("followed | how") == list(FOLLOWED)
    assert rows_of("refused | because") == list(REFUSED)
    assert rows_of("shown, and") == list(SHOWN)


def renamed(root: Path, files: dict[str, str], old: str, new: str, review: bool = False):
    for name, text in {"clock.py": CLOCK, "cars.py": CARS, "data.py": DATA, **files}.items():
        (root / name).parent.mkdir(exist_ok=True)
        (root / name).write_text(text, "utf-8")
    rule = Rule("rename-it", summary="s", rename=old, to=new)
    return run([root], Ruleset.of([rule]), RunOptions(mode="rework", with_review=review, workers=1))


@pytest.mark.parametrize("row", FOLLOWED)
def test_what_is_followed(row: str, tmp_path: Path) -> None:
    for old, new, wanted, files in FOLLOWED[row]:
        done = renamed(tmp_path, files, old, new)
        texts = {Path(r.path).name: r.change.raw.decode() for r in done.changed if r.change}
        assert texts["use.py"] == wanted, [f.reason for r in done.reports for f in r.fates]


@pytest.mark.parametrize("row", REFUSED)
def test_what_is_refused(row: str, tmp_path: Path) -> None:
    for old, new, code, reason in REFUSED[row]:
        try:
            files = code if isinstance(code, dict) else {"use.py": code}
            done = renamed(tmp_path, files, old, new, review=True)
        except RuleError as wrong:
            assert reason in str(wrong)
            continue
        assert not done.changed
        told = [fate.reason for report in done.reports for fate in report.fates]
        assert any(reason in one for one in told), told


@pytest.mark.parametrize("row", SHOWN)
def test_what_is_shown_and_stops(row: str, tmp_path: Path) -> None:
    for old, new, code in SHOWN[row]:
        done = renamed(tmp_path, {"use.py": code}, old, new)
        fates = [(r.path, fate) for r in done.reports for fate in r.fates]
        assert not done.changed, code
        assert {path for path, fate in fates if fate.reason == DOUBT} == {str(tmp_path / "use.py")}
        assert renamed(tmp_path, {"use.py": code}, old, new, review=True).changed


STAYS = {
    "it is the only one to load what is used": {
        "alder/__init__.py": "from .fares import limit\n",
        "alder/clock.py": "def ring(): ...\n",
        "alder/fares.py": "from .clock import ring as again\nimport alder\nlimit = alder.clock.ring\n",
    },
    "what loads it too waits for this module": {
        "alder/__init__.py": "from .fares import limit\nimport tool\nprint(limit, tool)\n",
        "alder/clock.py": "def ring(): ...\n",
        "alder/fares.py": "from .clock import ring as again\nimport alder\nlimit = alder.clock.ring\n",
        "tool.py": "from alder.clock import ring\nring()\n",
    },
    "another module needs it while it is loaded": {
        "alder/__init__.py": "import alder\nfrom .fares import limit\nclass Night(alder.clock.Car): ...\n",
        "alder/clock.py": "class Car: ...\n",
        "alder/fares.py": "import alder\nimport alder.clock as again\nlimit = alder.clock.Car\n",
    },
}


@pytest.mark.parametrize("why", STAYS)
def test_an_import_stays_for_what_it_loads(why: str, tmp_path: Path) -> None:
    for name, text in STAYS[why].items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text, "utf-8")
    rules = Ruleset.of(load_rules(["python-names"])).only(["idle-import"])
    assert not run([tmp_path], rules, RunOptions(mode="rework", with_review=True, workers=1)).findings


def test_a_new_name_does_not_get_through_a_star_where_another_has_it(tmp_path: Path) -> None:
    files = {
        "new.py": "def tick(): ...\n",
        "yard.py": "from clock import stamp\nstamp()\n",
        "clock.py": CLOCK,
        "lines.py": "def tick(): ...\n",
        "use.py": "from lines import tick\nfrom yard import *\ntick()\n",
    }
    for name, text in files.items():
        (tmp_path / name).write_text(text, "utf-8")
    rule = Rule("again", summary="s", find="@<clock.stamp>(@{a*})", put="@<new.tick>(@{a*})")
    done = run([tmp_path], Ruleset.of([rule]), RunOptions(mode="rework", workers=1))
    texts = {Path(r.path).name: r.change.raw.decode() for r in done.changed if r.change}
    assert texts == {"yard.py": "from clock import stamp\nfrom new import tick as new_tick\nnew_tick()\n"}
