"""`ytr lsp`: findings and fixes in an editor, by the Language Server Protocol."""

from __future__ import annotations

import logging
import sys
import threading

from yellow_trellis.cli.arguments import Takes, UsageError, flag, option
from yellow_trellis.editor.worker import Worker
from yellow_trellis.errors import TrellisError

EXAMPLE = "ytr lsp    ytr lsp --trust    ytr lsp --tcp 7010"
TAKES: Takes = (
    flag(
        "--trust",
        help="Run the rules in Python of every folder that is opened. Without it, only those of "
        "folders that `ytr trust` has been said in are run.",
    ),
    option(
        "--tcp",
        metavar="[HOST:]PORT",
        help="Listen there instead of speaking on standard input and output. Example: --tcp 7010",
    ),
)


def command(trust: bool, tcp: str | None) -> None:
    """Show findings and offer fixes in an editor, by the Language Server Protocol.

    An editor starts this itself; docs/editor.md has settings for several. It speaks on standard
    input and output.
    """
    address = _address(tcp) if tcp is not None else None
    worker = Worker(trust)
    threading.Thread(target=worker.begin).start()  # what it imports, it imports meanwhile
    try:
        from yellow_trellis.editor.protocol.server import make_server
        from yellow_trellis.editor.protocol.standard_input import limited
    except ImportError as error:
        worker.stop()
        if (error.name or "").partition(".")[0] not in ("pygls", "lsprotocol"):
            raise
        raise TrellisError(
            "the language server needs pygls, which is not installed: "
            "pip install 'yellow-trellis[editor]'"
        ) from None
    server = make_server(worker)
    if address is None:
        server.start_io(limited(sys.stdin.buffer))
    else:
        logging.getLogger("asyncio").addFilter(_is_no_exit)
        server.start_tcp(*address)


def _is_no_exit(record: logging.LogRecord) -> bool:
    """Return whether a message is not about the end of the process, which an editor asks for."""
    return record.exc_info is None or not isinstance(record.exc_info[1], SystemExit)


def _address(text: str) -> tuple[str, int]:
    """Read HOST:PORT, or PORT on this machine. Errors: `UsageError`."""
    host, _, port = text.rpartition(":")
    if not port.isdigit() or not 0 < int(port) < 65536:
        raise UsageError(f"--tcp takes [HOST:]PORT, for instance 7010, not {text!r}")
    return host or "127.0.0.1", int(port)
