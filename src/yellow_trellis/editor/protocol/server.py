"""The server: it speaks the Language Server Protocol and hands all work to the worker."""

from __future__ import annotations

import asyncio
import os
import tempfile
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Any
from weakref import WeakSet

from lsprotocol import types as lsp
from pygls.exceptions import JsonRpcException
from pygls.lsp.server import LanguageServer
from pygls.uris import from_fs_path

from yellow_trellis._version import __version__
from yellow_trellis.editor.answers import OpenFindings, Related
from yellow_trellis.editor.job import Job
from yellow_trellis.editor.positions import Position
from yellow_trellis.editor.protocol import actions, lenses, workspace
from yellow_trellis.editor.protocol.convert import (
    changes_of,
    completion_of,
    diagnostic_of,
    encoding_of,
    lsp_range,
    path_of,
    position_of,
)
from yellow_trellis.editor.protocol.messages import StrictProtocol
from yellow_trellis.editor.worker import Worker, WorkerError

if TYPE_CHECKING:
    from yellow_trellis.editor.protocol.disk_watch import DiskWatch

NAME = "yellow-trellis"
_WATCHED = (".toml", ".py", "trellis-baseline.json")
"""Endings of the files of rules and of configurations, and of those that rules in Python import."""


_IDLE = 0.4
"""Seconds without a change after which conflicts between fixes are worked out."""


