"""Options that all commands have: how results are shown, and which configuration counts."""

from __future__ import annotations

import io
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from msgspec import Struct

from yellow_trellis.cli.arguments import Group, UsageError, file_there, file_to_write, flag, option
from yellow_trellis.cli.exit_codes import FOUND, UNHANDLED
from yellow_trellis.cli.whole_file import whole_file

COLOURS = ("auto", "always", "never")


class Presentation(Struct, frozen=True):
    """The way in which a call shows its results, and the configuration that it takes."""

    color: str = "auto"
    quiet: bool = False
    verbose: bool = False
    output: str | None = None
    """The file that results go to; standard output if there is none."""
    config: str | None = None
    no_config: bool = False
    places: tuple[str, ...] = ()
    """The files and folders that the call names, from which its configuration is found."""

    @contextmanager
    def in_place(self) -> Iterator[None]:
        """Let results go where they are to go; a file has all of them, or stays as it was."""
        if self.output is None:
            yield
            return
        earlier, ended = sys.stdout, None
        with whole_file(self.output) as raw:
            stream = io.TextIOWrapper(raw, "utf-8", "backslashreplace", "\n")
            sys.stdout = stream
            try:
                yield
            except SystemExit as exit_:
                if exit_.code not in _WITH_RESULTS:
                    raise
                ended = exit_
            finally:
                sys.stdout = earlier
                stream.flush()
                stream.detach()
        if ended is not None:
            raise ended


_WITH_RESULTS = (None, 0, FOUND, UNHANDLED)
"""Statuses of a call that has written all of its results."""

_CHOSEN: ContextVar[Presentation] = ContextVar("presentation", default=Presentation())


def presentation() -> Presentation:
    """Return how the call that is under way shows its results."""
    return _CHOSEN.get()


def _chosen(
    *,
    color: str,
    quiet: bool,
    verbose: bool,
    output: str | None,
    config: str | None,
    no_config: bool,
    places: tuple[str, ...],
) -> Presentation:
    """Take note of what a call says, from here on; the options behind may depend on it."""
    if quiet and verbose:
        raise UsageError("--quiet and --verbose exclude each other: take one")
    if config is not None and no_config:
        raise UsageError("--config and --no-config exclude each other: take one")
    chosen = Presentation(color, quiet, verbose, output, config, no_config, places)
    _CHOSEN.set(chosen)
    return chosen


COMMON = Group(
    "common",
    "output and configuration",
    (
        option(
            "--output",
            metavar="FILE",
            type=file_to_write,
            help="Write the results to a file, all or nothing. Example: --output findings.txt",
        ),
        option(
            "--color",
            choices=COLOURS,
            default=COLOURS[0],
            help="When to use colours. Example: --color never",
        ),
        flag("--quiet", help="Show no progress, notes or hints, and of a survey only the verdict."),
        flag("--verbose", help="Also say which configuration, rules and files were used."),
        option(
            "--config",
            metavar="FILE",
            type=file_there,
            help="Take this configuration. Example: --config ci/trellis.toml",
        ),
        flag("--no-config", help="Take no configuration."),
    ),
    _chosen,
    goes_first=True,
)
"""What every command takes."""
