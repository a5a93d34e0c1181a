"""The packs that come with the library: their rules do what their examples say, together too."""

from __future__ import annotations

import shutil
import subprocess
from collections.abc import Callable, Iterable
from pathlib import Path

import pytest

from tests.cli.test_commands import bytes_of
from tests.conftest import Answer
from yellow_trellis.authoring.example_runner import code_of
from yellow_trellis.authoring.isolated_proof import proof_of
from yellow_trellis.languages import registry
from yellow_trellis.rules import Ruleset, load_rules
from yellow_trellis.rules.files.packs import PACKS


@pytest.mark.parametrize("pack", PACKS)
def test_each_rule_of_a_pack_does_what_its_examples_say(pack: str) -> None:
    rules = load_rules([pack])
    assert 5 <= len(rules) <= 10
    for rule in rules:
        proof = proof_of(rule)
        assert proof.verdicts
        assert not proof.failed, (rule.name, proof.failed)
        assert not rule.fixable or rule.function or any(e.becomes for e in rule.examples)


def test_all_packs_can_be_used_at_once() -> None:
    assert len(Ruleset.of(load_rules(list(PACKS))).rules) > 60


def _written(packs: Iterable[str], folder: Path) -> set[str]:
    """Write the examples of `packs` into files of their own; return the rules that must find."""
    results = set()
    folder.mkdir()
    for rule in load_rules(packs):
        suffix = registry.language(rule.language).suffixes[0]
        for number, example in enumerate(rule.examples):
            if not example.options and not example.stays:
                results.add(rule.name)
                file = folder / f"{rule.name.replace('-', '_')}_{number}{suffix}"
                file.write_text(code_of(example)[1], "utf-8")
    return results


def _places(survey: Answer) -> list[tuple[object, ...]]:
    keys = ("rule", "path", "start", "message", "fixes")
    return [tuple(item[key] for key in keys) for item in survey.json["findings"]]


@pytest.mark.parametrize("pack", PACKS)
def test_each_pack_finds_the_same_by_its_name_and_from_a_ruleset(
    pack: str, tmp_path: Path, ytr: Callable[..., Answer]
) -> None:
    rules = _written([pack], tmp_path / "lines")
    survey = ("survey", "--format", "json", "--fail-at", "note")
    cold = ytr(*survey, "--rules", pack)
    assert cold.status == 1 and not cold.json["problems"], cold.err
    assert {item["rule"] for item in cold.json["findings"]} >= rules
    (tmp_path / "set.toml").write_text(f'[ruleset]\nbuilds-on = ["{pack}"]\n')
    assert _places(ytr(*survey, "--rules", "set.toml")) == _places(cold)


@pytest.mark.skipif(shutil.which("git") is None, reason="needs git")
def test_all_packs_work_by_every_command(tmp_path: Path, ytr: Callable[..., Answer]) -> None:
    def git(*words: str) -> None:
        user = ("-c", "user.name=Ann", "-c", "user.email=ann@alder.example")
        subprocess.run(["git", *user, *words], cwd=tmp_path, check=True, capture_output=True)

    rules = _written(PACKS, tmp_path / "lines")
    packs = ", ".join(f'"{pack}"' for pack in PACKS)
    (tmp_path / "trellis.toml").write_text(f'rules = [{packs}]\npaths = ["lines"]\n')
    git("init", "-q")
    git("add", ".")
    cold, warm, whole = (
        ytr("survey", "--format", "json", "--fail-at", "note", *words)
        for words in ((), (), ("--no-cache",))
    )
    assert cold.status == 1 and not cold.json["problems"], cold.err
    assert {item["rule"] for item in cold.json["findings"]} >= rules
    assert _places(warm) == _places(whole) == _places(cold)
    assert ytr("hook", "run", "--fail-at", "note").status == 1
    git("commit", "-qm", "one")
    assert ytr("clashes", "--with-review", "--try").status == 0
    preview = ytr("preview", "--with-review", "--format", "json")
    assert preview.status == 0 and not preview.json["problems"], preview.err
    before = bytes_of(tmp_path / "lines")
    applied = ytr("apply", "--with-review")
    assert applied.status == 0 and bytes_of(tmp_path / "lines") != before, applied.err
    assert ytr("undo").status == 0
    assert bytes_of(tmp_path / "lines") == before
    assert ytr("baseline").status == 0
    accepted = ytr("survey", "--fail-at", "note", "--baseline", "trellis-baseline.json")
    assert accepted.status == 0, accepted.out
