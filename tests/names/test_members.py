"""Members put by meaning, and generic types in annotations."""

from __future__ import annotations

from pathlib import Path

import pytest

from yellow_trellis import Rule, Ruleset, RunOptions, run

APP = """class Tram:
    def get_speed(self): ...
    speed = 1
class Car:
    def go(self): ...
"""


def put(root: Path, code: str, find: str, template: str) -> tuple[str, list[str]]:
    (root / "app.py").write_text(APP, "utf-8")
    (root / "use.py").write_text(code, "utf-8")
    rule = Rule("r", summary="s", find=find, put=template)
    done = run([root], Ruleset.of([rule]), RunOptions(mode="rework", workers=1))
    report = next(r for r in done.reports if r.path.endswith("use.py"))
    text = report.change.raw.decode() if report.change else code
    return text, [fate.reason for fate in report.fates if fate.state == "refused"]


def test_a_member_is_asked_of_the_same_instance(tmp_path: Path) -> None:
    code = "from app import Tram\nclass Night(Tram):\n    def f(self, t: Tram):\n"
    old = "        return t.get_speed(), Tram().get_speed(), super().get_speed()\n"
    text, refused = put(tmp_path, code + old, "@<app.Tram.get_speed>()", "@<app.Tram.speed>")
    assert text == code + "        return t.speed, Tram().speed, super().speed\n" and not refused


def test_a_receiver_is_not_dropped(tmp_path: Path) -> None:
    code = "from app import Tram\ndef f(t: Tram): return t.get_speed()\n"
    text, refused = put(tmp_path, code, "@<app.Tram.get_speed>()", "@<app.Car.go>()")
    assert text == code
    assert refused == ["`app.Car.go` is no member of `t`, of which `t.get_speed` is asked"]


@pytest.mark.parametrize(
    ("code", "wanted"),
    [
        ("def f(a: Optional[int] = None): ...\n", "def f(a: int | None = None): ...\n"),
        ("a: list[Optional[int]]\n", "a: list[int | None]\n"),
        ("a = Optional[int]\n", "a = int | None\n"),
    ],
)
def test_generic_types_match_wherever_they_stand(code: str, wanted: str, tmp_path: Path) -> None:
    head = "from typing import Optional\n"
    text, _ = put(tmp_path, head + code, "@<typing.Optional>[@{x}]", "@{x} | None")
    assert text == wanted


@pytest.mark.parametrize("code", ["import app\napp.Tram()\n", "from app import Tram\nTram()\n"])
def test_a_name_that_the_module_lacks_is_not_written(code: str, tmp_path: Path) -> None:
    text, refused = put(tmp_path, code, "@<app.Tram>()", "@<app.Tramway>()")
    assert text == code
    assert refused == ["`app` has no `Tramway`: did you mean `Tram`?"]
