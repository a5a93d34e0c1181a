"""What is kept from run to run is believed in its own place, by its own user, in its own form."""

import sqlite3
from pathlib import Path

import pytest
from msgspec import Struct

from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.table import Table


class Tram(Struct):
    line: int
    name: str = ""


def test_values_are_kept_by_key_and_part(tmp_path: Path) -> None:
    table = Table(Store(tmp_path), "trams", Tram)
    assert not table.exists and table.get("a") is None and table.all() == {}
    table.put({"a": Tram(1, "ä🚋"), "b": Tram(2)})
    table.put({"b": Tram(3)})
    again = Table(Store(tmp_path), "trams", Tram)
    assert again.exists and again.all() == {"a": Tram(1, "ä🚋"), "b": Tram(3)}
    assert again.get("b") == Tram(3)
    assert Table(Store(tmp_path), "lines", Tram).all() == {}
    for number in range(5):
        Table(Store(tmp_path), "runs", Tram, f"run {number}", most=2).put({"x": Tram(number)})
    store = Store(tmp_path)
    assert (store.parts("runs"), store.count("runs"), store.count("trams")) == (2, 2, 2)
    assert Table(store, "runs", Tram, "run 4").get("x") == Tram(4)
    assert Table(store, "runs", Tram, "run 1").get("x") is None


@pytest.mark.parametrize(
    "change",
    [
        "update entries set key = 'c' where key = 'a'",
        "update entries set part = 'other'",
        "update entries set body = (select body from entries where key = 'b') where key = 'a'",
        "update entries set body = x'92', seal = 0 where key = 'a'",
    ],
)
def test_a_row_in_another_place_is_not_believed(tmp_path: Path, change: str) -> None:
    Table(Store(tmp_path), "trams", Tram).put({"a": Tram(1), "b": Tram(2)})
    with sqlite3.connect(Store(tmp_path).path) as database:
        database.execute(change)
    database.close()
    part = "other" if "part" in change else ""
    store = Store(tmp_path)
    assert Table(store, "trams", Tram, part).all() == {} and store.damaged
    Table(Store(tmp_path), "trams", Tram).put({"a": Tram(5)})
    assert Table(Store(tmp_path), "trams", Tram).all() == {"a": Tram(5)}


def test_values_of_another_form_are_thrown_away(tmp_path: Path) -> None:
    Table(Store(tmp_path), "trams", int).put({"a": 5})
    store = Store(tmp_path)
    assert Table(store, "trams", Tram).get("a") is None and store.damaged
