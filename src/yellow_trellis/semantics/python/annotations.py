"""Names in Python annotations, also in strings that are code."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Literal, NamedTuple, Union

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages import Language


class Word(NamedTuple):
    """A name: its first byte and how it is spelled."""

    start: int
    spelled: bytes


Part = Union[Word, "tree_sitter.Node"]
"""A name, or code in an annotation that is no annotation itself."""

_CODE = frozenset(
    {
        *("lambda", "list_comprehension", "set_comprehension", "dictionary_comprehension"),
        *("generator_expression", "named_expression", "keyword_argument"),
    }
)


def annotation_parts(
    raw: tree_sitter.Node, data: bytes, language: Language
) -> Iterator[tuple[Literal["annotation", "quoted"], Part]]:
    """Yield the names in the annotation `raw`, and the parts of it that are plain code."""
    stack = [raw]
    while stack:
        node = stack.pop()
        kind = node.type
        if kind == "identifier":
            yield "annotation", Word(node.start_byte, _text(node, data))
        elif kind in ("attribute", "member_type"):
            stack.append(node.named_children[0])
        elif kind == "string":
            for word in names_in_string(node, data, language):
                yield "quoted", word
        elif kind in ("generic_type", "subscript"):
            first, *named_childs = [c for c in node.named_children if c.type != "comment"]
            stack.append(first)
            last = _text(first, data).rpartition(b".")[2]
            if last == b"Annotated":
                if len(named_childs) == 1:  # all in one node, in some forms
                    named_childs = [
                        c for c in named_childs[0].named_children if c.type != "comment"
                    ]
                stack += named_childs[:1]
                for code in named_childs[1:]:
                    yield "annotation", code
            elif last != b"Literal":
                stack += named_childs
        elif kind in _CODE:
            yield "annotation", node
        else:
            stack += node.named_children


def names_in_string(raw: tree_sitter.Node, data: bytes, language: Language) -> Iterator[Word]:
    """Yield the names in a string that holds an annotation.

    None for a string with a prefix or an escape, of several lines, or that is no expression.
    """
    body = [child for child in raw.named_children if child.type == "string_content"]
    if len(body) != 1 or raw.named_child_count != 3 or body[0].named_child_count:
        return
    start, end = body[0].start_byte, body[0].end_byte
    code = data[start:end]
    if data[raw.start_byte] not in b"'\"" or b"\n" in code:
        return
    root = language.parse(code).root_node
    if root.has_error or [c.type for c in root.named_children] != ["expression_statement"]:
        return
    stack = [root]
    while stack:
        node = stack.pop()
        if node.type == "identifier":
            yield Word(start + node.start_byte, _text(node, code))
        elif node.type == "attribute" or _is_literal_type(node, code):
            stack.append(node.named_children[0])
        else:
            stack += node.named_children


def _is_literal_type(raw: tree_sitter.Node, data: bytes) -> bool:
    """Return whether the strings in ``raw`` are values, not code."""
    return raw.type == "subscript" and _text(raw, data).partition(b"[")[0].endswith(b"Literal")


def _text(raw: tree_sitter.Node, data: bytes) -> bytes:
    return data[raw.start_byte : raw.end_byte]
