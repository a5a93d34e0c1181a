"""Renaming from an editor: in one file, in all of them, and refused with the reason."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.editor.test_session import after
from yellow_trellis.editor.positions import Position
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
    done = session.rename(str(file), Position(line, character), new)
    if isinstance(done, str):
        return done
    return {Path(p).name: after(Path(p).read_text("utf-8"), some) for p, some in done.items()}


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
    told = session.rename(str(folder / "fares.py"), Position(0, 4), "fare")
    assert told == "save user.py first: it may say `price`"
    where = session.place_to_rename(str(folder / "fares.py"), Position(0, 9))
    assert not isinstance(where, str) and where[1] == "price" and where[0].start == (0, 4)
