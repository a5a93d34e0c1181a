"""Random chains of verbs in one fix, and what they state: names that go, names that come."""

from __future__ import annotations

import random
import re
from collections import Counter
from dataclasses import dataclass, field

from yellow_trellis import FixBuilder, fix
from yellow_trellis.edits.lists import items_of
from yellow_trellis.syntax import Node, Tree

_NAME = re.compile(r"\bk?v\d+\b")
_LISTS = ("argument_list", "list", "tuple", "set", "parameters")


@dataclass
class TokenSequence:
    """A fix in the making and what it states."""

    builder: FixBuilder
    told: list[str] = field(default_factory=list)
    removed: list[tuple[Node, set[str]]] = field(default_factory=list)
    """Nodes that go, each with the names in it that do not."""
    moved: list[Node] = field(default_factory=list)
    added: Counter[str] = field(default_factory=Counter)
    """Names that must stand there, so often."""
    touched: list[tuple[int, int]] = field(default_factory=list)
    new: int = 0

    def fresh(self) -> str:
        self.new += 1
        name = f"new{self.new}"
        self.added[name] += 1
        return name

    @property
    def gone(self) -> set[str]:
        """Names that must not stand in the new text.

        What is moved out of code that goes stays, but for what goes from it.
        """
        found: set[str] = set()
        for node, kept in self.removed:
            carried = {
                name
                for one in self.moved
                if node.span.holds(one.span) and node.span != one.span
                for name in names_in(one)
            }
            found |= names_in(node) - kept - carried
        return found

    def touch(self, *nodes: Node) -> None:
        self.touched += [node.span for node in nodes]


def names_in(*nodes: Node) -> set[str]:
    return {name for node in nodes for name in _NAME.findall(node.text)}


def random_chain(rng: random.Random, tree: Tree, length: int) -> TokenSequence:
    """Return a fix of so many verbs over random nodes of `tree`, often all of one body."""
    chain = TokenSequence(fix("f", safety="review"))
    nodes = [node for node in tree.root.walk() if node.named and not node.is_comment]
    bodies = [n for n in nodes if n.kind == "block" and n.items]
    if bodies and rng.random() < 0.5:
        nodes = [node for node in rng.choice(bodies).walk() if node.named and not node.is_comment]
    statements = [n for n in nodes if n.parent is not None and n.parent.kind in ("module", "block")]
    kinds = tree.language.family("expression") or frozenset()
    expressions = [
        n
        for n in nodes
        if n.kind in kinds
        and n.kind not in ("identifier", "string")
        and not any(a.kind in ("string", "pattern_list") for a in n.ancestors())
    ]
    lists = [n for n in nodes if n.kind in _LISTS and len(items_of(n)) > 1]
    clauses = [n for n in nodes if n.kind in ("else_clause", "elif_clause", "finally_clause")]
    compounds = [n for n in statements if any(c.kind == "block" for c in n.children)]
    for _ in range(length):
        pool = ["before", "after", "remove", "move"]
        pool += ["replace", "wrap", "around", "lift", "loose", "swap"] * bool(expressions)
        pool += ["item", "append", "sort", "beside", "lines"] * bool(lists)
        pool += ["clause", "unclause"] * bool(clauses)
        pool += ["unwrap", "first", "last", "order"] * bool(compounds)
        pool += ["undecorate"] * any(node.kind == "decorator" for node in nodes)
        verb = rng.choice(pool)
        chain.told.append(verb)
        _VERBS[verb](rng, chain, statements, expressions, lists, clauses, compounds)
    return chain


def _before(rng, chain, statements, *_):
    node = rng.choice(statements)
    chain.builder.before(node, f"{chain.fresh()}()")
    chain.touch(node)


def _after(rng, chain, statements, *_):
    node = rng.choice(statements)
    chain.builder.after(node, f"{chain.fresh()}()")
    chain.touch(node)


def _remove(rng, chain, statements, *_):
    node = rng.choice(statements)
    chain.builder.remove(node)
    chain.removed.append((node, set()))
    chain.touch(node)


def _move(rng, chain, statements, *_):
    node, other = rng.choice(statements), rng.choice(statements)
    if node is other or node.span.holds(other.span):
        return
    chain.moved.append(node)
    chain.builder.move(node, **{rng.choice(["before", "after"]): other})
    chain.touch(node, other)


def _replace(rng, chain, statements, expressions, *_):
    node = rng.choice(expressions)
    chain.builder.replace(node, chain.fresh(), rng.choice(["", " + 1", "()", " if 1 else 2"]))
    chain.removed.append((node, set()))
    chain.touch(node)


def _wrap(rng, chain, statements, expressions, *_):
    node = rng.choice(expressions)
    chain.builder.wrap(node, f"{chain.fresh()}(", ")")
    chain.touch(node)


