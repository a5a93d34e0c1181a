"""A function that some code replaces as it runs is no longer what its name says: no fix goes by it."""

from pathlib import Path

import pytest

RULE = """
[[rule]]
name = "new-stamp"
summary = "stamp() is now()"
find = "@<tram.clock.stamp>(@{x})"
put = "@<tram.clock.now>(@{x})"
"""
USE = "from tram.clock import stamp\nstamp(1)\n"


@pytest.fixture
def depot(tmp_path: Path) -> Path:
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\n')
    (tmp_path / "rules.toml").write_text(RULE)
    (tmp_path / "tram").mkdir()
    (tmp_path / "tram/__init__.py").touch()
    (tmp_path / "tram/clock.py").write_text("def stamp(x): ...\ndef now(x): ...\n")
    (tmp_path / "use.py").write_text(USE)
    return tmp_path


@pytest.mark.parametrize(
    "code",
    [
        "import tram.clock\ntram.clock.stamp = print\n",
        "from tram import clock as c\ndef start():\n    c.stamp = print\n",
        "from tram import clock\ndel clock.stamp\n",
        "import tram.clock\nsetattr(tram.clock, 'stamp', print)\n",
        "def start():\n    import tram.clock as c\n    c.other, c.stamp = 1, print\n",
        "import tram.clock\nfor tram.clock.stamp in [print]: pass\n",
    ],
)
def test_a_name_that_another_file_patches_is_left_alone_and_told(ytr, depot: Path, code) -> None:
    (depot / "setup_clock.py").write_text(code)
    for _ in range(2):  # the second time from the cache
        shown = ytr("preview", depot).out
        assert "`tram.clock.stamp` is patched: the module `setup_clock` gives it" in shown
        assert "1 refused" in shown
    (depot / "setup_clock.py").write_text("import tram.clock\ntram.clock.other = 1\n")
    assert "1 applied" in ytr("preview", depot).out
    assert (depot / "use.py").read_bytes() == USE.encode()


def test_tests_patch_for_themselves_only(ytr, depot: Path) -> None:
    (depot / "tests").mkdir()
    patching = "import tram.clock\ntram.clock.stamp = print\ntram.clock.stamp(2)\n"
    (depot / "tests/test_clock.py").write_text(patching)
    (depot / "tests/helper.py").write_text("import tram.clock\ntram.clock.stamp = print\n")
    shown = ytr("preview", depot).out
    assert "1 applied, 1 refused" in shown
    assert "`tram.clock.stamp` is patched: 2:1 gives it another value" in shown
