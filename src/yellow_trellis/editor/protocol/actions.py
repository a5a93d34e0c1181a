"""Code actions: one fix, all of a rule, all that is safe, leaving alone, and the rule's setting.

What changes a folder or the workspace is no kind of `source.fixAll`: an editor that runs those on
save would ask for it with each file.
"""

from __future__ import annotations

import asyncio
import os
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp
from pygls.uris import from_fs_path

from yellow_trellis.editor.answers import SCOPES, OpenFinding
from yellow_trellis.editor.positions import Position
from yellow_trellis.editor.protocol.convert import (
    diagnostic_of,
    edits_of,
    lsp_range,
    page_of,
    path_of,
    range_of,
)
from yellow_trellis.editor.protocol.edits import edit_to_fill_in, workspace_edit
from yellow_trellis.editor.protocol.running import changes_from
from yellow_trellis.editor.worker import WorkerError

if TYPE_CHECKING:
    from yellow_trellis.editor.text_change import TextChange
    from yellow_trellis.editor.protocol.server import TrellisServer

FIX_ALL = f"{lsp.CodeActionKind.SourceFixAll.value}.yellowTrellis"
FIX_BEYOND = f"{lsp.CodeActionKind.Source.value}.yellowTrellis"
"""What changes other files too."""

LEVEL = "yellow-trellis.level"
"""The command that asks for a level of a rule, writes it and opens the configuration there."""

PAGE = "yellow-trellis.rule"
"""The command that opens where a rule is written."""

APPLY = "yellow-trellis.apply"
"""The command that does what an action says, for editors that cannot ask for its edit."""

SAVE_SECONDS = 1.5
"""How long what is done on save may take: nothing is changed where it takes longer."""

_QUICK = lsp.CodeActionKind.QuickFix
_PLACES = {"line": "here", "definition": "in this definition", "file": "in this file"}


def register(server: TrellisServer) -> None:
    """Let a server offer code actions and fix on save."""

    @server.feature(
        lsp.TEXT_DOCUMENT_CODE_ACTION,
        lsp.CodeActionOptions(
            code_action_kinds=[_QUICK, FIX_ALL, FIX_BEYOND], resolve_provider=True
        ),
    )
    async def offered(params: lsp.CodeActionParams) -> list[lsp.CodeAction | lsp.Command]:
        uri, only = params.text_document.uri, params.context.only
        where = range_of(params.range)
        server.cursor = uri, where.start
        actions: list[lsp.CodeAction] = []
        if _is_wanted(_QUICK.value, only):
            findings: list[OpenFinding] = await server.ask_or_tell(
                [], "findings_at", path_of(uri), where
            )
            for finding in findings:
                actions += _fixes(uri, finding)
            for finding in findings:
                actions += _of_rule(uri, finding)
        actions += (action for action in _of_everything(uri) if _is_wanted(str(action.kind), only))
        return as_known(server.client_capabilities, actions)

    @server.feature(lsp.CODE_ACTION_RESOLVE)
    async def resolved(action: lsp.CodeAction) -> lsp.CodeAction:
        edit = await _edit(server, action.title, action.data)
        if isinstance(edit, str):
            action.disabled = lsp.CodeActionDisabled(reason=edit)
        else:
            action.edit = edit
        return action

    @server.command(APPLY)
    async def apply(title: str, data: Any) -> None:
        edit = await _edit(server, title, data)
        if not isinstance(edit, str):
            await server.workspace_apply_edit_async(lsp.ApplyWorkspaceEditParams(edit, title))

    @server.feature(lsp.TEXT_DOCUMENT_WILL_SAVE_WAIT_UNTIL)
    async def before_saving(params: lsp.WillSaveTextDocumentParams) -> list[lsp.TextEdit]:
        uri = params.text_document.uri
        try:
            work = server.ask("fix_all", path_of(uri))
            changes = await asyncio.wait_for(work, SAVE_SECONDS)
        except (asyncio.TimeoutError, WorkerError):
            server.tell(f"nothing was fixed on save: it took more than {SAVE_SECONDS:g} s")
            return []
        return edits_of(changes)

    @server.command(LEVEL)
    async def choose_level(uri: str, rule: str) -> None:
        from yellow_trellis.findings.finding import LEVELS

        items = [lsp.MessageActionItem(level) for level in LEVELS]
        question = f"At which level is {rule} to be reported?"
        chosen = await server.window_show_message_request_async(
            lsp.ShowMessageRequestParams(lsp.MessageType.Info, question, items)
        )
        if chosen is None:
            return
        done = await server.ask_or_refuse("level", path_of(uri), rule, chosen.title)
        file, change = done
        edit = workspace_edit(server, {file: [change]})
        answer = await server.workspace_apply_edit_async(lsp.ApplyWorkspaceEditParams(edit))
        if answer.applied:
            await server.show_place(from_fs_path(file) or file, lsp_range(_new_range(change)))

    @server.command(PAGE)
    async def show_rule(page: str) -> None:
        target = page_of(page)
        if target is None:
            server.say(f"{page}: there is no such file any more")
            return
        uri, line = target
        start = lsp.Position(line, 0)
        await server.show_place(uri, lsp.Range(start, start))


