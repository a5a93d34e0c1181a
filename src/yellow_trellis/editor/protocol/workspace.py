"""Features over a whole workspace: its findings, pulled or on demand, renaming, and moved files."""

from __future__ import annotations

import asyncio
import hashlib
from pathlib import Path
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp
from pygls.exceptions import JsonRpcException
from pygls.uris import from_fs_path

from yellow_trellis.editor.answers import OpenFinding, WorkspaceFindings
from yellow_trellis.editor.protocol.convert import diagnostic_of, path_of, position_of
from yellow_trellis.editor.protocol.edits import workspace_edit
from yellow_trellis.editor.protocol.running import changes_from, run_job
from yellow_trellis.editor.worker import WorkerError

if TYPE_CHECKING:
    from yellow_trellis.editor.protocol.server import TrellisServer

SURVEY = "yellow-trellis.survey"
"""The command that shows all findings in an editor that does not ask for them."""

_QUIET = 1.0
"""Seconds without a change before the findings of a workspace are asked for anew."""

_MOVABLE = "**/*.{py,pyi,js,jsx,mjs,cjs,ts,tsx,mts,cts}"
"""The files whose imports follow them."""

_Reports = dict[str, tuple[str, list[lsp.Diagnostic]]]


class WorkspaceReports:
    """The findings of the workspace as they were found last."""

    def __init__(self) -> None:
        self.reports: _Reports = {}
        """By URI: what tells one state of the findings of a file from another, and they."""
        self.at = -1
        """The number of the change that they were found after."""

    async def renew(
        self, server: TrellisServer, token: lsp.ProgressToken | None, *, quiet: bool
    ) -> None:
        """Look at all folders of the workspace; report what fails, and try that again next time."""
        count, reports, is_whole = server.count, {}, True
        for folder in server.roots():
            surveyed = await _survey(server, folder, token, quiet=quiet)
            reports.update(surveyed or {})
            is_whole = is_whole and surveyed is not None
        self.reports, self.at = reports, count if is_whole else -1


def register(server: TrellisServer) -> None:
    """Register the handlers of requests about a whole workspace."""
    surveyed = WorkspaceReports()

    @server.feature(lsp.WORKSPACE_DIAGNOSTIC)
    async def pulled(params: lsp.WorkspaceDiagnosticParams) -> lsp.WorkspaceDiagnosticReport:
        marks = {previous.uri: previous.value for previous in params.previous_result_ids}
        while surveyed.at != server.count:
            count = server.count
            if marks:
                await asyncio.sleep(_QUIET)
            if count == server.count:
                await surveyed.renew(server, params.work_done_token, quiet=True)
                break
        items: list[Any] = []
        for uri in sorted({*surveyed.reports, *marks}):
            mark, diagnostics = surveyed.reports.get(uri, ("", []))
            version = _version(server, uri)
            if marks.get(uri) == mark and uri in marks:
                items.append(lsp.WorkspaceUnchangedDocumentDiagnosticReport(uri, mark, version))
            else:
                items.append(
                    lsp.WorkspaceFullDocumentDiagnosticReport(
                        uri, diagnostics, version, result_id=mark
                    )
                )
        return lsp.WorkspaceDiagnosticReport(items)

    @server.command(SURVEY)
    async def survey(*arguments: Any) -> int:
        before = surveyed.reports
        await surveyed.renew(server, None, quiet=False)
        for uri in sorted({*before, *surveyed.reports}):
            if uri not in server.workspace.text_documents:
                _, diagnostics = surveyed.reports.get(uri, ("", []))
                server.text_document_publish_diagnostics(
                    lsp.PublishDiagnosticsParams(uri=uri, diagnostics=diagnostics)
                )
        return sum(len(diagnostics) for _, diagnostics in surveyed.reports.values())

    @server.feature(lsp.TEXT_DOCUMENT_RENAME, lsp.RenameOptions(prepare_provider=True))
    async def renamed(params: lsp.RenameParams) -> lsp.WorkspaceEdit:
        path, position = path_of(params.text_document.uri), position_of(params.position)
        title = f"Rename to {params.new_name}"
        done = await changes_from(server, title, "rename", path, position, params.new_name)
        if isinstance(done, str):
            raise JsonRpcException(done, lsp.LSPErrorCodes.RequestFailed.value)
        return workspace_edit(server, done)

    patterns = [
        lsp.FileOperationFilter(
            lsp.FileOperationPattern(_MOVABLE, lsp.FileOperationPatternKind.File), "file"
        ),
        lsp.FileOperationFilter(
            lsp.FileOperationPattern("**", lsp.FileOperationPatternKind.Folder), "file"
        ),
    ]

    @server.feature(
        lsp.WORKSPACE_WILL_RENAME_FILES, lsp.FileOperationRegistrationOptions(patterns)
    )
    async def moved(params: lsp.RenameFilesParams) -> lsp.WorkspaceEdit | None:
        moves = tuple((path_of(move.old_uri), path_of(move.new_uri)) for move in params.files)
        done = await changes_from(server, "Move imports", "move_imports", moves)
        if isinstance(done, str):
            server.tell(done)
            return None
        return workspace_edit(server, done)


async def _survey(
    server: TrellisServer, folder: str, token: lsp.ProgressToken | None, *, quiet: bool
) -> _Reports | None:
    """Return the findings in a folder of the workspace by URI; None where that failed."""
    title = f"Look at {Path(folder).name}"
    is_quiet = quiet and token is None
    try:
        done: WorkspaceFindings | str = await run_job(
            server, title, "survey", folder, token=token, quiet=is_quiet
        )
    except WorkerError as error:
        done = str(error)
    if isinstance(done, str):
        server.say(done, lsp.MessageType.Warning)
        return None
    for problem in done.problems:
        server.tell(problem)
    return {
        from_fs_path(path) or path: (_mark_of(findings), [diagnostic_of(one) for one in findings])
        for path, findings in done.findings.items()
    }


def _mark_of(found: tuple[OpenFinding, ...]) -> str:
    """Return what tells the findings of a file from others."""
    return hashlib.sha256(repr(found).encode("utf-8", "surrogatepass")).hexdigest()


def _version(server: TrellisServer, uri: str) -> int | None:
    return server.version_of(uri) if uri in server.workspace.text_documents else None
