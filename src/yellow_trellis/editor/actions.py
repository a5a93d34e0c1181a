"""Code actions: one fix, all of a rule, all that may be fixed unasked, and leaving alone."""

from __future__ import annotations

import asyncio
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp
from pygls.uris import from_fs_path

from yellow_trellis.editor.convert import diagnostic_of, edits_of, path_of, range_of
from yellow_trellis.editor.document import TextChange
from yellow_trellis.editor.session import OpenFinding
from yellow_trellis.editor.worker import WorkerFailed

if TYPE_CHECKING:
    from yellow_trellis.editor.server import TrellisServer

FIX_ALL = f"{lsp.CodeActionKind.SourceFixAll.value}.yellowTrellis"
SAVE_SECONDS = 1.5
"""How long what is done on save may take: nothing is changed where it takes longer."""
_REVIEW = "review"


def register(server: TrellisServer) -> None:
    """Let a server offer code actions and fix on save."""

    @server.feature(
        lsp.TEXT_DOCUMENT_CODE_ACTION,
        lsp.CodeActionOptions(
            code_action_kinds=[lsp.CodeActionKind.QuickFix, FIX_ALL], resolve_provider=True
        ),
    )
    async def offered(params: lsp.CodeActionParams) -> list[lsp.CodeAction]:
        uri, only = params.text_document.uri, params.context.only
        actions: list[lsp.CodeAction] = []
        if _is_wanted(lsp.CodeActionKind.QuickFix.value, only):
            findings = await _findings(server, uri, params.range)
            actions += [
                _fix(uri, finding, number)
                for finding in findings
                for number in range(len(finding.fixes))
            ]
            actions += _of_rules(uri, findings)
        if _is_wanted(FIX_ALL, only):
            actions.append(
                lsp.CodeAction(
                    title="Apply all safe fixes in this file",
                    kind=FIX_ALL,
                    data={"do": "fix_all", "uri": uri, "rules": []},
                )
            )
        return actions

    @server.feature(lsp.CODE_ACTION_RESOLVE)
    async def resolved(action: lsp.CodeAction) -> lsp.CodeAction:
        data: Any = action.data
        if data["do"] == "level":
            return await _with_level(server, action, data)
        changes = await _changes(server, data)
        if isinstance(changes, str):
            action.disabled = lsp.CodeActionDisabled(reason=changes)
            server.tell(f"{action.title}: {changes}")
            return action
        review = data.get("safety") == _REVIEW
        action.edit = _edit(server, data["uri"], changes, action.title if review else "")
        return action

    @server.feature(lsp.TEXT_DOCUMENT_WILL_SAVE_WAIT_UNTIL)
    async def before_saving(params: lsp.WillSaveTextDocumentParams) -> list[lsp.TextEdit]:
        uri = params.text_document.uri
        try:
            work = server.ask("fix_all", path_of(uri))
            changes = await asyncio.wait_for(work, SAVE_SECONDS)
        except (asyncio.TimeoutError, WorkerFailed):
            server.tell(f"nothing was fixed on save: it took more than {SAVE_SECONDS:g} s")
            return []
        return edits_of(changes)


async def _findings(server: TrellisServer, uri: str, where: lsp.Range) -> list[OpenFinding]:
    try:
        found: list[OpenFinding] = await server.ask("findings_at", path_of(uri), range_of(where))
    except WorkerFailed as error:
        server.tell(str(error))
        return []
    return found


def _fix(uri: str, finding: OpenFinding, number: int) -> lsp.CodeAction:
    title, safety = finding.fixes[number]
    is_safe = safety == "safe"
    return lsp.CodeAction(
        title=title if is_safe else f"{title} (may change behaviour)",
        kind=lsp.CodeActionKind.QuickFix,
        diagnostics=[diagnostic_of(finding)],
        is_preferred=(is_safe and number == 0) or None,
        data={
            "do": "one_fix",
            "uri": uri,
            "rule": finding.rule,
            "range": [*finding.range.start, *finding.range.end],
            "number": number,
            "safety": safety,
        },
    )


