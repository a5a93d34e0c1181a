"""Two fixes of one text: what both orders, one after the other, make of it, and what a plan says.

Every name of the code stands once, so that what a fix is about is found again after the other.
"""

from __future__ import annotations

import ast
import io
import random
import re
import tokenize
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

from tests.conftest import tree_of
from tests.laws.oracle import without_pass
from yellow_trellis import Finding, Fix, FixBuilder, Rule, Ruleset, fix
from yellow_trellis.edits.lists import items_of
from yellow_trellis.plans.plan import Plan, make_plan
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.rules import RuleError
from yellow_trellis.syntax import Node, Tree

_NAME = re.compile(r"\b(?:[kvfxgp]|new)\d+\b")
_BODIES = ("module", "block")


class NotFoundError(Exception):
    """What a fix is about is not there, or not once: the case says nothing."""


class _Code:
    """Random code in which every name stands once."""

    def __init__(self, rng: random.Random) -> None:
        self.rng = rng
        self.count = 0

    def name(self, stem: str) -> str:
        self.count += 1
        return f"{stem}{self.count}"

    def many(self, depth: int) -> str:
        return ", ".join(self.expression(depth) for _ in range(self.rng.randint(1, 3)))

    def expression(self, depth: int) -> str:
        kind = self.rng.choice(["name", "call", "call", "list", "sum", "member", "item"])
        if kind == "name" or not depth:
            return self.name("v")
        if kind == "call":
            return f"{self.name('f')}({self.many(depth - 1)})"
        if kind == "list":
            return f"[{self.many(depth - 1)}]"
        if kind == "sum":
            return f"{self.expression(depth - 1)} + {self.expression(depth - 1)}"
        if kind == "member":
            return f"{self.name('v')}.{self.name('x')}"
        return f"{self.name('v')}[{self.expression(depth - 1)}]"

    def statement(self, depth: int, indent: str = "") -> str:
        choice, inner = self.rng.choice, indent + "    "
        kinds = ("assign", "call", "if", "for", "def", "with") if depth else ("assign", "call")
        kind = choice(kinds)
        behind = choice(["", "", "", f"  # c{self.count}"]) + "\n"
        lead = choice(["", "", "", f"{indent}# k{self.count}\n"])
        if kind == "assign":
            return f"{lead}{indent}{self.name('g')} = {self.expression(2)}{behind}"
        if kind == "call":
            return f"{lead}{indent}{self.name('f')}({self.expression(1)}){behind}"
        body = "".join(self.statement(depth - 1, inner) for _ in range(self.rng.randint(1, 2)))
        if kind == "if":
            tail = f"{indent}else:\n{self.statement(depth - 1, inner)}"
            tail = tail if self.rng.random() < 0.3 else ""
            return f"{lead}{indent}if {self.expression(1)}:{behind}{body}{tail}"
        if kind == "for":
            return f"{lead}{indent}for {self.name('v')} in {self.expression(1)}:{behind}{body}"
        if kind == "with":
            return f"{lead}{indent}with {self.expression(1)}:{behind}{body}"
        mark = choice(["", f"{indent}@{self.name('f')}\n"])
        head = f"def {self.name('f')}({self.name('p')}, {self.name('p')}=1):"
        return f"{lead}{mark}{indent}{head}{behind}{body}"


def random_code(rng: random.Random) -> str:
    """Return one to three statements, some of them with others in them."""
    code = _Code(rng)
    return "".join(code.statement(rng.choice([0, 1, 2])) for _ in range(rng.randint(1, 3)))


def _is_statement(node: Node) -> bool:
    return node.parent is not None and node.parent.kind in _BODIES


def _nodes(tree: Tree) -> list[Node]:
    return [node for node in tree.root.walk() if node.named and not node.is_comment]


@dataclass(frozen=True)
class Target:
    """A node by what is found again: its kind, and its first and its last name."""

    kind: str
    first: str
    last: str
    is_expression: bool

    @classmethod
    def of(cls, node: Node) -> Target:
        kinds = node.tree.language.family("expression") or frozenset()
        is_expression = node.kind in kinds and not _is_statement(node)
        names = _names(node, is_expression)
        return cls(node.kind, names[0], names[-1], is_expression)

    def find(self, tree: Tree) -> Node:
        found = []
        for node in _nodes(tree):
            names = _names(node, self.is_expression) if node.kind == self.kind else []
            if names and (names[0], names[-1]) == (self.first, self.last):
                found.append(node)
        if len(found) != 1:
            raise NotFoundError
        return found[0]


def _names(node: Node, is_expression: bool) -> list[str]:
    """Return the names in a node; new ones count where they stand before an expression."""
    names = _NAME.findall(node.text)
    old = [name for name in names if not name.startswith("new")]
    return [*(names[:1] if is_expression else old[:1]), *old[-1:]] if old else []


Made = tuple[Node, "Fix"]


