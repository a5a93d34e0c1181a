"""Standard input of a server, held to a size: a message may claim to be larger than any memory."""

from __future__ import annotations

import logging
import re
from typing import BinaryIO, cast

_LENGTH = re.compile(rb"content-length:[ \t]*(\d+)[ \t]*", re.IGNORECASE)
LARGEST_MESSAGE = 256 * 1024**2
"""Bytes that a message may have."""


class LimitedInput:
    """Lines and bytes of `stream`, as the protocol is read.

    The header of a message that claims more than `LARGEST_MESSAGE` is not handed on, so that the
    message is passed over. Header lines may end in a line feed alone.
    """

    def __init__(self, stream: BinaryIO) -> None:
        self._stream = stream

    def readline(self) -> bytes:
        """Return the next line of a header."""
        line = self._stream.readline(_LONGEST_LINE)
        bare = line.rstrip(b"\r\n")
        match = _LENGTH.fullmatch(bare)
        if match is not None:
            if len(match[1]) > _MOST_DIGITS or int(match[1]) > LARGEST_MESSAGE:
                reason = "a message claims %s bytes, more than %d: it is passed over"
                logging.getLogger(__name__).error(reason, match[1][:40].decode(), LARGEST_MESSAGE)
                return b"Passed-Over: 1\r\n"
            return b"Content-Length: %d\r\n" % int(match[1])
        return bare + b"\r\n" if line.endswith(b"\n") else line

    def read(self, size: int) -> bytes:
        """Return the next `size` bytes, fewer only at the end."""
        return self._stream.read(size)


_LONGEST_LINE = 64 * 1024
_MOST_DIGITS = 15


def limited(stream: BinaryIO) -> BinaryIO:
    """Return `stream` as a server may read it."""
    return cast(BinaryIO, LimitedInput(stream))
