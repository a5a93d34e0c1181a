"""The packs that come with the library: their rules do what their examples say, together too."""

from __future__ import annotations

import pytest

from yellow_trellis.authoring.isolated_proof import proof_of
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
