"""Renaming from an editor: in one file, in all of them, and refused with the reason."""

from __future__ import annotations

import os
import random
import subprocess
import sys
from pathlib import Path

import pytest

from tests.editor.test_session import after
from yellow_trellis.editor.answers import WorkspaceChanges
from yellow_trellis.editor.file_moves import move_imports
from yellow_trellis.editor.positions import Position
from yellow_trellis.editor.renaming import rename
from yellow_trellis.editor.session import Session

FARES = "def price(zones):\n    cents = zones * 100\n    return cents\n\n\nprice(1)\n"
USER = "from fares import price as cost\nfrom fares import price\nprint(price(2), cost(3))\n"


@pytest.fixture
def folder(tmp_path: Path, home: Path) -> Path:
    (tmp_path / "trellis.toml").write_text("rules = []\n")
    (tmp_path / "fares.py").write_text(FARES)
    (tmp_path / "user.py").write_text(USER)
    return tmp_path


def renamed(folder: Path, name: str, line: int, character: int, new: str) -> dict[str, str] | str:
    """Open a file, rename what is there, and return the new texts by file."""
    session, file = Session(), folder / name
    session.open(str(file), file.read_text("utf-8"))
    return texts(rename(session, untold, str(file), Position(line, character), new), folder)


def untold(done: int, total: int) -> None:
    """Take no notice of progress."""


def texts(done: WorkspaceChanges | str, folder: Path) -> dict[str, str] | str:
    """Return the new texts by the path of the file in its folder, or the reason."""
    if isinstance(done, str):
        return done
    return {
        Path(path).relative_to(folder).as_posix(): after(Path(path).read_text("utf-8"), some)
        for path, some in done.changes.items()
    }


def test_a_local_name_in_its_file_and_one_of_the_module_in_all(folder: Path) -> None:
    assert renamed(folder, "fares.py", 1, 6, "sum_") == {"fares.py": FARES.replace("cents", "sum_")}
    fares, user = FARES.replace("price", "fare"), USER.replace("price", "fare")
    for place in (("fares.py", 0, 4), ("fares.py", 5, 5), ("user.py", 2, 7)):
        assert renamed(folder, *place, "fare") == {"fares.py": fares, "user.py": user}
    alias = renamed(folder, "user.py", 2, 18, "spent")
    assert alias == {"user.py": USER.replace("cost", "spent")}


def test_what_cannot_be_renamed_is_told(folder: Path) -> None:
    assert "there is no name here" in renamed(folder, "fares.py", 3, 0, "x")
    assert "zones" in renamed(folder, "fares.py", 1, 6, "zones")
    (folder / "fares.py").write_text(FARES + "fare = 1\n")
    assert "`fare`" in renamed(folder, "fares.py", 0, 4, "fare")
    (folder / "fares.py").write_text(FARES)
    session = Session()
    session.open(str(folder / "fares.py"), FARES)
    session.open(str(folder / "user.py"), USER + "price(4)\n")
    done = rename(session, untold, str(folder / "fares.py"), Position(0, 4), "fare")
    assert not isinstance(done, str)  # what is not saved is renamed as well
    user = after(USER + "price(4)\n", done.changes[str(folder / "user.py")])
    assert user == USER.replace("price", "fare") + "fare(4)\n"
    where = session.place_to_rename(str(folder / "fares.py"), Position(0, 9))
    assert not isinstance(where, str) and where[1] == "price" and where[0].start == (0, 4)


MODULES = {
    "trellis.toml": "rules = []\n",
    "trams/__init__.py": "from . import yard\nfrom .yard import park\n__all__ = ['yard']\n",
    "trams/yard.py": "from .fares import price\nfrom . import fares\ndef park(): return fares\n",
    "trams/fares.py": "import trams.yard\ndef price(): return trams.yard.park()\n",
    "trams/ride.py": "from trams import fares, yard\nyard.park(fares)\n",
    "trams/late.py": "from trams import yard as y\nimport trams.yard as z\ny.park(z)\n",
    "trams/all.py": "from trams.yard import *\nname = 'trams.yard.park'\n",
    "depot/__init__.py": "",
    "depot/gate.py": "import trams\ntrams.yard.park()\n",
}


def follow(folder: Path, *moves: tuple[str, str]) -> tuple[dict[str, str] | str, tuple[str, ...]]:
    """Move files of a folder; return the new texts, and what is told beside them."""
    pairs = tuple((str(folder / old), str(folder / new)) for old, new in moves)
    done = move_imports(Session(), untold, pairs)
    return texts(done, folder), () if isinstance(done, str) else done.notes


def written(folder: Path, modules: dict[str, str]) -> Path:
    """Write files below a folder."""
    for name, text in modules.items():
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_text(text, "utf-8")
    return folder


def test_imports_follow_a_module_that_is_renamed(tmp_path: Path, home: Path) -> None:
    folder = written(tmp_path, MODULES)
    changes, notes = follow(folder, ("trams/yard.py", "trams/shed.py"))
    assert changes == {
        "trams/__init__.py": MODULES["trams/__init__.py"]
        .replace("import yard", "import shed as yard")
        .replace(".yard", ".shed"),
        "trams/fares.py": MODULES["trams/fares.py"].replace("yard", "shed"),
        "trams/ride.py": "from trams import fares, shed\nshed.park(fares)\n",
        "trams/late.py": MODULES["trams/late.py"].replace("yard", "shed"),
        "trams/all.py": "from trams.shed import *\nname = 'trams.yard.park'\n",
    }
    (note,) = notes
    assert note.endswith("all.py:2:9: a text says `trams.yard`")
    told, _ = follow(folder, ("trams/yard.py", "trams/park.py"))
    assert isinstance(told, str) and "`trams` has a `park` already" in told
    told, _ = follow(folder, ("trams/yard.py", "trams/old-yard.py"))
    assert isinstance(told, str) and "cannot be imported" in told


