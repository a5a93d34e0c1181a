"""Taking out the imports that a rewrite has left without a use."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.removal import removal
from yellow_trellis.semantics import Import, Scope, types_only
from yellow_trellis.semantics.python.import_insertion import names_in
from yellow_trellis.semantics.python.semantic_model import PythonFacts, facts_of
from yellow_trellis.semantics.python.unseen import unseen_use
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.comment_ownership import attached

_WORD = re.compile(rb"[A-Za-z_\x80-\xff][\w\x80-\xff]*")

Gives = Callable[[str, str], bool]
"""Tells whether other files get a name from a module."""

Key = tuple[str, Import]


def lost_words(before: Tree, after: Tree, written: Iterable[Span]) -> frozenset[bytes]:
    """Return the names that stood in the bytes `written` over and that imports bring."""
    words = {word for span in written for word in _WORD.findall(before.source.data, *span)}
    if not words or b"import" not in after.source.data:
        return frozenset()
    statements = _statements(after)
    imported = {word for statement in statements for word in _WORD.findall(statement.data)}
    spans = [statement.span for statement in statements]
    return frozenset(word for word in words & imported if _may_be_lost(word, after, spans))


_BINDING = frozenset(
    {
        *("as_pattern", "as_pattern_target", "case_pattern", "class_definition"),
        *("default_parameter", "delete_statement", "dictionary_splat_pattern", "dotted_name"),
        *("for_in_clause", "for_statement", "function_definition", "global_statement"),
        *("lambda_parameters", "list_pattern", "list_splat_pattern", "named_expression"),
        *("nonlocal_statement", "parameters", "pattern_list", "splat_pattern", "tuple_pattern"),
        *("type", "typed_default_parameter", "typed_parameter"),
    }
)
"""Kinds directly around a name that something else than the import may bind."""


def _may_be_lost(word: bytes, tree: Tree, imports: list[Span]) -> bool:
    """Return whether an import of `word` may have lost its last use, by its spelling alone.

    It has not where the word is plainly read and nothing else in the file could bind it.
    """
    read = False
    for at in tree.hits(word, whole_word=True):
        if any(span.start <= at < span.end for span in imports):
            continue
        leaf = tree.leaf_at(at)
        above = leaf.parent if leaf is not None and leaf.kind == "identifier" else None
        if leaf is None or above is None:
            continue
        if above.kind == "attribute" and above.children[0] is not leaf:
            continue
        if above.kind == "keyword_argument" and leaf.field == "name":
            continue
        if above.kind in _BINDING or (above.kind.endswith("assignment") and leaf.field == "left"):
            return True
        read = True
    return not read


def _statements(tree: Tree) -> list[Node]:
    return tree.of_kinds(tree.language.imports)


def drop_imports(before: Tree, after: Tree, gives: Gives) -> list[Edit]:
    """Return the edits to `after` that take out the imports which had a use in `before` only.

    Left alone: what `gives` says others take from here, imports of a package's face, those that
    say ``as`` their own name, those in a `try`, those with a comment, which may be the reason, and
    those that have to stay for what they load.
    """
    if after.source.path.replace("\\", "/").rpartition("/")[2].startswith("__init__."):
        return []
    old, new = facts_of(before), facts_of(after)
    used = _uses(old)
    remainder = _uses(new)
    gone: dict[int, tuple[Node, list[Node]]] = {}
    for scope, first in new.names.imports:
        key = _key(scope, first)
        if remainder[key] or not used[key] or first.name == "*" or first.alias == (
            first.name or first.module
        ):
            continue
        if unseen_use(new.names, scope, first.bound) or _holds_up(new, scope, first):
            continue
        statement = after.leaf_at(*first.statement)
        if statement is None or statement.kind not in after.language.imports:
            continue
        if scope is new.names.module and gives(new.place.module, first.bound):
            continue
        if new.must_load(first):
            continue
        if not _may_go(statement) or any(above.is_broken for above in statement.ancestors()):
            continue
        item = next((i for i in names_in(statement) if i.start == first.item.start), None)
        if item is not None and not any(attached(item)):
            gone.setdefault(statement.start, (statement, []))[1].append(item)
    edits: list[Edit] = []
    whole: dict[int, list[Node]] = {}
    for statement, items in gone.values():
        if len(items) < len(names_in(statement)):
            edits += [_without(item, items) for item in items]
        elif not any(attached(statement)) and statement.parent is not None:
            whole.setdefault(statement.parent.start, []).append(statement)
    for statements in whole.values():
        edits += _together(statements)
    return edits


def _together(statements: list[Node]) -> list[Edit]:
    """Take out statements of one body; if these are all of it, one stands for what is left."""
    body = statements[0].parent
    assert body is not None
    if len(statements) == 1 or len(statements) < len(body.items) or body.parent is None:
        return [_whole(statement) for statement in statements]
    span = Span(statements[0].start, statements[-1].end)
    if b"#" in body.tree.source.data[span.start : span.end]:
        return [_whole(statement) for statement in statements[1:]]
    return [Edit(span, (New(body.tree.language.empty_body),))]


def _holds_up(facts: PythonFacts, scope: Scope, item: Import) -> bool:
    """Return whether `import a.b` is what binds `a` for uses of something else in it."""
    if item.name is not None or item.alias is not None or "." not in item.module:
        return False
    binding = facts.names.visible(item.bound, scope)
    others = [
        path.module
        for home, path in facts.names.imports
        if home is scope and path is not item and (path.bound, path.name) == (item.bound, None)
    ]
    references = binding.references if binding is not None else ()
    return any(not any(_through(r.node, module) for module in others) for r in references)


def removal_of_import(node: Node) -> list[Edit]:
    """Return the edits that take out an import statement, or one item of it."""
    if node.kind in node.tree.language.imports:
        return [_whole(node)]
    statement = node.parent
    if statement is not None and len(names_in(statement)) == 1:
        return [_whole(statement)]
    return [_without(node, [node])]


def _without(item: Node, going: list[Node]) -> Edit:
    """Take out one item; where those behind it go too, its separator is the one before it."""
    names = names_in(item.parent) if item.parent is not None else ()
    at = next((i for i, name in enumerate(names) if name is item), None)
    if at is None:
        raise ValueError("this item of an import stands in code that does not parse")
    if at and all(name in going for name in names[at:]):
        span = Span(names[at - 1].end, item.end)
        if b"#" not in item.tree.source.data[span.start : span.end]:
            return Edit(span)
    return removal(item)


def _may_go(statement: Node) -> bool:
    return statement.kind != "future_import_statement" and not any(
        above.kind == "try_statement" for above in statement.ancestors()
    )


def _whole(statement: Node) -> Edit:
    """Take out a statement, with the blank line that would be left between two others."""
    block = _block_for_types(statement)
    edit = removal(statement if block is None else block)
    data = statement.tree.source.data
    start, end = edit.span
    blank_before = not start or data[:start].rstrip(b" \t").endswith((b"\n\n", b"\r\n\r\n"))
    follow = re.compile(rb"[ \t]*\r?\n").match(data, end)
    if not edit.pieces and blank_before and follow is not None:
        return Edit(Span(start, follow.end()))
    return edit


def _block_for_types(statement: Node) -> Node | None:
    """Return the block for type checkers that holds nothing but an import, not even a comment.

    Any other block stays: its condition may do something, and other branches depend on it.
    """
    body = statement.parent
    block = body.parent if body is not None and len(body.items) == 1 else None
    if block is None or block.kind != "if_statement" or block.child("alternative") is not None:
        return None
    has_comment = b"#" in block.data or any(attached(block))
    is_for_types = types_only(statement) and not types_only(block)
    return block if is_for_types and not has_comment else None


def _uses(facts: PythonFacts) -> Counter[Key]:
    """Count the uses of each import; of one by dotted module, those that go through it."""
    table: Counter[Key] = Counter()
    for scope, item in facts.names.imports:
        binding = facts.names.visible(item.bound, scope)
        if binding is None or item.name == "*":
            continue
        references = binding.references
        if item.name is None and item.alias is None and "." in item.module:
            module = item.module
            references = tuple(
                r for r in references if r.use == "quoted" or _through(r.node, module)
            )
        table[_key(scope, item)] = len(references) + _listed(facts, scope, item)
    return table


def _through(node: Node, module: str) -> bool:
    for _ in range(module.count(".")):
        above = node.parent
        if above is None or above.kind != "attribute":
            return False
        node = above
    return "".join(node.text.split()) == module


def _listed(facts: PythonFacts, scope: Scope, item: Import) -> int:
    exported = facts.names.exported or ()
    return sum(name == item.bound for name, _ in exported) if scope.parent is None else 0


def _key(scope: Scope, item: Import) -> Key:
    bare = Import(Span(0, 0), Span(0, 0), 0, item.level, item.module, item.name, item.alias)
    return scope.qualified, bare
