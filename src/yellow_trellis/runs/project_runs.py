"""A code base as scripts and notebooks use it: survey, preview, apply, undo."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from msgspec.structs import replace

from yellow_trellis.project.discovery import root_of
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import RulesLike
from yellow_trellis.runs.run_options import USUAL, RunOptions
from yellow_trellis.runs.runner import run
from yellow_trellis.runs.transaction.undo import UndoReport, undo
from yellow_trellis.runs.transaction.write import WriteReport, write_changes


class Project:
    """The files below one path, or below several of one root.

    Arguments: `paths` are files and folders. Nothing is read before a run.
    """

    def __init__(self, *paths: str | Path) -> None:
        self.paths = tuple(Path(path) for path in paths or (".",))

    def __repr__(self) -> str:
        return f"<Project {', '.join(map(str, self.paths))}>"

    def survey(self, rules: RulesLike, options: RunOptions = USUAL) -> Run:
        """Return the findings of `rules`, and the conflicts among their fixes.

        Arguments: `rules` are rules, paths, names of packs, or several of these.
        Errors: those of `run`.
        """
        return run(self.paths, rules, options)

    def preview(self, rules: RulesLike, options: RunOptions = USUAL) -> Run:
        """Return what `apply` would change, with the new text of each file; nothing is written.

        Arguments and errors: see `survey`.
        """
        return run(self.paths, rules, replace(options, mode="rework"))

    def apply(self, rules: RulesLike | Run, options: RunOptions = USUAL) -> WriteReport:
        """Apply the fixes of `rules`, or what a preview has shown, and write the files.

        A file that has changed since it was read is left alone. Whether work is committed is not
        looked at: that is for the caller.
        Arguments: see `survey`. Errors: those of `run` and `write_changes`.
        """
        done = rules if isinstance(rules, Run) else self.preview(rules, options)
        changes = done.changes
        names = sorted({rule for change in changes for hunk in change.hunks for rule in hunk.rules})
        return write_changes(changes, done.root, names)

    def undo(self, *, files: Iterable[str] = (), rules: Iterable[str] = ()) -> UndoReport | None:
        """Take back the last `apply` that is not undone, or a part of it; None if there is none.

        Errors: see `undo`.
        """
        return undo(root_of(self.paths), files=tuple(files), rules=tuple(rules))
