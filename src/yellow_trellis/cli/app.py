"""The commands by name, each imported when it is asked for; and what a mistake looks like."""

from __future__ import annotations

import sys
from importlib import import_module

import click

from yellow_trellis._version import __version__
from yellow_trellis.mistake import Mistake

_COMMANDS = {
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
    "prove": "Run the examples of the rules.",
    "demo": "See it all on the code of a made-up tram company.",
}

CLEAN, FOUND, WRONG_CALL, UNHANDLED, INTERRUPTED = 0, 1, 2, 3, 130
"""Exit status: nothing found; found or conflicting; a call that is wrong; something unhandled;
stopped from the keyboard."""


class _Commands(click.Group):
    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in _COMMANDS:
            return None
        module = import_module(f"yellow_trellis.cli.{cmd_name}_command")
        command: click.Command = module.command
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl(list(_COMMANDS.items()))


@click.group(
    cls=_Commands,
    context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 100},
    epilog="Start with `ytr demo`. Each command has its own help: `ytr survey --help`.",
)
@click.version_option(__version__, prog_name="ytr", message="%(prog)s %(version)s")
def app() -> None:
    """Find code by its syntax tree, fix it, prove that no two fixes conflict, take it back."""


def run_command() -> None:
    """Run `ytr`; a user's mistake ends in one message and status 2, never in a traceback."""
    try:
        app(prog_name="ytr")
    except Mistake as wrong:
        click.echo(f"ytr: {wrong}", err=True)
        sys.exit(WRONG_CALL)
    except OSError as wrong:
        place = f"{wrong.filename}: " if wrong.filename else ""
        click.echo(f"ytr: {place}{wrong.strerror or wrong}", err=True)
        sys.exit(UNHANDLED)
