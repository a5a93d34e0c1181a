"""Code that leaves something around it: a function, a loop, the cases of a choice.

The kinds of most grammars have these names; a language says what is otherwise in its declaration.
"""

from __future__ import annotations

from yellow_trellis.languages.language import kinds
from yellow_trellis.syntax.node import Node

_FROM_FUNCTIONS = kinds(
    "await await_expression co_await_expression co_return_statement co_yield_statement return "
    "return_expression return_statement try_expression yield yield_expression yield_statement"
)
_FROM_LOOPS = kinds("continue_expression continue_statement next redo")
_FROM_CHOICES = kinds("break break_expression break_statement")
_BY_WORD = kinds("control_transfer_statement")
_WORDS = {"return": "function", "continue": "loop", "break": "choice"}
_FUNCTIONS = kinds("async_block")
_LOOPS = kinds(
    "do_statement enhanced_for_statement for for_expression for_in_statement for_range_loop "
    "for_statement foreach foreach_statement loop_expression repeat until until_modifier while "
    "while_expression while_modifier while_statement"
)
_CHOICES = kinds(
    "expression_switch_statement select_statement switch_expression switch_statement "
    "type_switch_statement"
)
_LABELS = kinds("label label_name statement_identifier")

WORDS = (b"return", b"break", b"continue", b"yield", b"await", b"next", b"redo", b"?")
"""What code holds that has such code in it."""


def left_by(node: Node) -> Node | None:
    """Return what `node` leaves, around it; None for code that leaves nothing, or says a label."""
    language = node.tree.language
    sort = _sort_of(node)
    if not sort:
        return None
    functions = language.returns_from or (language.family("function") or frozenset()) | _FUNCTIONS
    loops = language.loops or _LOOPS
    ends = {
        "function": functions,
        "loop": functions | loops,
        "choice": functions | loops | _CHOICES,
    }[sort]
    return next((above for above in node.ancestors() if above.kind in ends), None)


def leaves(node: Node) -> bool:
    """Return whether `node` leaves something around it."""
    return bool(_sort_of(node))


def _sort_of(node: Node) -> str:
    """Return what a node leaves: ``function``, ``loop`` or ``choice``; empty for no jump."""
    if not node.named:
        return ""
    kind = node.kind
    if kind in _BY_WORD:
        words = node.text.split(None, 1)
        sort = _WORDS.get(words[0], "") if words else ""
    elif kind in _FROM_FUNCTIONS:
        return "function"
    else:
        sort = "loop" if kind in _FROM_LOOPS else "choice" if kind in _FROM_CHOICES else ""
    if sort in ("loop", "choice") and any(item.kind in _LABELS for item in node.items):
        return ""
    return sort
