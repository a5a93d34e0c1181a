"""The command `ytr`: the way in, which answers for its version before anything is imported."""

import sys


def main() -> None:
    """Run the command with the arguments of this process."""
    if sys.argv[1:] == ["--version"]:
        from yellow_trellis._version import __version__

        print(f"ytr {__version__}")
        return
    from yellow_trellis.cli.app import run_command

    run_command()
