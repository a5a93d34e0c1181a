"""Lenses above the rules of a rule file, and the places that a rule finds: a rule built in view.

The matches are counted anew when the text of the rules changes, over the whole workspace, in a
process beside the worker; a count that is out of date is stopped.
"""

from __future__ import annotations

import asyncio
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp

from yellow_trellis.editor.answers import RuleMatches, WrittenRule
from yellow_trellis.editor.protocol.convert import location_of, path_of
from yellow_trellis.editor.protocol.running import run_job
from yellow_trellis.editor.worker import WorkerError

if TYPE_CHECKING:
    from yellow_trellis.editor.protocol.server import TrellisServer

MATCHES = "yellow-trellis.matches"
PREVIEW = "yellow-trellis.preview"
WHY = "yellow-trellis.why"

_Matches = dict[str, RuleMatches]
_NO_MATCHES = RuleMatches([])


class _Counts:
    """The matches of the rules of each open rule file, each count made once."""

    def __init__(self, server: TrellisServer) -> None:
        self._server = server
        self._tasks: dict[str, tuple[int, asyncio.Task[_Matches | str]]] = {}
        """By URI: the number of the change that the count is made after, and the count."""

    async def of(self, uri: str) -> _Matches | str:
        """Return the matches of the rules in a file, or why there are none."""
        entry = self._tasks.get(uri)
        if entry is None or entry[0] != self._server.count:
            if entry is not None:
                entry[1].cancel()
            entry = self._server.count, asyncio.ensure_future(self._count(uri))
            self._tasks[uri] = entry
        try:
            return await asyncio.shield(entry[1])
        except asyncio.CancelledError:
            if entry[1].cancelled():
                return "the text has changed meanwhile"
            raise

    async def _count(self, uri: str) -> _Matches | str:
        try:
            done: _Matches | str = await run_job(
                self._server, "Count the matches of rules", "matches", path_of(uri), quiet=True
            )
        except WorkerError as error:
            return str(error)
        return done


def register(server: TrellisServer) -> None:
    """Let a server show lenses above rules, and what they stand for."""
    counts = _Counts(server)

    @server.feature(lsp.TEXT_DOCUMENT_CODE_LENS, lsp.CodeLensOptions(resolve_provider=True))
    async def lenses(params: lsp.CodeLensParams) -> list[lsp.CodeLens]:
        uri = params.text_document.uri
        rules: list[WrittenRule] = await server.ask_or_tell([], "rules_in", path_of(uri))
        return [lens for rule in rules for lens in _lenses(uri, rule)]

    @server.feature(lsp.CODE_LENS_RESOLVE)
    async def resolved(lens: lsp.CodeLens) -> lsp.CodeLens:
        data: Any = lens.data
        matches = await counts.of(data["uri"])
        if isinstance(matches, str):
            title = matches
        else:
            found = matches.get(data["rule"], _NO_MATCHES)
            count = len(found.places)
            title = f"{count:,} {'match' if count == 1 else 'matches'} in the workspace"
            title += f"; {' '.join(found.opened.split())}" if found.opened else ""
        lens.command = lsp.Command(title, MATCHES, arguments=[data["uri"], data["rule"]])
        return lens

    @server.feature(lsp.TEXT_DOCUMENT_REFERENCES)
    async def places(params: lsp.ReferenceParams) -> list[lsp.Location] | None:
        uri = params.text_document.uri
        rules: list[WrittenRule] = await server.ask_or_tell([], "rules_in", path_of(uri))
        above = [rule for rule in rules if rule.line <= params.position.line]
        matches = await counts.of(uri) if above else None
        if matches is None or isinstance(matches, str):
            return None
        found = matches.get(above[-1].name, _NO_MATCHES).places
        return [location_of(match.location) for match in found]

    @server.command(MATCHES)
    async def list_matches(uri: str, rule: str) -> None:
        matches = await counts.of(uri)
        if isinstance(matches, str):
            server.say(matches)
            return
        places = matches.get(rule, _NO_MATCHES).places
        if not places:
            server.say(f"{rule} finds nothing in the workspace")
            return
        lines = [f"{m.location.path}:{m.line}:{m.column}: {m.message}\n" for m in places]
        await server.show(f"matches-of-{rule}.txt", "".join(lines))

    @server.command(PREVIEW)
    async def show_diff(uri: str, rule: str) -> None:
        try:
            text = await run_job(server, f"Preview {rule}", "preview", path_of(uri), rule)
        except WorkerError as error:
            text = str(error)
        if text.startswith("---"):
            await server.show(f"preview-of-{rule}.diff", text)
        else:
            server.say(text)

    @server.command(WHY)
    async def explain(uri: str, rule: str) -> None:
        if server.cursor is None:
            server.say(
                "put the cursor on the code in question first, and ask for hover or actions there"
            )
            return
        place, position = server.cursor
        server.say(
            await server.ask_or_tell(
                "no answer", "why_not", path_of(uri), rule, path_of(place), position
            )
        )


def _lenses(uri: str, rule: WrittenRule) -> list[lsp.CodeLens]:
    start = lsp.Position(rule.line, 0)
    where = lsp.Range(start, start)
    commands = (("preview", PREVIEW), ("why not here", WHY))
    return [
        lsp.CodeLens(where, data={"uri": uri, "rule": rule.name}),
        *(
            lsp.CodeLens(where, lsp.Command(title, name, arguments=[uri, rule.name]))
            for title, name in commands
        ),
    ]
