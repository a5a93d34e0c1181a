"""The server: it speaks the Language Server Protocol and hands all work to the worker."""

from __future__ import annotations

import asyncio
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from lsprotocol import types as lsp
from pygls.exceptions import JsonRpcException
from pygls.lsp.server import LanguageServer

from yellow_trellis._version import __version__
from yellow_trellis.editor import actions
from yellow_trellis.editor.convert import (
    changes_of,
    completion_of,
    diagnostic_of,
    encoding_of,
    lsp_range,
    path_of,
    position_of,
)
from yellow_trellis.editor.session import Answer, Related
from yellow_trellis.editor.worker import Worker, WorkerFailed

NAME = "yellow-trellis"
_WATCHED = ("**/*.toml", "**/*.py", "**/trellis-baseline.json")
"""Files of rules and of configurations, and those that rules in Python import."""


_IDLE = 0.4
"""Seconds without a change after which conflicts between fixes are worked out."""


class TrellisServer(LanguageServer):
    """The state of one connection to an editor."""

    def __init__(self, trusted: bool = False) -> None:
        super().__init__(NAME, __version__)
        self.trusted = trusted
        self.worker: Worker | None = None
        self.queue = ThreadPoolExecutor(1)
        """Calls go to the worker in the order in which the editor made them."""
        self.answers: dict[str, tuple[int | None, Answer]] = {}
        """By URI: the version of the text, and what was found in it."""
        self._stale: set[str] = set()
        self._at_work: set[str] = set()
        self._told: set[str] = set()
        self.pulls = False
        """Whether the editor asks for diagnostics, and need not be sent them."""

    async def ask(self, method: str, *arguments: object) -> Any:
        """Return the answer of the worker. Errors: `WorkerFailed`."""
        assert self.worker is not None
        loop = asyncio.get_running_loop()
        return await loop.run_in_executor(self.queue, self.worker.call, method, *arguments)

    def hand_over(self, send: Callable[..., None], *arguments: object) -> None:
        """Let the worker know of an open file, behind what it has been asked before."""

        def work() -> None:
            try:
                send(*arguments)
            except WorkerFailed as error:
                self.tell(str(error))

        self.queue.submit(work)

    def tell(self, message: str) -> None:
        """Show a message to the person, each once."""
        if message not in self._told:
            self._told.add(message)
            show = lsp.ShowMessageParams(type=lsp.MessageType.Warning, message=message)
            self.window_show_message(show)

    def version_of(self, uri: str) -> int | None:
        """Return the version of an open file."""
        return self.workspace.get_text_document(uri).version

    # ------------------------------------------------------------------ diagnostics

    def refresh(self, uri: str) -> None:
        """Look at an open file, and send what is found, as soon as may be."""
        self._stale.add(uri)
        if uri not in self._at_work:
            asyncio.ensure_future(self._refresh(uri))

    def refresh_all(self) -> None:
        """Look at all open files again."""
        for uri in list(self.workspace.text_documents):
            self.refresh(uri)

    async def _refresh(self, uri: str) -> None:
        self._at_work.add(uri)
        try:
            while uri in self._stale and uri in self.workspace.text_documents:
                self._stale.discard(uri)
                version = self.version_of(uri)
                answer = await self.look(uri)
                if uri in self._stale or answer is None:
                    continue  # the text has changed meanwhile
                self.publish(uri, version, answer)
                await self._tell_of_conflicts(uri, version, answer)
        finally:
            self._at_work.discard(uri)

    async def _tell_of_conflicts(self, uri: str, version: int | None, answer: Answer) -> None:
        """Add the other ends of conflicts to what was sent, when nobody has typed for a while."""
        if self.pulls or not answer.findings:
            return
        await asyncio.sleep(_IDLE)
        if uri in self._stale:
            return
        try:
            related: tuple[Related, ...] = await self.ask("conflicts", path_of(uri))
        except WorkerFailed as error:
            self.tell(str(error))
            return
        if related and uri not in self._stale:
            self.publish(uri, version, answer, related)

    async def look(self, uri: str) -> Answer | None:
        """Return what is found in an open file; None where the worker failed."""
        version = self.version_of(uri)
        known = self.answers.get(uri)
        if known is not None and known[0] == version and uri not in self._stale:
            return known[1]
        try:
            answer: Answer = await self.ask("findings", path_of(uri))
        except WorkerFailed as error:
            self.tell(str(error))
            return None
        for problem in answer.problems:
            self.tell(problem)
        self.answers[uri] = version, answer
        return answer

    def publish(
        self, uri: str, version: int | None, answer: Answer, related: tuple[Related, ...] = ()
    ) -> None:
        """Send the findings of an open file to an editor that does not ask for them."""
        if self.pulls:
            return
        found = [diagnostic_of(finding, uri, related) for finding in answer.findings]
        self.text_document_publish_diagnostics(
            lsp.PublishDiagnosticsParams(uri=uri, version=version, diagnostics=found)
        )


