"""A client of the Language Server Protocol: enough to speak with the real server."""

from __future__ import annotations

import json
import queue
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

_ENTRY = "import sys; sys.argv[0] = 'ytr'; from yellow_trellis.cli import main; main()"
SECONDS = 60.0


USUAL: dict[str, dict[str, Any]] = {
    "textDocument": {
        "codeAction": {
            "codeActionLiteralSupport": {"codeActionKind": {"valueSet": []}},
            "resolveSupport": {"properties": ["edit"]},
        }
    },
    "workspace": {"workspaceEdit": {"documentChanges": True, "changeAnnotationSupport": {}}},
}
"""What most editors know."""


def with_usual(capabilities: dict[str, Any]) -> dict[str, Any]:
    """Return capabilities beside the usual ones."""
    results = {**USUAL, **capabilities}
    for name, usual in USUAL.items():
        some = capabilities.get(name, {})
        results[name] = {**usual, **some}
        for key in usual.keys() & some.keys():
            results[name][key] = {**usual[key], **some[key]}
    return results


class Client:
    """A server in a process of its own, and what it has said."""

    def __init__(
        self,
        folder: Path,
        *words: str,
        capabilities: dict[str, Any] | None = None,
        knows_usual: bool = True,
    ) -> None:
        self.folder = folder
        self.process = subprocess.Popen(
            [sys.executable, "-c", _ENTRY, "lsp", *words],
            cwd=folder,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
        )
        self.answers: dict[str, Any] = {}
        """By method: what the client answers to what the server asks."""
        self.heard: queue.Queue[dict[str, Any]] = queue.Queue()
        self.notes: list[dict[str, Any]] = []
        self._reader = threading.Thread(target=self._read, daemon=True)
        self._reader.start()
        self._count = 0
        self._versions: dict[str, int] = {}
        folders = [{"uri": folder.as_uri(), "name": folder.name}]
        self.server = self.ask(
            "initialize",
            processId=None,
            rootUri=folder.as_uri(),
            workspaceFolders=folders,
            capabilities=with_usual(capabilities or {}) if knows_usual else capabilities or {},
        )
        self.tell("initialized")

    def ask(self, method: str, **params: Any) -> Any:
        """Return the result of a request."""
        answer = self.answer(self.begin(method, **params))
        assert "error" not in answer, answer
        return answer["result"]

    def begin(self, method: str, **params: Any) -> int:
        """Send a request; return its number."""
        self._count += 1
        self._send({"id": self._count, "method": method, "params": params})
        return self._count

    def answer(self, number: int) -> Any:
        """Wait for the answer to a request."""
        return self._next(lambda message: message.get("id") == number and "method" not in message)

    def tell(self, method: str, **params: Any) -> None:
        """Send a notification."""
        self._send({"method": method, "params": params})

    def told(self, method: str, fits: Callable[[Any], bool] = lambda params: True) -> Any:
        """Wait for a notification; return its parameters."""
        return self._next(lambda m: m.get("method") == method and fits(m["params"]))["params"]

    def open(self, path: Path, text: str | None = None) -> list[dict[str, Any]]:
        """Open a file; return what is found in it."""
        uri, self._versions[path.as_uri()] = path.as_uri(), 1
        text = path.read_text("utf-8") if text is None else text
        item = {"uri": uri, "languageId": "x", "version": 1, "text": text}
        self.tell("textDocument/didOpen", textDocument=item)
        return self._found(uri)

    def change(self, path: Path, *changes: dict[str, Any]) -> list[dict[str, Any]]:
        """Change an open file; return what is found in it then."""
        uri = path.as_uri()
        self._versions[uri] += 1
        where = {"uri": uri, "version": self._versions[uri]}
        self.tell("textDocument/didChange", textDocument=where, contentChanges=list(changes))
        return self._found(uri)

    def command(self, name: str, *arguments: Any) -> Any:
        """Return the result of a command."""
        return self.ask("workspace/executeCommand", command=name, arguments=list(arguments))

    def actions(self, path: Path, where: Any, *kinds: str) -> list[dict[str, Any]]:
        """Return the code actions for a range."""
        context: dict[str, Any] = {"diagnostics": []}
        if kinds:
            context["only"] = list(kinds)
        return self.ask(
            "textDocument/codeAction",
            textDocument={"uri": path.as_uri()},
            range=where,
            context=context,
        )

    def stop(self) -> str:
        """Shut the server down; return what it has written on standard error."""
        self.ask("shutdown")
        self.tell("exit")
        assert self.process.stdin is not None and self.process.stderr is not None
        assert self.process.stdout is not None
        status = self.process.wait(SECONDS)
        errors = self.process.stderr.read().decode()
        self._reader.join(SECONDS)
        for stream in (self.process.stdin, self.process.stdout, self.process.stderr):
            stream.close()
        assert status == 0, errors
        return errors

    def _found(self, uri: str) -> list[dict[str, Any]]:
        version = self._versions[uri]
        return self.told(
            "textDocument/publishDiagnostics",
            lambda params: params["uri"] == uri and params.get("version") == version,
        )["diagnostics"]

    def _send(self, message: dict[str, Any]) -> None:
        data = json.dumps({"jsonrpc": "2.0", **message}).encode()
        assert self.process.stdin is not None
        self.process.stdin.write(b"Content-Length: %d\r\n\r\n" % len(data) + data)
        self.process.stdin.flush()

    def _next(self, fits: Callable[[dict[str, Any]], bool]) -> dict[str, Any]:
        for message in self.notes:
            if fits(message):
                self.notes.remove(message)
                return message
        end = time.monotonic() + SECONDS
        while True:
            message = self.heard.get(timeout=max(end - time.monotonic(), 0.01))
            if fits(message):
                return message
            self.notes.append(message)

    def _read(self) -> None:
        assert self.process.stdout is not None
        while line := self.process.stdout.readline():
            size = 0
            while line.strip():
                name, _, value = line.partition(b":")
                size = int(value) if name.lower() == b"content-length" else size
                line = self.process.stdout.readline()
            message = json.loads(self.process.stdout.read(size))
            if "id" in message and "method" in message:
                self._send({"id": message["id"], "result": self.answers.get(message["method"])})
            self.heard.put(message)
