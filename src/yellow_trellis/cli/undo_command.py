"""`ytr undo`: the last apply taken back, byte for byte."""

from __future__ import annotations

import sys
from pathlib import Path

import click
from rich.text import Text

from yellow_trellis.cli.app import UNHANDLED, WRONG_CALL
from yellow_trellis.cli.options import format_option
from yellow_trellis.cli.terminal import console, counted, notes, tell_problems
from yellow_trellis.engine.examination import Problem
from yellow_trellis.engine.undoing import undo
from yellow_trellis.formats.json import VERSION, dumped


@click.command("undo", epilog="Example: ytr undo")
@click.argument("folder", default=".", type=click.Path(exists=True, file_okay=False))
@format_option("text", "json")
def command(folder: str, form: str) -> None:
    """Take back the last apply that was run in FOLDER (the current one by default).

    A file that was changed since is left alone and told. Calling it again takes back the apply
    before.
    """
    report = undo(Path(folder).resolve())
    if report is None:
        notes().print(Text(f"Nothing to undo: no apply is on record in {folder}."))
        sys.exit(WRONG_CALL)
    if form == "json":
        left = [{"path": path, "reason": reason} for path, reason in report.left]
        click.echo(dumped({"version": VERSION, "restored": report.restored, "problems": left}))
    else:
        out = console()
        for path in report.restored[:20]:
            out.print(Text(f"  restored {path}"))
        if len(report.restored) > 20:
            out.print(Text(f"  and {counted(len(report.restored) - 20, 'more file')}"))
        out.print(Text(f"Restored {counted(len(report.restored), 'file')}."))
    tell_problems([Problem(path, reason) for path, reason in report.left])
    if report.left:
        sys.exit(UNHANDLED)
