"""The commands by name, each imported when it is asked for; and what a mistake looks like."""

from __future__ import annotations

import gc
import os
import sys
from contextlib import ExitStack
from importlib import import_module

from yellow_trellis._version import __version__
from yellow_trellis.cli.arguments import UsageError, parse_arguments
from yellow_trellis.cli.exit_codes import FOUND, INTERRUPTED, UNHANDLED, WRONG_CALL
from yellow_trellis.errors import TrellisError
from yellow_trellis.schema import nearest
from yellow_trellis.trace import refuse_unknown_topics

COMMANDS = {
    "tree": "Show how code is built: kinds, fields, places.",
    "seek": "Find code by a pattern, and try a template on it.",
    "why": "Say why a pattern or a rule does not match a place.",
    "survey": "Show what the rules find.",
    "preview": "Show the changes the fixes would make, as a diff.",
    "clashes": "Show which fixes conflict, and over what.",
    "apply": "Apply the fixes, round after round.",
    "undo": "Take back the last apply.",
    "init": "Write a configuration for this folder.",
    "baseline": "Accept the findings of today, so that only new ones count.",
    "cache": "Show, fill or clear what is kept from run to run.",
    "report": "Show what surveys found over time.",
    "new": "Start a rule from real code, or a pack of rules.",
    "rules": "List the rules, or explain one.",
    "trust": "Let the configuration of a folder name code to be run.",
    "prove": "Run the examples of the rules.",
    "watch": "Show findings while files change.",
    "hook": "Look at what is committed or pushed, by a hook of git.",
    "lsp": "Show findings and fixes in an editor.",
    "demo": "See it all on the code of a made-up tram company.",
    "completion": "Print a script that lets a shell complete commands and options.",
    "help": "Show the help of a command.",
}

_OF_ONE_FILE = frozenset({"tree", "why", "new"})
"""Commands that may take no longer than a run may for one file."""

BARE = frozenset({"completion", "help", "lsp"})
"""Commands that have no output to be shown in one way or another."""

_HELP = f"""\
usage: ytr COMMAND [OPTIONS] ...

Find code by its syntax tree, fix it, prove that no two fixes conflict, take it back.

commands:
{"".join(f"  {name:<12}{purpose}{chr(10)}" for name, purpose in COMMANDS.items())}
options:
  --version   Show the version and exit.
  -h, --help  Show this and exit.

Start with `ytr demo`. Each command has its own help: `ytr help survey`.
"""


def call(words: list[str]) -> None:
    """Run the command that `words` name, with what they give to it.

    Errors: `TrellisError` for what the user got wrong; `SystemExit` with the status of the command.
    """
    name, *tail = words or ["--help"]
    if name in ("-h", "--help"):
        sys.stdout.write(_HELP)
    elif name == "--version":
        sys.stdout.write(f"ytr {__version__}\n")
    elif name in COMMANDS:
        _run(name, tail)
    else:
        label = "option" if name.startswith("-") else "command"
        hint = f": {nearest(name, COMMANDS)}" if label == "command" else " before the command"
        raise UsageError(f"there is no {label} {name}{hint}\nTry `ytr --help`.")


def _run(name: str, words: list[str]) -> None:
    """Run one command with the words behind its name."""
    from yellow_trellis.cli.presentation import COMMON  # help and version need none of it

    module = import_module(f"yellow_trellis.cli.commands.{name}")
    command = module.command
    takes = module.TAKES if name in BARE else (*module.TAKES, COMMON)
    arguments = parse_arguments(name, command.__doc__, takes, module.EXAMPLE, words)
    common = arguments.pop(COMMON.keyword, None)
    with ExitStack() as stack:
        if common is not None:
            stack.enter_context(common.in_place())
        if name in _OF_ONE_FILE:
            from yellow_trellis.runs.processes.deadlines import limited
            from yellow_trellis.runs.run_options import USUAL

            stack.enter_context(limited(USUAL.limits.file))
        gc.freeze()
        gc.enable()
        command(**arguments)


def run_command() -> None:
    """Run `ytr`; a user's mistake ends in one message and status 2, never in a traceback."""
    for name in ("stdin", "stdout", "stderr"):
        if getattr(sys, name) is None:  # whoever has called us has closed it
            setattr(sys, name, open(os.devnull, "r" if name == "stdin" else "w", encoding="utf-8"))
    for stream in (sys.stdout, sys.stderr):
        stream.reconfigure(errors="backslashreplace")  # type: ignore[union-attr]
    try:
        try:
            refuse_unknown_topics()
            call(sys.argv[1:])
        finally:
            if not sys.stdout.closed:  # a server has closed it
                sys.stdout.flush()
    except TrellisError as wrong:
        _tell(f"ytr: {wrong}")
        sys.exit(WRONG_CALL)
    except KeyboardInterrupt:
        sys.stderr.write("\nInterrupted.\n")
        sys.exit(INTERRUPTED)
    except BrokenPipeError:  # who reads the output has seen enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(FOUND)
    except _out_of_time() as over:  # asked for only when something is raised
        _tell(f"ytr: {over}")
        sys.exit(UNHANDLED)
    except OSError as wrong:
        place = f"{wrong.filename}: " if wrong.filename else ""
        _tell(f"ytr: {place}{wrong.strerror or wrong}")
        sys.exit(UNHANDLED)


def _out_of_time() -> type[BaseException]:
    from yellow_trellis.findings.timing import OutOfTime

    return OutOfTime


def _tell(text: str) -> None:
    """Write a message to standard error, whatever it repeats."""
    from yellow_trellis.cli.output import Output

    Output(grave=True).print(text)
