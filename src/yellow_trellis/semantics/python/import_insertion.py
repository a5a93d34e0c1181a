"""Adding imports where the file keeps them, in the order and layout that it has."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise

from msgspec import Struct, field

from yellow_trellis.edits import Edit, New
from yellow_trellis.semantics import RequiredImport, types_only
from yellow_trellis.semantics.python.semantic_model import facts_of
from yellow_trellis.semantics.required_import import ImportForm
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import is_below_head, reach

_SHORTEST_LIMIT, _LONGEST_LIMIT = 79, 120
_NAMED = "import_from_statement"
_PLAIN = "import_statement"
_FUTURE = "future_import_statement"


class _Block(Struct):
    """A body with imports in it, and what is to be added there."""

    body: Node
    statements: list[Node]
    """Its imports, in order, those from ``__future__`` aside."""
    wanted: list[RequiredImport] = field(default_factory=list)

    @property
    def tree(self) -> Tree:
        return self.body.tree

    def end_before(self, at: int) -> None:
        """Leave out the imports that are done behind the statement in which byte `at` lies."""
        leaf = self.tree.leaf_at(at) if at else None
        for node in (leaf, *leaf.ancestors()) if leaf is not None else ():
            if node.parent is self.body and node.kind not in self.tree.language.imports:
                self.statements = [
                    statement for statement in self.statements if statement.start < node.start
                ]

    def end_with_run(self, statement: Node) -> None:
        """Leave out the imports behind the run of imports of which `statement` is one."""
        items = self.body.items
        at = next(i for i, item in enumerate(items) if item is statement)
        while at + 1 < len(items) and items[at + 1].kind in (_PLAIN, _NAMED):
            at += 1
        self.statements = [
            statement for statement in self.statements if statement.start <= items[at].start
        ]


def add_imports(tree: Tree, required_imports: Iterable[tuple[RequiredImport, int]]) -> list[Edit]:
    """Return the edits that bring the imports `required_imports` into the file `tree`.

    Arguments: each is wanted for code at a byte of the file, which decides for a local one.
    One that is there already adds nothing; the same one wanted twice is added once.
    """
    blocks: dict[int, _Block] = {}
    fresh: list[str] = []
    queries = list(required_imports)
    if any(item.where == "types" for item, _ in queries) and _types_block(tree) is None:
        fresh = sorted({item.statement for item, _ in queries if item.where == "types"})
        queries = [
            (item, at) for item, at in queries if item.where != "types"
        ] + [(_TYPE_CHECKING, 0)]
    for item, at in queries:
        old = _statement_of(tree, item.beside, at) if item.beside is not None else None
        body = old.parent if old is not None else None
        block = _block(body) if body is not None else _block(_body(tree, item, at))
        block = blocks.setdefault(block.body.start, block)
        if old is not None:
            block.end_with_run(old)
        elif item.where != "types":
            block.end_before(at)
        block.wanted.append(item)
    for block in blocks.values():
        entry = {item.statement: item for item in block.wanted}.values()
        block.wanted = [
            item for item in entry if not any(_brings(s, item) for s in block.statements)
        ]
    edits = [edit for block in blocks.values() for edit in _edits(block)]
    if fresh:
        edits.append(_new_types_block(tree, fresh))
    return _at_one_point(edits)


_TYPE_CHECKING = RequiredImport("typing.TYPE_CHECKING", "typing", "TYPE_CHECKING")


def _types_block(tree: Tree) -> Node | None:
    """Return the body of the block that only type checkers read, if the file has one."""
    for statement in tree.root.items:
        inner = statement.child("consequence")
        if inner is not None and inner.items and types_only(inner.items[0]):
            return inner
    return None


def _new_types_block(tree: Tree, statements: list[str]) -> Edit:
    """Make such a block behind the imports of the file."""
    indent = tree.source.indent_unit.decode()
    text = "\n\nif TYPE_CHECKING:" + "".join(f"\n{indent}{statement}" for statement in statements)
    imports = [s for s in tree.root.items if s.kind in (_PLAIN, _NAMED, _FUTURE)]
    last = imports[-1] if imports else tree.root.items[0]
    return Edit.after(Span(last.start, max(reach(last).end, last.end)), New(text))


def _statement_of(tree: Tree, brought: ImportForm, at: int) -> Node | None:
    """Return the import written like `brought` that is nearest around byte `at`."""
    leaf = tree.leaf_at(at)
    around = [node.span for node in leaf.ancestors()] if leaf is not None else []
    results: list[tuple[int, int, Node]] = []
    for scope, item in facts_of(tree).names.imports:
        if ImportForm.of(item) != brought or not scope.start <= at <= scope.end:
            continue  # another one, or one that is not seen from there
        statement = tree.leaf_at(*item.statement)
        if statement is None or statement.parent is None:
            continue
        bodies = {above.span for above in statement.ancestors()}
        depths = (depth for depth, span in enumerate(around) if span in bodies)
        results.append((next(depths, len(around)), statement.start, statement))
    return min(results, default=(0, 0, None))[2]


def _body(tree: Tree, required_import: RequiredImport, at: int) -> Node:
    """Return the body in which an import goes that comes for no other."""
    body = tree.root
    if required_import.where == "local":
        leaf = tree.leaf_at(at)
        around = (leaf, *leaf.ancestors()) if leaf is not None else ()
        function = next((a for a in around if a.kind == "function_definition"), None)
        body = (function.child("body") if function is not None else None) or tree.root
    elif required_import.where == "types":
        body = _types_block(tree) or tree.root
    return body


def _block(body: Node) -> _Block:
    return _Block(body, [item for item in body.items if item.kind in (_PLAIN, _NAMED)])


def _brings(statement: Node, required_import: RequiredImport) -> bool:
    if _module_of(statement) != (
        required_import.module if required_import.name is not None else None
    ):
        return False
    return any(item.text == required_import.item for item in names_in(statement))


def _module_of(statement: Node) -> str | None:
    """Return the module of a ``from`` import as written; None for a plain import."""
    module = statement.child("module_name")
    return "".join(module.text.split()) if module is not None else None


def names_in(statement: Node) -> tuple[Node, ...]:
    """Return the items of an import statement: what it brings, without the module."""
    return tuple(item for item in statement.items if item.field == "name")


def _edits(block: _Block) -> list[Edit]:
    """Return the edits for one block; names for one statement, and new lines at one place, once."""
    joining: dict[int, tuple[Node, list[RequiredImport]]] = {}
    alone: dict[str, list[RequiredImport]] = {}
    for item in block.wanted:
        host = _host(block, item)
        if host is not None:
            joining.setdefault(host.start, (host, []))[1].append(item)
        else:
            alone.setdefault(
                item.module if item.name is not None else item.statement, []
            ).append(item)
    edits = [
        edit
        for host, joined in joining.values()
        for edit in _joined(host, sorted((w.item for w in joined), key=str.lower))
    ]
    lines: list[tuple[str, str]] = []
    for together in alone.values():
        first = together[0]
        names = ", ".join(sorted((w.item for w in together), key=str.lower))
        text = f"import {names}" if first.name is None else f"from {first.module} import {names}"
        lines.append((first.module, text))
    return edits + _new_lines(block, sorted(lines))


def _host(block: _Block, required_import: RequiredImport) -> Node | None:
    """Return the statement that the name can join."""
    if required_import.name is None:
        return None
    for statement in block.statements:
        if statement.kind != _NAMED or _module_of(statement) != required_import.module:
            continue
        names = names_in(statement)
        if not names:
            continue  # a star
        line = statement.tree.source.lines
        single = line.number(statement.start) == line.number(statement.end)
        bracketed = any(child.kind == "(" for child in statement.children)
        length = statement.place.column + len(statement.text) + len(required_import.item) + 1
        if single and length > _limit(statement.tree):
            continue
        if not single and not bracketed:
            continue
        return statement
    return None


def _limit(tree: Tree) -> int:
    """Return how long the lines of the file may get, judged by the longest there is."""
    longest = max((len(line) for line in tree.source.data.split(b"\n")), default=0)
    return min(max(longest, _SHORTEST_LIMIT), _LONGEST_LIMIT)


def _joined(statement: Node, items: list[str]) -> list[Edit]:
    """Add names to a ``from`` import."""
    names = names_in(statement)
    order = _order([name.text for name in names])
    edits: dict[int, list[str]] = {}
    for item in items:
        at = len(names)
        if order is not None:
            at = next((i for i, name in enumerate(names) if order(name.text) > order(item)), at)
        edits.setdefault(at, []).append(item)
    results: list[Edit] = []
    for at, new in edits.items():
        results += _before_item(names[at], new) if at < len(names) else _behind_last(names[-1], new)
    return results


def _before_item(name: Node, new: list[str]) -> list[Edit]:
    source = name.tree.source
    lead = source.data[source.lines.start(name.start) : name.start]
    gap = ", " if lead.strip() else ",\n" + lead.decode()
    return [Edit.before(Span(reach(name).start, name.end), New("".join(n + gap for n in new)))]


def _behind_last(name: Node, new: list[str]) -> list[Edit]:
    source = name.tree.source
    lead = source.data[source.lines.start(name.start) : name.start]
    follow = name.next
    comma = follow is not None and follow.kind == ","
    if lead.strip() or follow is None:
        end = follow.span if comma and follow is not None else name.span
        text = "".join(f" {n}," for n in new) if comma else "".join(f", {n}" for n in new)
        return [Edit.after(end, New(text))]
    indent = "\n" + lead.decode()
    end = Span(name.start, max(reach(name).end, follow.end if comma else 0))
    lines = "".join(f"{indent}{n}," for n in new)
    if comma:
        return [Edit.after(end, New(lines))]
    if end.end == name.end:
        return [Edit.after(name.span, New("," + lines[:-1]))]
    return [Edit.after(name.span, New(",")), Edit.after(end, New(lines[:-1]))]


Order = Callable[[str], tuple[object, ...]]


def _order(texts: Sequence[str]) -> Order | None:
    """Return the order in which `texts` stand; None where they stand in none."""
    orders: tuple[Order, ...] = (
        lambda text: (text.lower(),),
        lambda text: (text,),
        lambda text: (not text.isupper(), not text[:1].isupper(), text),
    )
    for order in orders:
        keys = [order(text) for text in texts]
        if all(a <= b for a, b in pairwise(keys)):
            return order
    return None


# ---------------------------------------------------------------------- statements of their own


def _new_lines(block: _Block, lines: list[tuple[str, str]]) -> list[Edit]:
    """Place each new statement; several at one place become one edit."""
    if not lines:
        return []
    groups = _groups(block.statements)
    behind: dict[int, tuple[Node, list[str]]] = {}
    ahead: dict[int, tuple[Node, list[str]]] = {}
    apart: list[tuple[Node, bool, str]] = []
    for module, text in lines:
        group = _group_for(groups, module, block.tree)
        if group is not None:
            spot, before = _spot(group, text)
            side = ahead if before else behind
            side.setdefault(spot.start, (spot, []))[1].append(text)
        elif groups:
            rank = _rank(module)
            later = [g for g in groups if _rank(_sort_module(g[0])) > rank]
            if later and later[0] is groups[0]:
                apart.append((groups[0][0], True, text))
            else:
                last = groups[groups.index(later[0]) - 1] if later else groups[-1]
                apart.append((last[-1], False, text))
        else:
            return [_first_import(block, [text for _, text in lines])]
    edits = [_line_before(node, texts, "") for node, texts in ahead.values()]
    edits += [_line_behind(node, texts, "") for node, texts in behind.values()]
    merged: dict[tuple[int, bool], tuple[Node, list[str]]] = {}
    for node, before, text in apart:
        merged.setdefault((node.start, before), (node, []))[1].append(text)
    for (_, before), (node, texts) in merged.items():
        edits.append(_line_before(node, texts, "\n") if before else _line_behind(node, texts, "\n"))
    return _at_one_point(edits)


def _at_one_point(edits: list[Edit]) -> list[Edit]:
    """Join insertions that cling to the same code."""
    table: dict[tuple[Span | None, object], Edit] = {}
    for edit in edits:
        key = (edit.anchor, edit.side)
        entry = table.get(key)
        table[key] = (
            edit
            if entry is None
            else Edit(edit.span, (*entry.pieces, *edit.pieces), edit.anchor, edit.side)
        )
    return list(table.values())


def _groups(statements: list[Node]) -> list[list[Node]]:
    """Return the imports in groups: those that no blank line and no other code divides."""
    groups: list[list[Node]] = []
    for statement in statements:
        if groups:
            last = groups[-1][-1]
            between = statement.tree.source.data[last.end : reach(statement).start]
            if between.count(b"\n") <= 1 + between.count(b"#") and b"\n\n" not in between:
                groups[-1].append(statement)
                continue
        groups.append([statement])
    return groups


def _sort_module(statement: Node) -> str:
    module = _module_of(statement)
    if module is None:
        module = names_in(statement)[0].text.partition(" ")[0]
    return module


def _rank(module: str) -> int:
    """Return which group a module belongs to: the language's own, others', the project's."""
    if module.startswith("."):
        return 2
    return 0 if module.partition(".")[0] in sys.stdlib_module_names else 1


