"""Applying rule by rule, with a commit of version control for each that changes code."""

from __future__ import annotations

import sys

from yellow_trellis.cli.console import RULE, console, counted, tell_problems
from yellow_trellis.cli.exit_codes import UNHANDLED
from yellow_trellis.cli.options import LookOptions
from yellow_trellis.cli.output import styled
from yellow_trellis.cli.reworking import rework_shown
from yellow_trellis.project.discovery import root_of
from yellow_trellis.project.git import RevisionError, Repository
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.report_types import Problem, certain
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.transaction.write import write_changes

_MOST_TURNS = 5
"""How often all rules take their turn: what one writes may be found by one before it."""


def apply_and_commit(
    paths: tuple[str, ...],
    spec: RulesSpec,
    look: LookOptions,
    with_review: bool,
    with_accepted: bool,
    author: str | None = None,
) -> None:
    """Apply each rule alone, in their order, and commit what it changed; exit with its status.

    Arguments: `author` is who the commits are by, ``Name <address>``; whom git knows if left out.
    Errors: `RevisionError`, where there is no repository, where the working tree has changes, or
    where git refuses a commit: then what the last rule wrote is there and not committed.
    """
    out = console()
    root = root_of(paths)
    repository = Repository.around(root)
    if repository is None:
        raise RevisionError(f"{root}: this is in no git repository: leave out --commit")
    if changed := repository.ask("status", "--porcelain", "-uno").decode("utf-8", "replace"):
        name = changed.splitlines()[0][3:]
        raise RevisionError(
            f"{name}: it has uncommitted changes, and --commit wants a clean working tree: commit "
            "them or set them aside first"
        )
    problems: list[Problem] = []
    commits = 0
    for turn in range(_MOST_TURNS):
        before = commits
        for rule in spec.ruleset():
            alone = spec._replace(only=(rule.name,))
            result, _ = rework_shown(
                paths,
                alone,
                look,
                with_review=with_review,
                with_accepted=with_accepted,
                tells=not turn,
            )
            problems += result.problems
            changes = result.changes
            if not changes:
                continue
            uncommitted = set(repository.uncommitted(c.path for c in changes))
            problems += [
                Problem(path, f"it has uncommitted changes: {rule.name} leaves it alone")
                for path in sorted(uncommitted)
            ]
            report = write_changes(
                [c for c in changes if c.path not in uncommitted],
                result.root,
                [rule.name],
                look.commands(),
            )
            problems += [Problem(path, reason) for path, reason in report.left]
            if report.written:
                name = repository.commit(
                    report.written, _message(rule, len(report.written), turn), author
                )
                message = f"  {name}  {counted(len(report.written), 'file')}"
                out.print(styled((rule.name, RULE), message))
                commits += 1
        if commits == before:
            break
    if commits:
        out.print(f"Made {counted(commits, 'commit')}. `git revert COMMIT` takes one back.")
    else:
        out.print("Nothing to apply.")
    problems = list(dict.fromkeys(problems))
    tell_problems(problems)
    if certain(problems):
        sys.exit(UNHANDLED)


def _message(rule: RuleDefinition, files: int, turn: int) -> str:
    title = rule.summary.rstrip(".") or rule.name
    if turn:
        title += f", turn {turn + 1}"
    return f"{title}\n\nMade by the rule {rule.name} in {counted(files, 'file')}."