@dataclass
class RandomFix:
    """A fix that can be made in any text that still has what it is about."""

    verb: str
    order: int | None
    about: str
    """What it is about, to tell whether two are about the same."""
    make: Callable[[Tree], tuple[Finding, Fix]]


def random_fix(rng: random.Random, tree: Tree, number: int) -> RandomFix:
    """Return a random verb or template about a random node of `tree`; `number` names what it adds.

    Errors: `NotFoundError` where the code has nothing for it.
    """
    if rng.random() < 0.3:
        return _random_template(rng, tree, number)
    nodes = _nodes(tree)
    kinds = tree.language.family("expression") or frozenset()
    statements = [node for node in nodes if _is_statement(node)]
    expressions = [
        node
        for node in nodes
        if node.kind in kinds - {"integer"}
        and not _is_statement(node)
        and node.field != "name"
        and node.parent is not None
        and node.parent.kind not in ("parameters", "default_parameter")
    ]
    lists = [n for n in nodes if n.kind in ("argument_list", "list", "parameters") and items_of(n)]
    compound = [n for n in statements if any(c.kind == "block" for c in n.children)]
    pools = {
        "statement": (statements, _STATEMENT_VERBS),
        "expression": (expressions, _EXPRESSION_VERBS),
        "list": (lists, _LIST_VERBS),
        "body": (compound, _BODY_VERBS),
    }
    pool, verbs = pools[rng.choice(["statement", "statement", "expression", "list", "body"])]
    if not pool:
        raise NotFoundError
    verb = rng.choice(list(verbs))
    first, second = Target.of(rng.choice(pool)), Target.of(rng.choice(pool))
    order = rng.choice([None, None, number])

    def make(tree: Tree) -> tuple[Finding, Fix]:
        node = first.find(tree)
        builder = fix("f", safety="review")
        verbs[verb](builder, node, second.find(tree), f"new{number}", order)
        made = builder.made(node.span)
        if made is None:
            raise NotFoundError
        return Finding(f"rule-{number}", "warning", node.span, "m", (made,), number), made

    return RandomFix(verb, order, f"{first}", make)


def _apart(node: Node, second: Node) -> None:
    if node.span.crosses(second.span):
        raise NotFoundError


def _move(builder: FixBuilder, node: Node, second: Node, new: str, order: int | None) -> None:
    _apart(node, second)
    builder.move(node, **{"before" if order is None else "after": second})


def _swap(builder: FixBuilder, node: Node, second: Node, new: str, order: int | None) -> None:
    _apart(node, second)
    builder.swap(node, second)


def _item(new: str, items: Node) -> str:
    return f"{new}=1" if items.kind == "parameters" else new


def _body(node: Node) -> list[Node]:
    return next(child for child in node.children if child.kind == "block").items


_STATEMENT_VERBS = {
    "before": lambda b, node, _, new, order: b.before(node, f"{new}()", order=order),
    "after": lambda b, node, _, new, order: b.after(node, f"{new}()", order=order),
    "remove": lambda b, node, *_: b.remove(node),
    "move": _move,
    "put before": lambda b, node, _, new, order: b.replace(node, f"{new}()\n", node),
    "put after": lambda b, node, _, new, order: b.replace(node, node, f"\n{new}()"),
    "replace": lambda b, node, _, new, order: b.replace(node, f"{new}()"),
    "wrap statement": lambda b, node, _, new, order: b.wrap(node, f"if {new}:\n    ", ""),
}
_EXPRESSION_VERBS = {
    "replace": lambda b, node, _, new, order: b.replace(node, new),
    "wrap": lambda b, node, _, new, order: b.wrap(node, f"{new}(", ")"),
    "swap": _swap,
}
_LIST_VERBS = {
    "append": lambda b, node, _, new, order: b.append_to(node, _item(new, node), order=order),
    "item": lambda b, node, *_: b.remove(items_of(node)[0]),
    "beside": lambda b, node, _, new, order: b.after(items_of(node)[0], f", {_item(new, node)}"),
    "lines": lambda b, node, *_: b.over_lines(node),
}
_BODY_VERBS = {
    "first": lambda b, node, _, new, order: b.first_in(node, f"{new}()", order=order),
    "last": lambda b, node, _, new, order: b.last_in(node, f"{new}()", order=order),
    "unwrap": lambda b, node, *_: b.unwrap(node, *_body(node)),
}
_TEMPLATES = {
    "call": (
        *("new({code})", "{head}(@{{a*}}, new)", "{code}.new", "new(@{{a*}})", "new + {code}"),
    ),
    "statement": ("new()\n{code}", "if new:\n    {code}", "{code}\nnew()"),
    "assignment": ("{head} = new(@{{e}})", "{head} = new = @{{e}}", "{head} = [@{{e}}]"),
    "for": (
        *("for {head} in new(@{{e}}):\n    @{{b*}}", "with new:\n    {deep}"),
        "for {head} in @{{e}}:\n    new()\n    @{{b*}}",
        "for {head} in @{{e}}:\n    @{{b*}}\n    new()",
        "for {head} in @{{e}}:\n    if new:\n        @{{b*}}",
    ),
}