def _group_for(groups: list[list[Node]], module: str, tree: Tree) -> list[Node] | None:
    top = "." if module.startswith(".") else module.partition(".")[0]
    for group in groups:
        for item in group:
            theirs = _sort_module(item)
            if ("." if theirs.startswith(".") else theirs.partition(".")[0]) == top:
                return group
    rank = _rank(module)
    same = [g for g in groups if all(_rank(_sort_module(item)) == rank for item in g)]
    if same:
        return same[0]
    return (
        groups[0]
        if len(groups) == 1 and len({_rank(_sort_module(o)) for o in groups[0]}) > 1
        else None
    )


def _spot(group: list[Node], text: str) -> tuple[Node, bool]:
    """Return the statement beside which `text` goes, and whether before it."""
    orders: tuple[Callable[[bool, str], tuple[bool | str, ...]], ...] = (
        lambda name, module: (name, module.lower()),
        lambda name, module: (module.lower(), name),
        lambda name, module: (not name, module.lower()),
    )
    name = text.startswith("from ")
    new = text.split()[1].rstrip(",")
    for order in orders:
        keys = [order(item.kind == _NAMED, _sort_module(item)) for item in group]
        if all(a <= b for a, b in pairwise(keys)):
            mine = order(name, new)
            before = next((i for i, key in enumerate(keys) if key > mine), None)
            if before is None:
                return group[-1], False
            return (group[0], True) if before == 0 else (group[before - 1], False)
    return group[-1], False


