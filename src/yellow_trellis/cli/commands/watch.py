"""`ytr watch`: findings while files change, and a bench for who writes a rule."""

from __future__ import annotations

import hashlib
import os
import signal
import threading
import time
from collections.abc import Iterable
from pathlib import Path

from msgspec import Struct, field

from yellow_trellis.cli.arguments import Takes, file_there, flag, option
from yellow_trellis.cli.console import DIM, console, counted, listed, shown_path
from yellow_trellis.cli.options import (
    LOOK,
    PATHS,
    RULES,
    RuleChoice,
    LookOptions,
    configured_here,
    settings_here,
)
from yellow_trellis.cli.output import Output, styled
from yellow_trellis.errors import TrellisError
from yellow_trellis.project.discovery import why_skipped
from yellow_trellis.project.locate import OWN, SHARED

EXAMPLE = "ytr watch    ytr watch --fix    ytr watch --rule rules/clock.toml alder"
TAKES: Takes = (
    PATHS,
    RULES,
    flag("--fix", help="Apply what may be fixed unasked to each file that changes."),
    option(
        "--rule",
        metavar="FILE",
        type=file_there,
        help="Show matches, examples and diff of the rules in a file each time it is saved. "
        "Example: --rule rules/clock.toml",
    ),
    LOOK,
)

_MANY = 100
"""Files that change at once, as when a branch is switched: then all is looked at anew."""

_WAIT, _STEP = 1200, 120
"""Milliseconds that changes are gathered for at most, and without a further one."""

_TICK = 500
"""Milliseconds after which the wait for changes is begun anew."""


def command(
    paths: tuple[str, ...], choice: RuleChoice, fix: bool, rule: str | None, look: LookOptions
) -> None:
    """Look at files in PATHS whenever they change, and show their findings and the total.

    With `--rule FILE` it is a bench for the rules in that file. Ctrl-C ends it.
    """
    try:
        import watchfiles
    except ImportError:
        raise TrellisError(
            "to watch files takes watchfiles, which is not installed: "
            "pip install 'yellow-trellis[watch]'"
        ) from None
    tops = look.paths(paths)
    watcher = _Bench(rule, tops, look) if rule is not None else _Watcher(tops, choice, look, fix)
    stop = threading.Event()
    changes = watchfiles.watch(
        *watcher.watched(),
        debounce=_WAIT,
        step=_STEP,
        rust_timeout=_TICK,
        yield_on_timeout=True,
        stop_event=stop,
    )

    def interrupt(*_: object) -> None:
        stop.set()  # Python drops what is raised while it runs a finalizer, or forks
        raise KeyboardInterrupt

    signal.signal(signal.SIGINT, interrupt)
    try:
        next(changes)  # from here on nothing is missed, also while all is looked at
        watcher.begin()
        for some in changes:
            if some:
                watcher.take({path for _, path in some})
    except KeyboardInterrupt:
        pass
    console().print("\nStopped.")


class _Bench(Struct):
    """The rules of one file, tried on the code whenever the file is saved."""

    rule: str
    tops: tuple[str, ...]
    look: LookOptions

    def watched(self) -> list[str]:
        """Return what is watched: the folder, as editors put a new file in the place of the old."""
        return [os.path.dirname(os.path.abspath(self.rule))]

    def begin(self) -> None:
        """Try the rules once."""
        from yellow_trellis.cli.watching import apart, try_rule

        apart(try_rule, self.rule, self.tops, self.look)

    def take(self, paths: set[str]) -> None:
        """Try the rules again if their file is among those that changed."""
        if os.path.realpath(self.rule) in {os.path.realpath(path) for path in paths}:
            _head(console(), [self.rule])
            self.begin()


class _Watcher(Struct):
    """The findings of all files, followed from change to change."""

    tops: tuple[str, ...]
    choice: RuleChoice
    look: LookOptions
    fix: bool
    counts: dict[str, int] = field(default_factory=dict)
    """By real path: how many findings each file has."""
    own: dict[str, str] = field(default_factory=dict)
    """By real path: a digest of what we have written, which is no change of anybody else."""
    rules: frozenset[str] = frozenset()
    """Real paths of rule files and configurations."""

    def __post_init__(self) -> None:
        self.rules = self._rule_files()

    def watched(self) -> list[str]:
        """Return what is watched: the code, and the files that say how to look at it."""
        folders = {os.path.abspath(top) for top in self.tops}
        folders |= {os.path.dirname(path) for path in self.rules}
        return sorted(folders)

    def begin(self) -> None:
        """Look at everything, and show the total."""
        from yellow_trellis.cli.watching import apart, survey_files

        self.rules = self._rule_files()
        done = apart(survey_files, self.tops, self.choice, self.look, False, True)
        if not done.failed:
            self.counts = done.counts
        self._show_total("Watching; Ctrl-C ends it.")

    def take(self, paths: set[str]) -> None:
        """Look at what has changed."""
        real = {os.path.realpath(path) for path in paths}
        if real & self.rules or any(os.path.basename(path) in (OWN, SHARED) for path in real):
            _head(console(), sorted(real & self.rules or real))
            self.begin()
            return
        gone = [path for path in real if not os.path.exists(path) and path in self.counts]
        for path in gone:
            del self.counts[path]
        files = sorted(path for path in real if os.path.isfile(path) and self._is_looked_at(path))
        if len(files) > _MANY:
            _head(console(), files)
            self.begin()
        elif files:
            self._look(files)
        elif gone:
            self._show_total(f"{counted(len(gone), 'file')} gone.")

    def _look(self, files: list[str]) -> None:
        from yellow_trellis.cli.watching import apart, survey_files

        shown = tuple(os.path.relpath(path) for path in files)
        _head(console(), shown)
        before = sum(self.counts.get(path, 0) for path in files)
        done = apart(survey_files, shown, self.choice, self.look, self.fix, False)
        if done.failed:
            return
        self.own.update({path: _digest(path) for path in done.written})
        self.counts.update(done.counts)
        now = sum(done.counts.values())
        self._show_total(f"{counted(now, 'finding')} here, {before:,} before.")

    def _is_looked_at(self, path: str) -> bool:
        """Return whether a file is one of those surveyed, with a text not of our making."""
        if self.own.get(path) == _digest(path):
            return False
        endings = dict(settings_here().endings) if configured_here() else {}
        return not why_skipped(path, self.tops, endings)

    def _rule_files(self) -> frozenset[str]:
        if self.choice.rule_paths:
            names = list(self.choice.rule_paths)
        else:
            settings = settings_here()
            names = [str(settings.folder / name) for name in settings.rules]
            names += [str(settings.file)] if settings.file is not None else []
        files: set[str] = set()
        for name in names:
            path = Path(name)
            inside = path.iterdir() if path.is_dir() else [path]
            files |= {os.path.realpath(file) for file in inside if file.is_file()}
        return frozenset(files)

    def _show_total(self, before: str) -> None:
        total, files = sum(self.counts.values()), sum(bool(n) for n in self.counts.values())
        text = f"{before} In all {counted(total, 'finding')} in {counted(files, 'file')}."
        console().print(styled(text, style=DIM))


def _head(out: Output, files: Iterable[str]) -> None:
    """Print a line that says what has changed, and when."""
    names = [shown_path(path) for path in files]
    text = listed(names) if len(names) < 4 else f"{names[0]} and {len(names) - 1:,} more files"
    out.print()
    out.print(styled(time.strftime("%H:%M:%S "), text, style="bold"))


def _digest(path: str) -> str:
    try:
        return hashlib.sha256(Path(path).read_bytes()).hexdigest()
    except OSError:
        return ""