class TrellisServer(LanguageServer):
    """The state of one connection to an editor."""

    def __init__(self, worker: Worker) -> None:
        super().__init__(NAME, __version__, protocol_cls=StrictProtocol)
        self.worker = worker
        self.queue = ThreadPoolExecutor(1)
        """Calls go to the worker in the order in which the editor made them."""
        self.answers: dict[str, tuple[int | None, OpenFindings]] = {}
        """By URI: the version of the text, and what was found in it."""
        self._stale: set[str] = set()
        self._at_work: set[str] = set()
        self._told: set[str] = set()
        self.pulls = False
        """Whether the editor asks for diagnostics, and need not be sent them."""
        self.jobs = ThreadPoolExecutor(4)
        """Wait for work over the workspace, which has processes of its own."""
        self.count = 0
        """The number of changes, in the editor and on the disk, since the start."""
        self.cursor: tuple[str, Position] | None = None
        """The URI and the position in code that the editor has asked about last."""
        self.related: dict[str, tuple[int | None, tuple[Related, ...]]] = {}
        """By URI: the version of the text, and the conflicts between fixes in it."""
        self._running: WeakSet[Job] = WeakSet()
        self._disk: DiskWatch | None = None
        self._shown = tempfile.TemporaryDirectory(prefix="ytr-editor-")

    async def ask(self, method: str, *arguments: object) -> Any:
        """Return the answer of the worker. Errors: `WorkerError`."""
        loop = asyncio.get_running_loop()
        return await loop.run_in_executor(self.queue, self.worker.call, method, *arguments)

    async def ask_or_tell(self, otherwise: Any, method: str, *arguments: object) -> Any:
        """Return the answer of the worker; `otherwise`, with a message, where it failed."""
        try:
            return await self.ask(method, *arguments)
        except WorkerError as error:
            self.tell(str(error))
            return otherwise

    async def ask_or_refuse(self, method: str, *arguments: object) -> Any:
        """Return the answer of the worker. Errors: `JsonRpcException`, where it is a reason."""
        try:
            done = await self.ask(method, *arguments)
        except WorkerError as error:
            done = str(error)
        if isinstance(done, str):
            raise JsonRpcException(done, lsp.LSPErrorCodes.RequestFailed.value)
        return done

    def new_job(self) -> Job:
        """Return a job that sees the open files as they are."""
        job = Job(self.worker.encoding, self.worker.trusted, self.worker.texts())
        self._running.add(job)
        return job

    def roots(self) -> list[str]:
        """Return the folders of the workspace."""
        folders = [path_of(uri) for uri in self.workspace.folders]
        return folders or [self.workspace.root_path] if self.workspace.root_path else folders

    def watch_disk(self, loop: asyncio.AbstractEventLoop) -> None:
        """Follow changes of rules on the disk, which the editor does not report.

        A folder without a configuration is not watched: it may be all that a user has.
        """
        # many editors watch themselves
        from yellow_trellis.editor.nested import configuration_of
        from yellow_trellis.editor.protocol.disk_watch import DiskWatch


        def follow(paths: list[str]) -> None:
            uris = [from_fs_path(path) or path for path in paths]
            loop.call_soon_threadsafe(_follow, self, uris)

        def give_up(reason: str) -> None:
            message = "rules are read again only when they are saved in this editor"
            loop.call_soon_threadsafe(self.tell, f"{message}: {reason}")

        folders = [folder for folder in self.roots() if configuration_of(folder)]
        self._disk = DiskWatch(folders, _WATCHED, follow, give_up)
        try:
            self._disk.start()
        except ImportError:
            give_up("to see changes on the disk, pip install 'yellow-trellis[watch]'")

    def hand_over(self, send: Callable[..., None], *arguments: object) -> None:
        """Let the worker know of an open file, behind what it has been asked before."""

        def work() -> None:
            try:
                send(*arguments)
            except WorkerError as error:
                self.tell(str(error))

        self.queue.submit(work)

    def tell(self, message: str) -> None:
        """Show a message to the person, each once."""
        if message not in self._told:
            self._told.add(message)
            self.say(message, lsp.MessageType.Warning)

    def say(self, message: str, kind: lsp.MessageType = lsp.MessageType.Info) -> None:
        """Show a message to the person who has asked for it."""
        self.window_show_message(lsp.ShowMessageParams(type=kind, message=message))

    async def show(self, name: str, text: str) -> None:
        """Show a text as a document called `name`; where the editor cannot, say where it is."""
        file = Path(self._shown.name, name)
        file.write_text(text, "utf-8")
        await self.show_place(file.as_uri())

    async def show_place(self, uri: str, where: lsp.Range | None = None) -> None:
        """Show a document, at a range of it if one is given."""
        window = self.client_capabilities.window
        if window is None or window.show_document is None or not window.show_document.support:
            line = f":{where.start.line + 1}" if where is not None else ""
            self.say(f"see {path_of(uri)}{line}")
            return
        params = lsp.ShowDocumentParams(uri=uri, take_focus=True, selection=where)
        await self.window_show_document_async(params)

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

    async def _tell_of_conflicts(self, uri: str, version: int | None, answer: OpenFindings) -> None:
        """Add the other ends of conflicts to what was sent, when nobody has typed for a while."""
        if not answer.findings:
            return
        await asyncio.sleep(_IDLE)
        if uri in self._stale:
            return
        related: tuple[Related, ...] = await self.ask_or_tell((), "related", path_of(uri))
        if not related or uri in self._stale:
            return
        self.related[uri] = version, related
        if self.pulls:
            self.ask_to_pull()
        else:
            self.publish(uri, version, answer)

    def ask_to_pull(self) -> None:
        """Let an editor that asks for diagnostics ask again, where it can be told to."""
        workspace = self.client_capabilities.workspace
        diagnostics = workspace.diagnostics if workspace is not None else None
        if self.pulls and diagnostics is not None and diagnostics.refresh_support:
            self.workspace_diagnostic_refresh(None)

    def diagnostics_of(
        self, uri: str, version: int | None, answer: OpenFindings
    ) -> list[lsp.Diagnostic]:
        """Return the findings of an open file, with the places that they have to do with."""
        entry = self.related.get(uri)
        related = entry[1] if entry is not None and entry[0] == version else ()
        return [diagnostic_of(finding, related) for finding in answer.findings]

    async def look(self, uri: str) -> OpenFindings | None:
        """Return what is found in an open file; None where the worker failed."""
        version = self.version_of(uri)
        entry = self.answers.get(uri)
        if entry is not None and entry[0] == version and uri not in self._stale:
            return entry[1]
        answer: OpenFindings | None = await self.ask_or_tell(None, "findings", path_of(uri))
        if answer is None:
            return None
        for problem in answer.problems:
            self.tell(problem)
        self.answers[uri] = version, answer
        return answer

    def publish(self, uri: str, version: int | None, answer: OpenFindings) -> None:
        """Send the findings of an open file to an editor that does not ask for them."""
        if self.pulls:
            return
        diagnostics = self.diagnostics_of(uri, version, answer)
        self.text_document_publish_diagnostics(
            lsp.PublishDiagnosticsParams(uri=uri, version=version, diagnostics=diagnostics)
        )

    def note(self, uri: str) -> None:
        """Take note that a file is not as it was."""
        self.count += 1
        self.answers.pop(uri, None)
        self.related.pop(uri, None)

    def end(self) -> None:
        """End what the server has started."""
        if self._disk is not None:
            self._disk.stop()
        self.worker.stop()
        for job in list(self._running):
            job.cancel()
        self._shown.cleanup()