def _line_behind(node: Node, texts: list[str], gap: str) -> Edit:
    source = node.tree.source
    indent = source.indent_at(node.start).decode()
    end = max(reach(node).end, node.end)
    line_end = source.lines.end(source.lines.start(end))
    tail = source.data[end:line_end].strip()
    if tail or _is_on_header(node):  # other code on the line
        return Edit.after(node.span, New("".join("; " + text for text in texts)))
    return Edit.after(Span(node.start, end), New(gap + "".join(f"\n{indent}{t}" for t in texts)))


def _is_on_header(node: Node) -> bool:
    """Return whether a statement stands in a body on the line of its header."""
    body, source = node.parent, node.tree.source
    if body is None or body.parent is None:
        return False
    first = body.items[0]
    return bool(source.data[source.lines.start(first.start) : first.start].strip())


def _line_before(node: Node, texts: list[str], gap: str) -> Edit:
    source = node.tree.source
    if _is_on_header(node):
        return Edit.before(node.span, New("".join(text + "; " for text in texts)))
    indent = source.indent_at(node.start).decode()
    anchor = node.span if is_below_head(node) else Span(reach(node).start, node.end)
    lines = f"\n{indent}".join(texts)
    return Edit.before(anchor, New(f"{lines}\n{gap}{indent}"))


def _first_import(block: _Block, texts: list[str]) -> Edit:
    """Place the first imports of a file or function: behind its docstring, before its code."""
    items = [item for item in block.body.items if item.named]
    last: Node | None = None
    for number, item in enumerate(items):
        if item.kind == _FUTURE or (
            not number and item.core.kind in ("string", "concatenated_string")
        ):
            last = item
        else:
            break
    top = block.body.parent is None
    if last is not None:
        return _line_behind(last, texts, "\n" if top else "")
    first = items[0]
    blank = "\n" if top else ""
    if top and first.kind in ("function_definition", "class_definition", "decorated_definition"):
        blank = "\n\n"
    if top and is_below_head(first):
        return Edit.before(first.span, New("\n" + "".join(f"{t}\n" for t in texts) + blank))
    return _line_before(first, texts, blank)
