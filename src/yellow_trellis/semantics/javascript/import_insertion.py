"""Adding imports to a file of JavaScript, in the manner of those that it has."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.lists import append_to
from yellow_trellis.semantics.javascript.imports import NAME_LISTS
from yellow_trellis.semantics.javascript.semantic_model import facts_of
from yellow_trellis.semantics.required_import import RequiredImport
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import attached, is_below_head

_IMPORT = "import_statement"


def add_imports(tree: Tree, required_imports: Iterable[tuple[RequiredImport, int]]) -> list[Edit]:
    """Return the edits that bring imports into the file `tree`.

    One that is there already adds nothing; the same one wanted twice is added once. Names join
    an import of the same module; a new statement goes behind the last of its sort, packages before
    files of the code base.
    """
    missing = dict.fromkeys(item for item, _ in required_imports if not _is_there(tree, item))
    edits: list[Edit] = []
    fresh: dict[tuple[str, bool], list[RequiredImport]] = {}
    for item in missing:
        host = _host(tree, item)
        if host is not None:
            edits += append_to(host, _specifier(item, ": " if _is_common(tree) else " as "), None)
        else:
            fresh.setdefault((item.module, item.where == "types"), []).append(item)
    return edits + _new_lines(tree, list(fresh.values()))


def _is_there(tree: Tree, item: RequiredImport) -> bool:
    names = facts_of(tree).names
    return any(
        (there.module, there.name, there.bound) == (item.module, item.name, item.bound)
        for scope, there in names.imports
        if scope is names.module
    )


def _is_common(tree: Tree) -> bool:
    """Return whether a file imports by calls of ``require``."""
    if tree.source.path.endswith((".cjs", ".cts")):
        return True
    if any(item.kind in (_IMPORT, "export_statement") for item in tree.root.items):
        return False
    if tree.source.path.endswith((".mjs", ".mts", ".ts", ".tsx")):
        return False
    module = facts_of(tree).names.module
    words = [w for w in ("require", "exports") if w in module.users and not module.binds(w)]
    has_exports = any(True for _ in tree.hits(b"module.exports", whole_word=True))
    return bool(words) or (has_exports and "module" in module.users and not module.binds("module"))


def _host(tree: Tree, item: RequiredImport) -> Node | None:
    """Return the list of names, of an import of the same module, that can take one more."""
    if item.name is None or item.name == "default":
        return None
    names = facts_of(tree).names
    for scope, there in names.imports:
        if scope is not names.module or there.module != item.module or not there.name:
            continue
        node = tree.leaf_at(there.bound_at)
        around = [] if node is None else [a for a in node.ancestors() if a.kind in NAME_LISTS]
        statement = tree.leaf_at(*there.statement)
        if not around or statement is None:
            continue
        of_types = any(child.kind == "type" for child in statement.outermost.children)
        if of_types == (item.where == "types"):
            return around[0]
    return None


def _specifier(item: RequiredImport, joint: str) -> str:
    return item.bound if item.alias is None else f"{item.name}{joint}{item.alias}"


def _new_lines(tree: Tree, groups: list[list[RequiredImport]]) -> list[Edit]:
    lines: dict[int, list[str]] = {}
    hosts: dict[int, tuple[Node, bool]] = {}
    for group in groups:
        for text in _statements(tree, group):
            host, behind = _place_for(tree, group[0].module)
            hosts[host.start] = host, behind
            lines.setdefault(host.start, []).append(text)
    return [_lines_at(tree, *hosts[key], texts) for key, texts in lines.items()]


def _statements(tree: Tree, group: list[RequiredImport]) -> list[str]:
    """Return the statements that bring a group of names from one module."""
    quote, end = _quote(tree), ";" if _has_semicolons(tree) else ""
    source = f"{quote}{group[0].module}{quote}"
    word = "import type" if group[0].where == "types" else "import"
    if _is_common(tree):
        texts = [
            f"const {item.bound} = require({source}){'.default' if item.name else ''}{end}"
            for item in group if item.name in (None, "default")
        ]
        inner = ", ".join(_specifier(i, ": ") for i in group if i.name not in (None, "default"))
        return [*texts, *([f"const {{ {inner} }} = require({source}){end}"] if inner else [])]
    texts = [
        f"{word} {'* as ' if item.name is None else ''}{item.bound} from {source}{end}"
        for item in group if item.name in (None, "default")
    ]
    specifiers = ", ".join(_specifier(i, " as ") for i in group if i.name not in (None, "default"))
    return [*texts, *([f"{word} {{ {specifiers} }} from {source}{end}"] if specifiers else [])]


def _quote(tree: Tree) -> str:
    """Return the quotes that imports of a file are in, or most of its texts."""
    sources = [source for item in _imports(tree) if (source := _source(item)) is not None]
    single = sum(source.text.startswith("'") for source in sources)
    if single * 2 != len(sources):
        return "'" if single * 2 > len(sources) else '"'
    data = tree.source.data
    return "'" if data.count(b"'") > data.count(b'"') else '"'


def _source(statement: Node) -> Node | None:
    """Return the text that says what a statement imports from."""
    return next((node for node in reversed(list(statement.walk())) if node.kind == "string"), None)


def _has_semicolons(tree: Tree) -> bool:
    """Return whether statements of a file end in semicolons; one without statements has them."""
    ends = [
        item.data.rstrip().endswith(b";")
        for item in tree.root.items
        if item.kind in (_IMPORT, "expression_statement", "lexical_declaration")
    ]
    return not ends or sum(ends) * 2 >= len(ends)


def _imports(tree: Tree) -> list[Node]:
    """Return the statements at the top that import, in order."""
    names = facts_of(tree).names
    starts = {item.statement.start for scope, item in names.imports if scope is names.module}
    return [
        item for item in tree.root.items if item.kind == _IMPORT or item.start in starts
    ]


def _place_for(tree: Tree, module: str) -> tuple[Node, bool]:
    """Return the statement beside which an import of `module` goes, and whether behind it."""
    imports = _imports(tree)
    same = [item for item in imports if _is_own(item) == module.startswith(".")]
    if same:
        return same[-1], True
    if imports:
        return (imports[-1], True) if module.startswith(".") else (imports[0], False)
    items = tree.root.items
    count = next((n for n, item in enumerate(items) if not _is_directive(item)), len(items))
    if count < len(items) and (not count or items[count - 1].kind == "hash_bang_line"):
        return items[count], False  # below the comments at the top
    return items[count - 1], True


def _is_own(statement: Node) -> bool:
    """Return whether a statement imports from a file of the code base."""
    source = _source(statement)
    return source is not None and source.text[1:2] == "."


def _is_directive(statement: Node) -> bool:
    return statement.kind == "hash_bang_line" or (
        statement.core.kind == "string" and statement.kind == "expression_statement"
    )


def _lines_at(tree: Tree, host: Node, behind: bool, texts: list[str]) -> Edit:
    text = "\n".join(texts)
    if behind:
        line = Span(host.start, tree.source.lines.end(host.end))
        return Edit.after(line, New("\n" + text))
    gap = "\n" if _is_import(tree, host) else "\n\n"
    return Edit.before(Span(_above(host), host.end), New(text + gap))


def _is_import(tree: Tree, statement: Node) -> bool:
    return any(item is statement for item in _imports(tree))


def _above(statement: Node) -> int:
    """Return the first byte of a statement with the comments that stand right above it.

    Comments at the top of the file, such as `// @ts-check`, are about the file.
    """
    own = () if is_below_head(statement) else attached(statement).before
    return own[0].start if own else statement.start
