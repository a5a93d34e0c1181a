"""The scripts of the page about the library print what the page says."""

import contextlib
import io
import re
import shutil
from pathlib import Path

import pytest

from tests.conftest import DEMO

PAGE = (Path(__file__).parents[1] / "docs/library.md").read_text("utf-8")
SCRIPTS = re.findall(r"```python\n(.*?)```\n\n```text\n(.*?)```", PAGE, re.DOTALL)


@pytest.mark.parametrize(("script", "output"), SCRIPTS)
def test_a_script_prints_what_the_page_says(
    script: str, output: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("alder", "rules"):
        shutil.copytree(DEMO / name, tmp_path / name)
    monkeypatch.chdir(tmp_path)
    printed = io.StringIO()
    with contextlib.redirect_stdout(printed):
        # trellis: leave no-code-from-text because the scripts are those of our own page
        exec(compile(script, "library.md", "exec"), {"__name__": "page"})
    assert printed.getvalue() == output
