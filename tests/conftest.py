"""What all tests share: trees from text, rules from pairs, the real command."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

import pytest
from hypothesis import settings

from yellow_trellis import Rule, Ruleset, Tree
from yellow_trellis.languages import language
from yellow_trellis.plans import Rework, rework
from yellow_trellis.project.named_code import named_code
from yellow_trellis.project.settings import ConfigError, settings_for
from yellow_trellis.project.trust import set_trusted, trusted
from yellow_trellis.source import Source

# Each property is tried a hundred times; YTR_EXAMPLES=10000 is the long run.
settings.register_profile(
    "here", max_examples=int(os.environ.get("YTR_EXAMPLES", "100")), deadline=None
)
settings.load_profile("here")

DEMO = Path(__file__).parents[1] / "demo"


def tree_of(code: str | bytes, name: str = "python") -> Tree:
    """Parse `code`."""
    raw = code.encode() if isinstance(code, str) else code
    return Tree(Source.read(raw), language(name))


def rules_of(*pairs: tuple[str, str | None], **more: object) -> Ruleset:
    """Make declared rules `rule-0`, `rule-1`, ... of (find, put)."""
    return Ruleset.of(
        Rule(f"rule-{n}", summary=f"rule {n}", find=find, put=put, **more)
        for n, (find, put) in enumerate(pairs)
    )


def reworked(code: str, *pairs: tuple[str, str | None], name: str = "python", **more) -> Rework:
    """Apply rules to `code` until nothing is left."""
    ruleset = rules_of(*pairs, language=name, **more)
    return rework(tree_of(code, name), lambda tree: ruleset.look(tree)[0], with_review=True)


def text_of(done: Rework) -> str:
    """Return the text at the end of a rework."""
    return done.tree.source.data.decode()


class Answer:
    """What a command printed, and its exit status."""

    def __init__(self, done: subprocess.CompletedProcess[bytes]) -> None:
        self.status = done.returncode
        self.raw = done.stdout
        self.out = done.stdout.decode("utf-8", "replace")
        self.err = done.stderr.decode("utf-8", "replace")

    @property
    def json(self) -> dict:
        return json.loads(self.out)


@pytest.fixture
def home(tmp_path: Path, tmp_path_factory: pytest.TempPathFactory, monkeypatch) -> Path:
    """Give the user a configuration folder, in which the test's folder is trusted.

    What a test writes there later is trusted when it calls `ytr`: see `trust_again`.
    """
    home = tmp_path_factory.mktemp("home")
    monkeypatch.setenv("APPDATA" if os.name == "nt" else "XDG_CONFIG_HOME", str(home))
    set_trusted(tmp_path, {})
    return home


def trust_again(folder: Path) -> None:
    """Trust what the configuration of a folder names now, if the folder was trusted before."""
    for name in trusted():
        if folder.is_relative_to(name) or Path(name).is_relative_to(folder):
            with suppress(ConfigError, OSError):
                set_trusted(Path(name), named_code(settings_for(Path(name))))


def called(where: Path, *words: str, given: bytes = b"") -> Answer:
    """Run the real command in a folder."""
    colour = os.environ.get("FORCE_COLOR")
    done = subprocess.run(
        [sys.executable, "-P" if sys.version_info >= (3, 11) else "-E", "-c", _ENTRY, *words],
        cwd=where,
        input=given,
        capture_output=True,
        check=False,
        env={**os.environ, "COLUMNS": "100", "NO_COLOR": "" if colour else "1"},
    )
    answer = Answer(done)
    assert "Traceback" not in answer.err, answer.err
    return answer


@pytest.fixture
def ytr(tmp_path: Path, home: Path) -> Callable[..., Answer]:
    """Run the real command in the test's folder."""

    def call(*words: str, given: bytes = b"", where: Path = tmp_path) -> Answer:
        trust_again(where)
        return called(where, *words, given=given)

    return call


_ENTRY = "import sys; sys.argv[0] = 'ytr'; from yellow_trellis.cli import main; main()"


@pytest.fixture
def trams(tmp_path: Path) -> Path:
    """Return the test's folder with a copy of the demo in it."""
    shutil.copytree(DEMO, tmp_path, dirs_exist_ok=True)
    return tmp_path
