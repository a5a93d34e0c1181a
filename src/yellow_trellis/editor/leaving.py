"""Comments that leave a finding alone: on its line, above the definition around it, for the file.

A comment is offered only where it works: the text with it is looked at before it is shown.
"""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.editor.answers import REASON, Scope
from yellow_trellis.editor.document import Document
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.positions import Range, offset_of, range_of
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.editor.text_diff import text_changes
from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes import Fix
from yellow_trellis.plans.incremental import units
from yellow_trellis.runs.run_options import USUAL, RunOptions
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree


def leave(
    files: OpenFiles, path: str, rule: str, where: Range, scope: Scope = "line"
) -> list[TextChange] | str:
    """Return the changes that write a comment, with a reason to fill in, or why there are none."""
    opened = files.opened(path)
    if isinstance(opened, str):
        return opened
    document, setup = opened
    start = offset_of(document.source, where.start, files.encoding)
    if scope == "line":
        return _on_line(files, document, setup, rule, start)
    return _above(files, document, setup, rule, where, scope)


def _on_line(
    files: OpenFiles, document: Document, setup: Setup, rule: str, start: int
) -> list[TextChange] | str:
    ruleset = replace(setup.spec.ruleset(document.path).only([rule]), leaving=REASON)

    def choose(finding: Finding, tree: Tree) -> Fix | None:
        is_it = finding.span.start == start and finding.rule == rule
        return finding.fix_at(0) if is_it else None

    report = files.report(document, setup, ruleset, RunOptions(mode="rework"), choose)
    if report.change is None:
        return "no comment can be written there"
    data = document.read(report.change.raw)
    return text_changes(document.source, data, files.encoding)


def _above(
    files: OpenFiles, document: Document, setup: Setup, rule: str, where: Range, scope: Scope
) -> list[TextChange] | str:
    source = document.source
    tree = Tree(source, document.language)
    start = offset_of(source, where.start, files.encoding)
    at = _definition(tree, start) if scope == "definition" else _first_statement(tree)
    if at is None:
        return "no definition is around it" if scope == "definition" else "the file has no code"
    indent = source.indent_at(at)
    if source.lines.start(at) + len(indent) != at:
        return f"the {scope} does not start its line"
    mark = document.language.line_comment.encode("utf-8")
    here = b" in this file" if scope == "file" else b""
    words = b" trellis: leave " + rule.encode("utf-8") + here + b" because " + REASON.encode()
    comment = mark + words + source.newline_at(at) + indent
    changed = source.data[:at] + comment + source.data[at:]
    if _is_found(files, document, setup, rule, changed, start + len(comment)):
        return "a comment there does not reach it"
    return [TextChange(range_of(source, Span(at, at), files.encoding), comment.decode("utf-8"))]


def _definition(tree: Tree, start: int) -> int | None:
    """Return where the statement of the nearest function or class around a place starts."""
    language = tree.language
    kinds = (language.family("function") or frozenset()) | (language.family("class") or frozenset())
    leaf = tree.leaf_at(start)
    around = [leaf, *leaf.ancestors()] if leaf is not None else []
    node = next((node for node in around if node is not None and node.kind in kinds), None)
    return node.statement.start if node is not None else None


def _first_statement(tree: Tree) -> int | None:
    """Return where the code of a file starts, behind comments and what opens the file."""
    for span in units(tree):
        node = tree.leaf_at(span.start)
        opens = node is not None and (node.is_comment or node.data.startswith((b"#!", b"<?")))
        if not opens:
            return span.start
    return None


def _is_found(
    files: OpenFiles, document: Document, setup: Setup, rule: str, data: bytes, start: int
) -> bool:
    """Return whether a rule still finds what starts at the byte `start` of a changed text."""
    text, macros = data.decode("utf-8"), document.source.empty_macros
    changed = Document(document.path, document.language, text, macros)
    ruleset = setup.spec.ruleset(document.path).only([rule])
    report = files.report(changed, setup, ruleset, USUAL)
    place = changed.source.place(start)
    return any(finding.start == place for finding in report.findings)
