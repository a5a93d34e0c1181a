"""Messages that are none, or come at the wrong time, are answered with an error of the protocol.

The library that speaks the protocol lets such requests go without an answer, for which an editor
may wait for good, and takes ``null`` for the id of a request.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from lsprotocol import types as lsp
from pygls.exceptions import JsonRpcException
from pygls.protocol import LanguageServerProtocol

_INVALID = lsp.ErrorCodes.InvalidRequest.value


class _Refused(NamedTuple):
    """A message that is not handed on."""

    id: int | str | None
    code: int
    message: str


class StrictProtocol(LanguageServerProtocol):
    """The protocol, with an answer for each request."""

    _is_initialized = False

    def structure_message(self, data: dict[str, Any]) -> Any:
        """Return the message that `data` is, or a part of one."""
        if "jsonrpc" not in data:
            return data
        number = data.get("id")
        known = number if _is_id(number) else None
        if "method" in data and not isinstance(data["method"], str):
            return _Refused(known, _INVALID, "the method of a message is a text")
        if "method" in data and "id" in data and known is None:
            return _Refused(None, _INVALID, "the id of a message is a number or a text")
        if "method" in data:
            data.setdefault("params", None)
        try:
            return super().structure_message(data)
        except JsonRpcException as wrong:
            if "id" not in data or "method" not in data:
                raise
            return _Refused(known, wrong.code, str(wrong))

    def handle_message(self, message: Any) -> None:
        """Hand a message on, or refuse it."""
        if isinstance(message, _Refused):
            refused: _Refused | None = message
        elif not hasattr(message, "jsonrpc"):
            refused = _Refused(None, _INVALID, "this is no message of the protocol")
        else:
            refused = self._out_of_turn(message)
        if refused is not None:
            error = {"code": refused.code, "message": refused.message}
            self._send_data({"jsonrpc": self.VERSION, "id": refused.id, "error": error})
            return
        if getattr(message, "method", "") == lsp.INITIALIZE:
            self._is_initialized = True
        super().handle_message(message)

    def _out_of_turn(self, message: Any) -> _Refused | None:
        """Return why a request comes too early or too late, if it does."""
        if not (hasattr(message, "id") and hasattr(message, "method")):
            return None
        if self._shutdown:
            return _Refused(message.id, _INVALID, "the server shuts down")
        if not self._is_initialized and message.method != lsp.INITIALIZE:
            code = lsp.ErrorCodes.ServerNotInitialized.value
            return _Refused(message.id, code, "the server has not been initialized")
        return None


def _is_id(value: object) -> bool:
    return isinstance(value, (int, str)) and not isinstance(value, bool)
