"""Changes of texts as edits of the protocol, those to be confirmed and those to be filled in."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Any

from lsprotocol import types as lsp
from pygls.uris import from_fs_path

from yellow_trellis.editor.answers import REASON
from yellow_trellis.editor.protocol.convert import edits_of

if TYPE_CHECKING:
    from yellow_trellis.editor.text_change import TextChange
    from yellow_trellis.editor.protocol.server import TrellisServer

_REVIEW = "review"


def workspace_edit(
    server: TrellisServer, changes: Mapping[str, Iterable[TextChange]], to_confirm: str = ""
) -> lsp.WorkspaceEdit:
    """Return changes by path as an edit of several files.

    Arguments: `to_confirm` says what is done, where it may change behaviour: editors that know of
    confirmations ask first.
    """
    known = _known(server)
    by_path = {path: edits_of(list(some)) for path, some in sorted(changes.items())}
    if not known.document_changes:
        return lsp.WorkspaceEdit({from_fs_path(p) or p: edits for p, edits in by_path.items()})
    asks = bool(to_confirm) and known.change_annotation_support is not None
    documents: list[Any] = []
    for path, plain in by_path.items():
        edits: list[Any] = list(plain)
        if asks:
            edits = [
                lsp.AnnotatedTextEdit(_REVIEW, edit.range, edit.new_text) for edit in edits
            ]
        documents.append(lsp.TextDocumentEdit(_document(server, path), edits))
    if not asks:
        return lsp.WorkspaceEdit(document_changes=documents)
    note = lsp.ChangeAnnotation("This may change behaviour", True, to_confirm)
    return lsp.WorkspaceEdit(document_changes=documents, change_annotations={_REVIEW: note})


def edit_to_fill_in(
    server: TrellisServer, path: str, changes: Iterable[TextChange]
) -> lsp.WorkspaceEdit:
    """Return changes of a file that hold a reason to write, which editors may put the cursor on."""
    if not _known(server).snippet_edit_support:
        return workspace_edit(server, {path: changes})
    edits = edits_of(list(changes))
    snippets: list[Any] = [
        lsp.SnippetTextEdit(edit.range, lsp.StringValue(_snippet(edit.new_text))) for edit in edits
    ]
    document = lsp.TextDocumentEdit(_document(server, path), snippets)
    return lsp.WorkspaceEdit(document_changes=[document])


def _snippet(text: str) -> str:
    """Return a text as a snippet, the reason in it being what is to be typed."""
    escaped = re.sub(r"([\\$}])", r"\\\1", text)
    return escaped.replace(REASON, f"${{1:{REASON}}}", 1)


def _known(server: TrellisServer) -> lsp.WorkspaceEditClientCapabilities:
    """Return the kinds of edits that the client knows."""
    workspace = server.client_capabilities.workspace
    edit = workspace.workspace_edit if workspace is not None else None
    return edit or lsp.WorkspaceEditClientCapabilities()


def _document(
    server: TrellisServer, path: str
) -> lsp.OptionalVersionedTextDocumentIdentifier:
    uri = from_fs_path(path) or path
    version = server.version_of(uri) if uri in server.workspace.text_documents else None
    return lsp.OptionalVersionedTextDocumentIdentifier(uri=uri, version=version)