def _around(rng, chain, statements, expressions, *_):
    _keep_inner(rng, chain, expressions, lambda: [f"{chain.fresh()} * "])


def _lift(rng, chain, statements, expressions, *_):
    _keep_inner(rng, chain, expressions, lambda: [])


def _keep_inner(rng, chain, expressions, head):
    """Put what is inside an expression in its place, with a `head` before it."""
    node = rng.choice(expressions)
    inner = [n for n in node.walk() if n is not node and n in expressions]
    if not inner:
        return
    kept = rng.choice(inner)
    chain.builder.replace(node, *head(), kept)
    chain.removed.append((node, names_in(kept)))
    chain.touch(node)


def _loose(rng, chain, statements, expressions, *_):
    node = rng.choice(expressions)
    head, tail = rng.choice([("not ", ""), ("-", ""), ("", ".x"), ("lambda: ", ""), ("", " in y")])
    chain.builder.wrap(node, head, tail)
    chain.touch(node)


def _swap(rng, chain, statements, expressions, *_):
    one, other = rng.choice(expressions), rng.choice(expressions)
    if one.span.crosses(other.span):
        return
    chain.builder.swap(one, other)
    chain.touch(one, other)


def _item(rng, chain, statements, expressions, lists, *_):
    node = rng.choice(items_of(rng.choice(lists)))
    chain.builder.remove(node)
    chain.removed.append((node, set()))
    chain.touch(node.parent)


def _append(rng, chain, statements, expressions, lists, *_):
    node = rng.choice(lists)
    name = chain.fresh()
    chain.builder.append_to(node, f"{name}=1" if node.kind == "parameters" else name)
    chain.touch(node)


def _sort(rng, chain, statements, expressions, lists, *_):
    node = rng.choice(lists)
    chain.builder.sort(items_of(node), key=lambda item: len(item.text) * 31 % 7)
    chain.touch(node)


def _beside(rng, chain, statements, expressions, lists, *_):
    node = rng.choice(lists)
    item = rng.choice(items_of(node))
    name = chain.fresh()
    if node.kind == "parameters":
        name = f"{name}=1"
    chain.builder.after(item, f", {name}")
    chain.touch(node)


def _lines(rng, chain, statements, expressions, lists, *_):
    node = rng.choice(lists)
    getattr(chain.builder, rng.choice(["over_lines", "on_one_line"]))(node)
    chain.touch(node)


def _clause(rng, chain, statements, expressions, lists, clauses, *_):
    node = rng.choice(clauses)
    chain.builder.remove(node)
    chain.removed.append((node, set()))
    chain.touch(node.parent)


def _unclause(rng, chain, statements, expressions, lists, clauses, *_):
    node = rng.choice(clauses)
    chain.builder.unwrap(node)
    body = next(child for child in node.children if child.kind == "block")
    chain.removed.append((node, names_in(body)))
    chain.touch(node.parent)


def _undecorate(rng, chain, statements, *_):
    marks = [one for node in statements for one in node.walk() if one.kind == "decorator"]
    if not marks:
        return
    node = rng.choice(marks)
    chain.builder.remove(node)
    chain.removed.append((node, set()))
    chain.touch(node.parent)


def _unwrap(rng, chain, statements, expressions, lists, clauses, compounds):
    node = rng.choice(compounds)
    body = next(child for child in node.children if child.kind == "block")
    chain.builder.unwrap(node, *body.items)
    chain.removed.append((node, names_in(body)))
    chain.touch(node)


def _first(rng, chain, statements, expressions, lists, clauses, compounds):
    node = rng.choice(compounds)
    chain.builder.first_in(node, f"{chain.fresh()}()", order=rng.choice([None, chain.new]))
    chain.touch(node)


def _last(rng, chain, statements, expressions, lists, clauses, compounds):
    node = rng.choice(compounds)
    chain.builder.last_in(node, f"{chain.fresh()}()", order=rng.choice([None, chain.new]))
    chain.touch(node)


def _order(rng, chain, statements, expressions, lists, clauses, compounds):
    body = next(child for child in rng.choice(compounds).children if child.kind == "block")
    chain.builder.sort(body.items, key=lambda item: len(item.text) * 31 % 7)
    chain.touch(body)


_VERBS = {
    "before": _before, "after": _after, "remove": _remove, "move": _move, "replace": _replace,
    "wrap": _wrap, "around": _around, "lift": _lift, "loose": _loose, "swap": _swap, "item": _item,
    "append": _append, "sort": _sort, "beside": _beside, "lines": _lines, "clause": _clause,
    "unclause": _unclause, "undecorate": _undecorate, "unwrap": _unwrap, "first": _first,
    "last": _last, "order": _order,
}  # rows