def test_imports_follow_a_module_into_another_package(tmp_path: Path, home: Path) -> None:
    folder = written(tmp_path, MODULES)
    changes, _ = follow(folder, ("trams/yard.py", "depot/yard.py"))
    assert isinstance(changes, dict)
    assert changes["trams/__init__.py"].startswith("from depot import yard\nfrom depot.yard import")
    moved_file = "from trams.fares import price\nfrom trams import fares\ndef park(): return fares\n"
    assert changes["trams/yard.py"] == moved_file
    assert changes["trams/ride.py"] == (
        "from trams import fares\nfrom depot import yard\nyard.park(fares)\n"
    )
    assert changes["trams/fares.py"] == MODULES["trams/fares.py"].replace("trams", "depot")


FORMS = (
    "import {package}.{module}\nprint({package}.{module}.value())\n",
    "import {package}.{module} as other\nprint(other.value())\n",
    "from {package} import {module}\nprint({module}.value())\n",
    "from {package} import {module} as other\nprint(other.value())\n",
    "from {package}.{module} import value\nprint(value())\n",
    "from {package}.{module} import *\nprint(value())\n",
    "import {package}\nimport {package}.{module}\nprint({package}.name, {package}.{module}.value())\n",
    "from {package} import {module}, name\nprint({module}.value(), name)\n",
    "def run():\n    from {package} import {module}\n    return {module}.value()\nprint(run())\n",
    "from . import {module}\nprint({module}.value())\n",
    "from .{module} import value as {module}\nprint({module}())\n",
    "from . import name, {module}\nprint(name, {module}.value())\n",
    "from .. import {package}\nfrom ..{package} import {module}\nprint({module}.value())\n",
)
"""Ways to use a module of a package; those with dots from within it."""


def output(folder: Path, main: str) -> str:
    """Run a module of a folder; return what it prints, and how it ends."""
    done = subprocess.run(
        [sys.executable, "-Bm", main], cwd=folder, capture_output=True, text=True, timeout=60
    )
    return done.stdout + done.stderr[-200:]


@pytest.mark.parametrize("seed", range(int(os.environ.get("YTR_SHARE", "8"))))
def test_programs_do_the_same_after_a_move(tmp_path: Path, home: Path, seed: int) -> None:
    rng = random.Random(seed)
    texts = {"trellis.toml": "rules = []\n", "alder/__init__.py": ""}
    packages, modules = ["trams", "depot"], ["yard", "gate", "bell"]
    for package in packages:
        texts[f"alder/{package}/__init__.py"] = f"name = {package!r}\n" + rng.choice(
            ["", "from . import yard\n", "from .yard import value\n"]
        )
        for at, module in enumerate(modules):
            use = rng.choice(FORMS).format(package=f"alder.{package}", module=modules[0])
            use = use.replace("from .. import alder.", "from .. import ").replace("..alder.", "..")
            body = f"def value(): return {package!r}, {module!r}\n"
            texts[f"alder/{package}/{module}.py"] = body + (use if at else "")
    uses = rng.sample(FORMS[:9], 4)
    main = "".join(
        use.format(package=f"alder.{rng.choice(packages)}", module=rng.choice(modules)) for use in uses
    )
    texts["main.py"] = main
    folder = written(tmp_path, texts)
    old = f"alder/{rng.choice(packages)}/yard.py"
    new = rng.choice(["alder/trams/shed.py", "alder/depot/shed.py", "alder/shed.py", "shed.py"])
    if rng.random() < 0.4:
        old, new = "alder/depot", rng.choice(["alder/stables", "stables", "alder/trams/depot"])
    before = output(folder, "main")
    changes, notes = follow(folder, (old, new))
    if not isinstance(changes, dict) or notes:
        return  # refused, or told that there is more to do
    written(folder, changes)
    (folder / old).rename(folder / new)
    assert output(folder, "main") == before, (old, new, changes)


def test_imports_of_other_languages_follow_files_and_folders(tmp_path: Path, home: Path) -> None:
    texts = {
        "trellis.toml": "rules = []\n",
        "web/fares/ticket.ts": "import { zone } from '../zones.js';\nexport const a = zone;\n",
        "web/zones.ts": "export const zone = 1;\n",
        "web/app.js": "import { a } from './fares/ticket.js';\nexport * from \"./fares/ticket\";\n"
        "const b = require('./fares/ticket'), c = import('./zones');\nlog('./fares/ticket');\n",
    }
    changes, notes = follow(written(tmp_path, texts), ("web/fares", "shop/prices"))
    assert changes == {
        "web/fares/ticket.ts": texts["web/fares/ticket.ts"].replace("../", "../../web/"),
        "web/app.js": texts["web/app.js"].replace("./fares", "../shop/prices", 3),
    }
    assert [note.partition(": ")[2] for note in notes] == ["a text says `./fares/ticket`"]
