"""`ytr tree`: how code is built, for whoever writes a pattern for it."""

from __future__ import annotations

from yellow_trellis.cli.arguments import Takes, UsageError, flag, known_language, option
from yellow_trellis.cli.console import BAD, DIM, console, notes
from yellow_trellis.cli.options import format_option
from yellow_trellis.cli.output import Output, styled, write
from yellow_trellis.cli.source_file import source_file
from yellow_trellis.languages import DEFAULT, Language, language, undeclared
from yellow_trellis.patterns import PatternNode, compile_pattern
from yellow_trellis.reports.json import VERSION, dumped, place_as_json
from yellow_trellis.source import Place, Source, Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.visible_text import visible

_SNIPPET = 48


EXAMPLE = "ytr tree --code 'stamp(HOME, exact=True)'    ytr tree app.py --at 12"
TAKES: Takes = (
    option("path", metavar="PATH", nargs="?", help="The file; `-` is standard input."),
    option("--code", help="Show the tree of this code instead of a file's."),
    option(
        "--at",
        metavar="LINE[:COLUMN]",
        help="Show only the statement on this line, or the node at this place. Example: --at 12:5",
    ),
    option(
        "--language",
        dest="chosen",
        metavar="LANGUAGE",
        type=known_language,
        help="The language; told by the file name if left out. Example: --language javascript",
    ),
    option(
        "--grammar",
        dest="grammar_package",
        metavar="PACKAGE[:FUNCTION]",
        help="Read the code with the grammar in an installed package, of a language that is not "
        "declared here yet. Example: --grammar tree_sitter_lua",
    ),
    flag("--tokens", help="Show brackets, operators and other fixed tokens too."),
    flag("--families", help="Show the families that a hole may ask for at each node."),
    option(
        "--pattern",
        help="Show the tree of this pattern too, each hole as it stands. Example: "
        "--pattern 'f(@{x})'",
    ),
    format_option("text", "json"),
)


def command(
    path: str | None,
    code: str | None,
    at: str | None,
    chosen: str | None,
    grammar_package: str | None,
    tokens: bool,
    families: bool,
    pattern: str | None,
    form: str,
) -> None:
    """Show how the code in PATH is built: kinds of nodes, fields, places, text.

    Without PATH and without --code the code is read from standard input.
    """
    source, spoken = _read(path, code, _chosen(chosen, grammar_package))
    tree = Tree(source, spoken)
    node = tree.root if at is None else _node_at(tree, at)
    compiled = None if pattern is None else compile_pattern(pattern, tree.language)
    if form == "json":
        write(dumped({"version": VERSION, "language": spoken.name, "tree": _as_json(node)}))
        return
    out = console()
    _show(out, node, 0, tokens, families)
    if compiled is not None:
        out.print()
        out.print(styled("The pattern  ", (compiled.text, "yellow")))
        for root in compiled.roots:
            _show_shape(out, root, 0, tokens)
    if tree.broken:
        places = ", ".join(str(source.place(span.start)) for span in tree.broken[:5])
        notes().print(styled(f"Some of it does not parse, at {places}.", style=BAD))


def _chosen(name: str | None, package: str | None) -> Language | None:
    """Return the language that a user names, or one of which there is nothing but a grammar."""
    if package is None:
        return None if name is None else language(name)
    if name is not None:
        raise UsageError("give --language or --grammar, not both")
    try:
        spoken = undeclared(package)
        Tree(Source(b""), spoken)
    except ModuleNotFoundError as missing:
        raise UsageError(f"there is no package {missing.name!r}: install it with pip") from None
    except (AttributeError, TypeError, ValueError) as wrong:
        message = f"the package {package!r} has no grammar to read code with: {wrong}"
        raise UsageError(message) from None
    return spoken


def _read(
    path: str | None, code: str | None, chosen: Language | None
) -> tuple[Source, Language]:
    if path is not None and code is not None:
        raise UsageError("give a file or --code, not both")
    if code is not None:
        spoken = chosen or language(DEFAULT)
        return Source(code.encode("utf-8", "surrogateescape")), spoken
    return source_file(path or "-", DEFAULT, chosen)


def _node_at(tree: Tree, at: str) -> Node:
    line, _, column = at.partition(":")
    if not line.isdigit() or (column and not column.isdigit()) or int(line) < 1:
        raise UsageError(f"{at!r} is no place; write LINE or LINE:COLUMN, from 1")
    source = tree.source
    if int(line) > len(source.lines):
        raise UsageError(f"there is no line {line}; the code has {len(source.lines)}")
    if column:
        offset = source.lines.offset(Place(int(line), int(column)))
        return tree.leaf_at(offset) or tree.root
    start = source.lines.starts[int(line) - 1]
    start += len(source.indent_at(start))
    return _statement(tree, Span(start, source.lines.end(start)))


def _statement(tree: Tree, line: Span) -> Node:
    node = tree.leaf_at(line.start) or tree.root
    for above in (node, *node.ancestors()):
        if above.parent is None or above.parent.kind in tree.language.bodies:
            return above
    return tree.root


def _show_shape(out: Output, shape: PatternNode, depth: int, tokens: bool) -> None:
    text = "  " * depth
    if shape.field:
        text += styled(f"{shape.field}: ", style="cyan")
    if shape.hole is not None:
        text += styled(shape.notation, style="bold yellow")
    elif shape.text is not None:
        word = shape.text.decode("utf-8", "replace")
        if word == shape.kind and not tokens:
            return
        text += styled(shape.kind, style="bold")
        text += styled(f"  {word}", style="yellow")
    else:
        text += styled(shape.kind, style="bold")
    out.print(text)
    for item in shape.items:
        _show_shape(out, item, depth + 1, tokens)


def _show(out: Output, node: Node, depth: int, tokens: bool, families: bool) -> None:
    text = "  " * depth
    if node.field:
        text += styled(f"{node.field}: ", style="cyan")
    name = node.named or node.is_comment
    text += styled(node.kind if name else f"`{node.kind}`", style="bold" if name else DIM)
    if node.is_broken:
        text += styled("  does not parse", style=BAD)
    end = node.tree.source.place(node.end)
    text += styled(f"  {node.place}-{end}", style=DIM)
    shown = [c for c in node.children if tokens or c.named or c.is_comment or c.is_broken]
    if not shown:
        snippet = visible(" ".join(node.text.split()))
        cut = snippet if len(snippet) <= _SNIPPET else snippet[: _SNIPPET - 3] + "..."
        text += styled(f"  {cut}", style="yellow")
    entry = node.tree.language.families_of(node.kind) if families else []
    if entry:
        text += styled(f"  {', '.join(entry)}", style="magenta")
    out.print(text)
    for child in shown:
        _show(out, child, depth + 1, tokens, families)


def _as_json(node: Node) -> dict[str, object]:
    table: dict[str, object] = {"kind": node.kind}
    if node.field:
        table["field"] = node.field
    table["start"] = place_as_json(node.place)
    table["end"] = place_as_json(node.tree.source.place(node.end))
    table["span"] = list(node.span)
    if node.children:
        table["children"] = [_as_json(child) for child in node.children]
    else:
        table["text"] = node.text
    return table