def _fixes(uri: str, finding: OpenFinding) -> Iterator[lsp.CodeAction]:
    """Yield the fixes that a finding offers."""
    for number, (title, safety) in enumerate(finding.fixes):
        is_safe = safety == "safe"
        yield lsp.CodeAction(
            title=title if is_safe else f"{title} (may change behaviour)",
            kind=_QUICK,
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


def _of_rule(uri: str, finding: OpenFinding) -> Iterator[lsp.CodeAction]:
    """Yield the actions on a rule: all of it, leaving a place alone, its setting and its page."""
    rule = finding.rule
    if any(safety == "safe" for _, safety in finding.fixes):
        for scope, where in (("file", "file"), ("folder", "folder"), ("workspace", "workspace")):
            yield lsp.CodeAction(
                title=f"Apply all safe fixes of {rule} in this {where}",
                kind=_QUICK,
                data={"do": "fix_all", "uri": uri, "rules": [rule], "scope": scope},
            )
    for scope in SCOPES:
        yield lsp.CodeAction(
            title=f"Leave {rule} alone {_PLACES[scope]}, with a reason",
            kind=_QUICK,
            diagnostics=[diagnostic_of(finding)],
            data={
                "do": "leave",
                "uri": uri,
                "rule": rule,
                "scope": scope,
                "range": [*finding.range.start, *finding.range.end],
            },
        )
    yield lsp.CodeAction(
        title=f"Turn {rule} off in the configuration",
        kind=_QUICK,
        diagnostics=[diagnostic_of(finding)],
        data={"do": "level", "uri": uri, "rule": rule, "level": "off"},
    )
    title = f"Choose the level of {rule} in the configuration"
    yield lsp.CodeAction(title, _QUICK, command=lsp.Command(title, LEVEL, arguments=[uri, rule]))
    if page_of(finding.page) is not None:
        title = f"Show where {rule} is written"
        command = lsp.Command(title, PAGE, arguments=[finding.page])
        yield lsp.CodeAction(title, _QUICK, command=command)


def _of_everything(uri: str) -> Iterator[lsp.CodeAction]:
    """Yield the actions that apply all safe fixes of all rules."""
    for scope, kind in (("file", FIX_ALL), ("folder", FIX_BEYOND), ("workspace", FIX_BEYOND)):
        yield lsp.CodeAction(
            title=f"Apply all safe fixes in this {scope}",
            kind=kind,
            data={"do": "fix_all", "uri": uri, "rules": [], "scope": scope},
        )


def as_known(
    client: lsp.ClientCapabilities, actions: Iterable[lsp.CodeAction]
) -> list[lsp.CodeAction | lsp.Command]:
    """Return actions in the form that a client knows.

    One that cannot ask for the edit of an action gets the command that applies it, and one that
    knows no actions the command alone.
    """
    texts = client.text_document
    known = texts.code_action if texts is not None else None
    asks = known.resolve_support if known is not None else None
    is_resolved = asks is not None and "edit" in asks.properties
    knows_actions = known is not None and known.code_action_literal_support is not None
    results: list[lsp.CodeAction | lsp.Command] = []
    for action in actions:
        if action.command is None and not (is_resolved and knows_actions):
            arguments = [action.title, action.data]
            action.command = lsp.Command(action.title, APPLY, arguments=arguments)
        results.append(action if knows_actions or action.command is None else action.command)
    return results


async def _edit(server: TrellisServer, title: str, data: Any) -> lsp.WorkspaceEdit | str:
    """Return the edit of an action, or why there is none, which is shown too."""
    path = path_of(data["uri"])
    changes = await _changes(server, title, path, data)
    if isinstance(changes, str):
        server.say(f"{title}: {changes}", lsp.MessageType.Warning)
        return changes
    if data["do"] == "leave":
        return edit_to_fill_in(server, path, changes[path])
    return workspace_edit(server, changes, title if data.get("safety") == "review" else "")


async def _changes(
    server: TrellisServer, title: str, path: str, data: dict[str, Any]
) -> dict[str, list[TextChange]] | str:
    """Return by path the changes of an action, or why there are none."""
    if data["do"] == "fix_all" and data["scope"] != "file":
        folder = os.path.dirname(path) if data["scope"] == "folder" else ""
        done = await changes_from(server, title, "fix_all", path, folder, tuple(data["rules"]))
        return done or "no safe fix is left there"
    try:
        if data["do"] == "fix_all":
            changes = await server.ask("fix_all", path, tuple(data["rules"]))
            return {path: changes} if changes else "no safe fix is left here"
        if data["do"] == "level":
            changes = await server.ask("level", path, data["rule"], data["level"])
            return changes if isinstance(changes, str) else {changes[0]: [changes[1]]}
        line, character, last, end = data["range"]
        where = range_of(lsp.Range(lsp.Position(line, character), lsp.Position(last, end)))
        about = data["scope"] if data["do"] == "leave" else data["number"]
        changes = await server.ask(data["do"], path, data["rule"], where, about)
        return changes if isinstance(changes, str) else {path: changes}
    except WorkerError as error:
        return str(error)


def _new_range(change: TextChange) -> Any:
    """Return the range of the text that a change has written, on its last line of code."""
    assert change.range is not None
    lines = change.text.rstrip("\n").split("\n")
    line = change.range.start.line + len(lines) - 1
    start = change.range.start.character if len(lines) == 1 else 0
    where = Position(line, start)
    return change.range._replace(start=where, end=where._replace(character=start + len(lines[-1])))


def _is_wanted(kind: str, only: Any) -> bool:
    if not only:
        return True
    names = [str(getattr(kind, "value", kind)) for kind in only]
    return any(kind == name or kind.startswith(f"{name}.") for name in names)
