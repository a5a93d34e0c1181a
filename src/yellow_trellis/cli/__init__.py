"""The command `ytr`: the way in, which answers for its version before anything is imported."""

import atexit
import gc
import sys


def main() -> None:
    """Run the command with the arguments of this process."""
    if sys.argv[1:] == ["--version"]:
        from yellow_trellis._version import __version__

        print(f"ytr {__version__}")
        return
    # trellis: leave collector-runs because nothing that is imported is garbage
    gc.disable()  # until the command itself is run
    atexit.register(gc.freeze)  # a process that ends need not take each object apart
    from yellow_trellis.cli.app import run_command

    run_command()
