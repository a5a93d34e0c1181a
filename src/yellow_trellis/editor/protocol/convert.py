"""Between the types of the protocol and the plain data of the session."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from lsprotocol import types as lsp
from pygls.uris import from_fs_path, to_fs_path

from yellow_trellis.editor.answers import Location, OpenFinding, Related
from yellow_trellis.editor.authoring.completion import Completion
from yellow_trellis.editor.positions import Position, PositionEncoding, Range
from yellow_trellis.editor.text_change import TextChange

SOURCE = "yellow-trellis"
_SEVERITY = {
    "error": lsp.DiagnosticSeverity.Error,
    "warning": lsp.DiagnosticSeverity.Warning,
    "note": lsp.DiagnosticSeverity.Information,
    "off": lsp.DiagnosticSeverity.Hint,
}
_TAGS = {
    "deprecated": lsp.DiagnosticTag.Deprecated,
    "unnecessary": lsp.DiagnosticTag.Unnecessary,
    "unused": lsp.DiagnosticTag.Unnecessary,
}
"""By tag of a rule: how an editor shows the code that it finds."""


_COMPLETIONS = {
    "key": lsp.CompletionItemKind.Property,
    "value": lsp.CompletionItemKind.Value,
    "kind": lsp.CompletionItemKind.EnumMember,
    "family": lsp.CompletionItemKind.Enum,
    "hole": lsp.CompletionItemKind.Variable,
}


def encoding_of(kind: lsp.PositionEncodingKind | str | None) -> PositionEncoding:
    """Return what the positions of a connection count."""
    if kind in (lsp.PositionEncodingKind.Utf8, "utf-8"):
        return "utf-8"
    return "utf-32" if kind in (lsp.PositionEncodingKind.Utf32, "utf-32") else "utf-16"


def path_of(uri: str) -> str:
    """Return the path of a file by its URI, or the URI of what is none."""
    return to_fs_path(uri) or uri


def range_of(where: lsp.Range) -> Range:
    """Return a range of the protocol as the session takes it."""
    start, end = where.start, where.end
    return Range(Position(start.line, start.character), Position(end.line, end.character))


def lsp_range(where: Range) -> lsp.Range:
    """Return a range as the protocol has it."""
    return lsp.Range(lsp.Position(*where.start), lsp.Position(*where.end))


def changes_of(
    changes: Sequence[lsp.TextDocumentContentChangeEvent],
) -> list[TextChange]:
    """Return changes of a text as the session takes them."""
    return [
        TextChange(
            range_of(change.range)
            if isinstance(change, lsp.TextDocumentContentChangePartial)
            else None,
            change.text,
        )
        for change in changes
    ]


def edits_of(changes: Sequence[TextChange]) -> list[lsp.TextEdit]:
    """Return changes of a text as edits of the protocol."""
    return [
        lsp.TextEdit(range=lsp_range(change.range), new_text=change.text)
        for change in changes
        if change.range is not None
    ]


def position_of(position: lsp.Position) -> Position:
    """Return a position of the protocol as the session takes it."""
    return Position(position.line, position.character)


def diagnostic_of(finding: OpenFinding, related: Sequence[Related] = ()) -> lsp.Diagnostic:
    """Return a finding as the protocol has it, with those of the `related` places that are its."""
    others = [
        lsp.DiagnosticRelatedInformation(location_of(place.other), place.message)
        for place in related
        if place.rule == finding.rule and _meet(place.range, finding.range)
    ]
    tags = sorted({_TAGS[tag] for tag in finding.tags if tag in _TAGS})
    return lsp.Diagnostic(
        range=lsp_range(finding.range),
        message=finding.message,
        severity=_SEVERITY[finding.level],
        code=finding.rule or None,
        code_description=_page(finding.page),
        source=SOURCE,
        tags=tags or None,
        related_information=others or None,
    )


def location_of(place: Location) -> lsp.Location:
    """Return a range in a file as the protocol has it."""
    return lsp.Location(from_fs_path(place.path) or place.path, lsp_range(place.range))


def completion_of(found: Completion) -> lsp.CompletionItem:
    """Return a completion as the protocol has it."""
    return lsp.CompletionItem(
        label=found.word, kind=_COMPLETIONS[found.kind], detail=found.detail or None
    )


def _meet(first: Range, second: Range) -> bool:
    return first.start <= second.end and second.start <= first.end


def _page(place: str) -> lsp.CodeDescription | None:
    """Return the link to where a rule is written, ``path:line``."""
    target = page_of(place)
    return None if target is None else lsp.CodeDescription(f"{target[0]}#L{target[1] + 1}")


def page_of(place: str) -> tuple[str, int] | None:
    """Return URI and line, from 0, of where a rule is written, ``path:line``."""
    path, _, line = place.partition(":")
    file = Path(path)
    if not file.is_absolute() or not file.is_file():
        return None
    number = line.partition(":")[0]
    return file.as_uri(), int(number) - 1 if number.isdigit() else 0
