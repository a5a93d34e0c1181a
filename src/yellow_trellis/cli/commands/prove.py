"""`ytr prove`: the examples of the rules, run."""

from __future__ import annotations

import sys

from yellow_trellis.authoring.example_runner import Verdict, differences
from yellow_trellis.authoring.isolated_proof import RuleProof, proof_of
from yellow_trellis.cli.arguments import Takes, flag
from yellow_trellis.cli.console import ASK, BAD, DIM, GOOD, RULE, console, counted, listed
from yellow_trellis.cli.exit_codes import FOUND
from yellow_trellis.cli.options import RULES, RuleChoice, format_option
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.visible_text import visible


EXAMPLE = "ytr prove --rules rules/ --complete"
TAKES: Takes = (
    RULES,
    flag(
        "--complete",
        help="Exit with 1 also when a rule has no examples, or none touches some part of it.",
    ),
    format_option("text", "json"),
)


def command(choice: RuleChoice, complete: bool, form: str) -> None:
    """Run the examples of the rules: each must become what it says, or stay.

    What an example becomes is held to the laws of fixes too: it does not change once more, it
    compiles, no comment is lost. Exits with 1 when an example fails. Rules without examples are
    named, and conditions and lines of rules that no example touches, and rules that are to win over
    others which are not there.
    """
    ruleset = choice.spec().ruleset()
    proofs = {rule.name: proof_of(rule) for rule in ruleset.own_rules}
    if form == "json":
        write(_as_json(proofs, ruleset.unknown_losers()))
    else:
        out = console()
        show_proofs(out, proofs)
        for name, losers in ruleset.unknown_losers().items():
            message = f"{name} wins over {listed(losers)}, and no rule here is called that"
            out.print(styled(visible(message), style=ASK))
    lacking = any(not proof.verdicts or proof.untouched for proof in proofs.values())
    if any(proof.failed for proof in proofs.values()) or (complete and lacking):
        sys.exit(FOUND)


def show_proofs(out: Output, proofs: dict[str, RuleProof]) -> None:
    """Print what came of the examples of rules, and what none of them touches."""
    width = max(map(len, proofs), default=0)
    for name, proof in proofs.items():
        examples = counted(len(proof.verdicts), "example")
        if not proof.verdicts:
            message, style = "no examples", DIM
        elif proof.failed:
            message, style = f"{len(proof.failed)} of {examples} failed", BAD
        else:
            message, style = f"{examples} held", GOOD
        out.print(styled((f"  {name:<{width}}", RULE), "  ", (message, style)))
        for verdict in proof.failed:
            _show_failure(out, verdict)
        for part in proof.untouched:
            out.print(styled(f"    {visible(part)}", style=ASK))
    failed = sum(len(proof.failed) for proof in proofs.values())
    total = sum(len(proof.verdicts) for proof in proofs.values())
    if failed:
        out.print(styled(f"{failed} of {counted(total, 'example')} failed.", style=BAD))
    else:
        out.print(f"All {counted(total, 'example')} held.")
    bare = [name for name, proof in proofs.items() if not proof.verdicts]
    if bare:
        out.print(styled(f"Without examples: {listed(bare)}.", style=DIM))


def _show_failure(out: Output, verdict: Verdict) -> None:
    out.print(styled(f"    example {verdict.number}: {visible(verdict.reason)}", style=BAD))
    if not verdict.wanted:
        for line in verdict.example.code.strip("\n").splitlines():
            out.print(f"        {visible(line)}")
        return
    for sign, line in differences(verdict):
        style = {"wanted": GOOD, "got": BAD}.get(sign, "")
        out.print(styled(f"        {sign:<6} {visible(line)}", style=style))


def _as_json(proofs: dict[str, RuleProof], unknown: dict[str, tuple[str, ...]]) -> str:
    return dumped(
        {
            "version": VERSION,
            "rules": [
                {
                    "rule": name,
                    "examples": [
                        {
                            "number": v.number,
                            "passed": v.passed,
                            "reason": v.reason,
                            "wanted": v.wanted,
                            "got": v.got,
                        }
                        for v in proof.verdicts
                    ],
                    "untouched": proof.untouched,
                    "unknown_losers": list(unknown.get(name, ())),
                }
                for name, proof in proofs.items()
            ],
        }
    )