def make_server(worker: Worker) -> TrellisServer:
    """Return a server that is ready to be started, with the process that does its work."""
    server = TrellisServer(worker)
    worker.on_restart = server.tell

    @server.feature(lsp.INITIALIZE)
    def initialize(params: lsp.InitializeParams) -> None:
        trusted = worker.trusted or bool(_value(params.initialization_options, "trusted"))
        worker.configure(trusted, encoding_of(server.workspace.position_encoding))
        for folder in server.roots():
            server.hand_over(worker.call, "prepare", folder)
        texts = params.capabilities.text_document
        server.pulls = texts is not None and texts.diagnostic is not None

    @server.feature(lsp.INITIALIZED)
    async def initialized(params: lsp.InitializedParams) -> None:
        workspace = server.client_capabilities.workspace
        watched = workspace.did_change_watched_files if workspace is not None else None
        if watched is not None and watched.dynamic_registration:
            globs = [lsp.FileSystemWatcher(glob_pattern=f"**/*{end}") for end in _WATCHED]
            options = lsp.DidChangeWatchedFilesRegistrationOptions(globs)
            method = lsp.WORKSPACE_DID_CHANGE_WATCHED_FILES
            registration = lsp.Registration("watched-files", method, options)
            await server.client_register_capability_async(lsp.RegistrationParams([registration]))
        else:
            server.watch_disk(asyncio.get_running_loop())

    @server.feature(lsp.TEXT_DOCUMENT_DID_OPEN)
    def opened(params: lsp.DidOpenTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.hand_over(worker.open, path_of(uri), params.text_document.text)
        server.note(uri)
        server.refresh(uri)

    @server.feature(lsp.TEXT_DOCUMENT_DID_CHANGE)
    def changed(params: lsp.DidChangeTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.hand_over(worker.change, path_of(uri), changes_of(params.content_changes))
        server.note(uri)
        server.refresh(uri)

    @server.feature(lsp.TEXT_DOCUMENT_DID_CLOSE)
    def closed(params: lsp.DidCloseTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.hand_over(worker.close, path_of(uri))
        server.note(uri)
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
            identifier=NAME, inter_file_dependencies=True, workspace_diagnostics=True
        ),
    )
    async def pulled(params: lsp.DocumentDiagnosticParams) -> lsp.DocumentDiagnosticReport:
        uri = params.text_document.uri
        version = server.version_of(uri)
        answer = await server.look(uri)
        diagnostics = server.diagnostics_of(uri, version, answer) if answer else []
        return lsp.RelatedFullDocumentDiagnosticReport(items=diagnostics)

    @server.feature(lsp.TEXT_DOCUMENT_HOVER)
    async def hovered(params: lsp.HoverParams) -> lsp.Hover | None:
        uri, position = params.text_document.uri, position_of(params.position)
        server.cursor = uri, position
        answer = await server.ask_or_tell(None, "hover", path_of(uri), position)
        if answer is None:
            return None
        where, text = answer
        content = lsp.MarkupContent(kind=lsp.MarkupKind.Markdown, value=text)
        return lsp.Hover(contents=content, range=lsp_range(where))

    @server.feature(
        lsp.TEXT_DOCUMENT_COMPLETION, lsp.CompletionOptions(trigger_characters=["{", ":", '"'])
    )
    async def completed(params: lsp.CompletionParams) -> list[lsp.CompletionItem]:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        completions = await server.ask_or_tell([], "completions", path, position)
        return [completion_of(item) for item in completions]

    @server.feature(lsp.TEXT_DOCUMENT_PREPARE_RENAME)
    async def prepared(params: lsp.PrepareRenameParams) -> lsp.PrepareRenamePlaceholder:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        where, text = await server.ask_or_refuse("place_to_rename", path, position)
        return lsp.PrepareRenamePlaceholder(range=lsp_range(where), placeholder=text)

    for features in (actions, lenses, workspace):
        features.register(server)

    @server.feature(lsp.SHUTDOWN)
    def ended(params: None) -> None:
        server.end()

    return server


def _follow(server: TrellisServer, uris: list[str]) -> None:
    """Read rules and configurations again where they have changed on the disk."""
    names = [os.path.basename(path_of(uri)) for uri in uris]
    paths = [Path(path_of(uri)) for uri in uris]
    worker = server.worker
    are_rules = any(name.endswith(".toml") for name in names)
    is_code = any(path.suffix == ".py" and _holds_rules(path) for path in paths)
    if are_rules or is_code or "trellis-baseline.json" in names:
        server.hand_over(worker.restart)
    else:
        server.hand_over(worker.call, "files_changed")
    server.count += 1
    server.answers.clear()
    server.related.clear()
    server.refresh_all()
    server.ask_to_pull()


def _holds_rules(path: Path) -> bool:
    try:
        return b"yellow_trellis" in path.read_bytes()
    except OSError:
        return True  # it may have held rules before it went


def _value(options: Any, key: str) -> Any:
    return options.get(key) if isinstance(options, dict) else getattr(options, key, None)
