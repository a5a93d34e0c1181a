"""`ytr help`: the help of a command, or of all."""

from __future__ import annotations

from yellow_trellis.cli.app import call
from yellow_trellis.cli.arguments import Takes, option

EXAMPLE = "ytr help survey    ytr help"
TAKES: Takes = (
    option("name", metavar="COMMAND", nargs="?", help="The command to explain."),
)


def command(name: str | None) -> None:
    """Show the help of COMMAND, or which commands there are."""
    call([name, "--help"] if name is not None else ["--help"])