def _random_template(rng: random.Random, tree: Tree, number: int) -> RandomFix:
    options: list[tuple[str, str]] = []
    for node in _nodes(tree):
        head, kinds = "", list[str]()
        if node.kind == "call":
            head, code, kinds = node.children[0].text, "{}(@{{a*}})", ["call"]
        elif node.kind == "assignment":
            head, code, kinds = node.children[0].text, "{} = @{{e}}", ["assignment"]
        elif node.kind == "for_statement":
            head, code, kinds = node.children[1].text, "for {} in @{{e}}:\n    @{{b*}}", ["for"]
        if not _NAME.fullmatch(head):
            continue
        if node.kind != "for_statement" and _is_statement(node.outermost):
            kinds.append("statement")
        find = code.format(head)
        deep = find.replace("\n", "\n    ")
        options += [
            (find, put.replace("new", f"new{number}").format(head=head, code=find, deep=deep))
            for kind in kinds
            for put in _TEMPLATES[kind]
        ]
    if not options:
        raise NotFoundError
    find, put = rng.choice(options)
    rule = Rule(f"rule-{number}", summary="s", find=find, put=put)
    try:
        rule.prepare()
    except RuleError:
        raise NotFoundError from None

    def make(tree: Tree) -> tuple[Finding, Fix]:
        found = Ruleset.of([rule]).look(tree)[0]
        if len(found) != 1:
            raise NotFoundError
        made = found[0].fix_at(0)
        return found[0]._replace(fixes=(made,), rank=number), made

    return RandomFix("template", None, find, make)


@dataclass
class Pair:
    """What comes of two fixes that are each right alone."""

    verdict: str
    """``fine``, ``told``, ``missed``, ``told without need``, or why the case says nothing."""
    touches: bool
    told: str


TAKES_ALONG = {"move", "swap", "wrap"}
"""Verbs that take along what others put beside the code: a finder may see either."""


def pair_of(seed: int) -> Pair:
    """Return what comes of a random pair."""
    rng = random.Random(f"two fixes {seed}")
    text = random_code(rng)
    tree = tree_of(text)
    try:
        first, second = random_fix(rng, tree, 1), random_fix(rng, tree, 2)
        alone = [_planned(tree, each) for each in (first, second)]
        if any(o.state != "applied" for plan, _ in alone for o in plan.outcomes):
            return Pair("one is refused alone", False, "")
        plan, joint = _planned(tree, first, second)
        (late, there), (early, back) = (
            _planned(alone[0][1], second),
            _planned(alone[1][1], first),
        )
    except NotFoundError:
        return Pair("not found", False, "")
    if not plan.conflicts and any(o.state != "applied" for o in late.outcomes + early.outcomes):
        return Pair("one is refused behind the other", False, "")
    if any(outcome.state == "merged" for outcome in plan.outcomes):
        return Pair("both are the same", False, "")
    one, other = (plan.candidates[0].fix.extent for plan, _ in alone)
    touches = max(one.start, other.start) <= min(one.end, other.end)
    shapes = [_shape(each) for each in (joint, there, back)]
    texts = [each.source.data.decode() for each in (tree, joint, there, back)]
    told = f"seed {seed}, {first.verb} and {second.verb}:\n" + "\n---\n".join(texts)
    verdict = _verdict(first, second, bool(plan.conflicts), shapes)
    return Pair(verdict, touches, f"{told}\n{plan.conflicts}")


def _verdict(first: RandomFix, second: RandomFix, told: bool, shapes: list[object]) -> str:
    joint, there, back = shapes
    if there == back:
        if not told:
            return "fine" if joint == there else "missed"
        same = first.verb == second.verb == "template" and first.about == second.about
        return "both rewrite one match" if same else "told without need"
    if told:
        return "told"
    if joint not in (there, back):
        return "missed"
    ordered = first.order is not None and second.order is not None
    return "fine" if ordered or {first.verb, second.verb} & TAKES_ALONG else "missed"


def _planned(tree: Tree, *fixes: RandomFix) -> tuple[Plan, Tree]:
    plan = make_plan(tree, [each.make(tree)[0] for each in fixes], with_review=True)
    return plan, prove(plan).tree


def _shape(tree: Tree) -> tuple[str, Counter[str]]:
    """Return the tree of the compiler, and the comments."""
    text = tree.source.data.decode()
    tokens = tokenize.generate_tokens(io.StringIO(text).readline)
    comments = Counter(token.string for token in tokens if token.type == tokenize.COMMENT)
    return ast.dump(without_pass(ast.parse(text))), comments