def make_server(trusted: bool = False) -> TrellisServer:
    """Return a server that is ready to be started.

    Arguments: `trusted` lets the rules in Python of any folder run.
    """
    server = TrellisServer(trusted)

    @server.feature(lsp.INITIALIZE)
    def initialize(params: lsp.InitializeParams) -> None:
        trusted = server.trusted or bool(_value(params.initialization_options, "trusted"))
        encoding = encoding_of(server.workspace.position_encoding)
        server.worker = Worker(encoding, trusted, server.tell)
        texts = params.capabilities.text_document
        server.pulls = texts is not None and texts.diagnostic is not None

    @server.feature(lsp.INITIALIZED)
    async def initialized(params: lsp.InitializedParams) -> None:
        workspace = server.client_capabilities.workspace
        watched = workspace.did_change_watched_files if workspace is not None else None
        if watched is not None and watched.dynamic_registration:
            globs = [lsp.FileSystemWatcher(glob_pattern=glob) for glob in _WATCHED]
            options = lsp.DidChangeWatchedFilesRegistrationOptions(globs)
            method = lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES
            registration = lsp.Registration("watched-files", method, options)
            await server.client_register_capability_async(lsp.RegistrationParams([registration]))

    @server.feature(lsp.TEXT_DOCUMENT_DID_OPEN)
    def opened(params: lsp.DidOpenTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.hand_over(_worker(server).open, path_of(uri), params.text_document.text)
        server.refresh(uri)

    @server.feature(lsp.TEXT_DOCUMENT_DID_CHANGE)
    def changed(params: lsp.DidChangeTextDocumentParams) -> None:
        uri = params.text_document.uri
        worker = _worker(server)
        server.hand_over(worker.change, path_of(uri), changes_of(params.content_changes))
        server.answers.pop(uri, None)
        server.refresh(uri)

    @server.feature(lsp.TEXT_DOCUMENT_DID_CLOSE)
    def closed(params: lsp.DidCloseTextDocumentParams) -> None:
        uri = params.text_document.uri
        worker = _worker(server)
        server.hand_over(worker.close, path_of(uri))
        server.answers.pop(uri, None)
        if not server.pulls:
            server.text_document_publish_diagnostics(
                lsp.PublishDiagnosticsParams(uri=uri, diagnostics=[])
            )

    @server.feature(lsp.TEXT_DOCUMENT_DID_SAVE)
    def saved(params: lsp.DidSaveTextDocumentParams) -> None:
        _follow(server, [params.text_document.uri])

    @server.feature(lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES)
    def on_the_disk(params: lsp.DidChangeWatchedFilesParams) -> None:
        _follow(server, [change.uri for change in params.changes])

    @server.feature(
        lsp.TEXT_DOCUMENT_DIAGNOSTIC,
        lsp.DiagnosticOptions(
            identifier=NAME, inter_file_dependencies=True, workspace_diagnostics=False
        ),
    )
    async def pulled(params: lsp.DocumentDiagnosticParams) -> lsp.DocumentDiagnosticReport:
        uri = params.text_document.uri
        answer = await server.look(uri)
        found = [diagnostic_of(finding) for finding in answer.findings] if answer else []
        return lsp.RelatedFullDocumentDiagnosticReport(items=found)

    @server.feature(lsp.TEXT_DOCUMENT_HOVER)
    async def hovered(params: lsp.HoverParams) -> lsp.Hover | None:
        position = position_of(params.position)
        try:
            found = await server.ask("hover", path_of(params.text_document.uri), position)
        except WorkerFailed as error:
            server.tell(str(error))
            return None
        if found is None:
            return None
        where, text = found
        content = lsp.MarkupContent(kind=lsp.MarkupKind.Markdown, value=text)
        return lsp.Hover(contents=content, range=lsp_range(where))

    @server.feature(
        lsp.TEXT_DOCUMENT_COMPLETION, lsp.CompletionOptions(trigger_characters=["{", ":", '"'])
    )
    async def completed(params: lsp.CompletionParams) -> list[lsp.CompletionItem]:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        try:
            found = await server.ask("completions", path, position)
        except WorkerFailed as error:
            server.tell(str(error))
            return []
        return [completion_of(one) for one in found]

    @server.feature(lsp.TEXT_DOCUMENT_PREPARE_RENAME)
    async def prepared(params: lsp.PrepareRenameParams) -> lsp.PrepareRenamePlaceholder:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        done = await _answer(server, "place_to_rename", path, position)
        where, text = done
        return lsp.PrepareRenamePlaceholder(range=lsp_range(where), placeholder=text)

    @server.feature(lsp.TEXT_DOCUMENT_RENAME, lsp.RenameOptions(prepare_provider=True))
    async def renamed(params: lsp.RenameParams) -> lsp.WorkspaceEdit:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        done = await _answer(server, "rename", path, position, params.new_name)
        return actions.workspace_edit(server, done)

    actions.register(server)

    @server.feature(lsp.SHUTDOWN)
    def ended(params: None) -> None:
        if server.worker is not None:
            server.worker.stop()

    return server


async def _answer(server: TrellisServer, method: str, *arguments: object) -> Any:
    """Return an answer; what is refused is an error of the request, with the reason."""
    try:
        done = await server.ask(method, *arguments)
    except WorkerFailed as error:
        done = str(error)
    if isinstance(done, str):
        raise JsonRpcException(done, lsp.LSPErrorCodes.RequestFailed.value)
    return done


def _worker(server: TrellisServer) -> Worker:
    assert server.worker is not None  # a client opens nothing before it has initialized
    return server.worker


def _follow(server: TrellisServer, uris: list[str]) -> None:
    """Read rules and configurations again where they have changed on the disk."""
    names = [os.path.basename(path_of(uri)) for uri in uris]
    paths = [Path(path_of(uri)) for uri in uris]
    worker = server.worker
    if worker is None:
        return
    are_rules = any(name.endswith(".toml") for name in names)
    is_code = any(path.suffix == ".py" and _holds_rules(path) for path in paths)
    if are_rules or is_code or "trellis-baseline.json" in names:
        server.hand_over(worker.restart)
    else:
        server.hand_over(worker.call, "files_changed")
    server.answers.clear()
    server.refresh_all()


def _holds_rules(path: Path) -> bool:
    try:
        return b"yellow_trellis" in path.read_bytes()
    except OSError:
        return True  # it may have held rules before it went


def _value(options: Any, key: str) -> Any:
    return options.get(key) if isinstance(options, dict) else getattr(options, key, None)