def _of_rules(uri: str, findings: list[OpenFinding]) -> list[lsp.CodeAction]:
    """Return the actions on a rule: all of it, leaving a place alone, turning it off."""
    actions = []
    for finding in findings:
        where = [*finding.range.start, *finding.range.end]
        if any(safety == "safe" for _, safety in finding.fixes):
            actions.append(
                lsp.CodeAction(
                    title=f"Apply all safe fixes of {finding.rule} in this file",
                    kind=lsp.CodeActionKind.QuickFix,
                    data={"do": "fix_all", "uri": uri, "rules": [finding.rule]},
                )
            )
        actions.append(
            lsp.CodeAction(
                title=f"Leave this alone: a comment for {finding.rule}",
                kind=lsp.CodeActionKind.QuickFix,
                diagnostics=[diagnostic_of(finding)],
                data={"do": "leave", "uri": uri, "rule": finding.rule, "range": where},
            )
        )
        actions.append(
            lsp.CodeAction(
                title=f"Turn {finding.rule} off in the configuration",
                kind=lsp.CodeActionKind.QuickFix,
                diagnostics=[diagnostic_of(finding)],
                data={"do": "level", "uri": uri, "rule": finding.rule, "level": "off"},
            )
        )
    return actions


async def _with_level(
    server: TrellisServer, action: lsp.CodeAction, data: dict[str, Any]
) -> lsp.CodeAction:
    """Return an action with the change of the configuration."""
    try:
        done = await server.ask("level", path_of(data["uri"]), data["rule"], data["level"])
    except WorkerFailed as error:
        done = str(error)
    if isinstance(done, str):
        action.disabled = lsp.CodeActionDisabled(reason=done)
        server.tell(f"{action.title}: {done}")
        return action
    path, change = done
    action.edit = workspace_edit(server, {path: [change]})
    return action


def workspace_edit(
    server: TrellisServer, changes: dict[str, list[TextChange]]
) -> lsp.WorkspaceEdit:
    """Return changes by path as an edit of several files."""
    documents: list[Any] = []
    for path, some in sorted(changes.items()):
        uri = from_fs_path(path) or path
        version = server.version_of(uri) if uri in server.workspace.text_documents else None
        document = lsp.OptionalVersionedTextDocumentIdentifier(uri=uri, version=version)
        documents.append(lsp.TextDocumentEdit(document, list(edits_of(some))))
    return lsp.WorkspaceEdit(document_changes=documents)


async def _changes(server: TrellisServer, data: dict[str, Any]) -> list[TextChange] | str:
    """Return the changes of an action, or why there are none."""
    path = path_of(data["uri"])
    try:
        if data["do"] == "fix_all":
            changes: list[TextChange] | str = await server.ask(
                "fix_all", path, tuple(data["rules"])
            )
            return changes or "no safe fix is left here"
        line, character, last, end = data["range"]
        where = range_of(
            lsp.Range(lsp.Position(line, character), lsp.Position(last, end))
        )
        if data["do"] == "leave":
            changes = await server.ask("leave", path, data["rule"], where, "")
        else:
            changes = await server.ask("one_fix", path, data["rule"], where, data["number"])
        return changes
    except WorkerFailed as error:
        return str(error)


def _edit(
    server: TrellisServer, uri: str, changes: list[TextChange], to_confirm: str
) -> lsp.WorkspaceEdit:
    """Return the edit of one file; what may change behaviour is to be confirmed."""
    edits: list[Any] = list(edits_of(changes))
    annotations = None
    if to_confirm:
        annotations = {
            _REVIEW: lsp.ChangeAnnotation(
                label="This may change behaviour", needs_confirmation=True, description=to_confirm
            )
        }
        edits = [
            lsp.AnnotatedTextEdit(annotation_id=_REVIEW, range=edit.range, new_text=edit.new_text)
            for edit in edits
        ]
    document = lsp.OptionalVersionedTextDocumentIdentifier(uri=uri, version=server.version_of(uri))
    return lsp.WorkspaceEdit(
        document_changes=[lsp.TextDocumentEdit(text_document=document, edits=edits)],
        change_annotations=annotations,
    )


def _is_wanted(kind: str, only: Any) -> bool:
    if not only:
        return True
    names = [str(getattr(one, "value", one)) for one in only]
    return any(kind == name or kind.startswith(f"{name}.") for name in names)
