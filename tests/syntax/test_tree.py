"""Leaves and gaps, in order, are the file; and who owns which comment."""

import sysconfig
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import tree_of
from yellow_trellis import Tree
from yellow_trellis.languages import language
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.syntax import attached, same_code

TOKENS = [
    *("x", "def f(", ")", ":", "\n", "\r\n", "    ", "\t", "# note", "'a", "'", '"""', "f'{", "}"),
    *("(", "[", ",", "=", "if", "else", "\\\n", "\x0c", "\x00", "ü", "\ufeff", "`", "${", "//"),
]


@given(st.lists(st.sampled_from(TOKENS), max_size=40), st.sampled_from(["python", "javascript"]))
def test_any_text_is_its_leaves_and_gaps(tokens: list[str], name: str) -> None:
    tree = tree_of("".join(tokens), name)
    assert b"".join(piece for piece, _ in tree.pieces()) == tree.source.data
    assert tree.errors or not tree_of(tree.source.data.decode() + "\n", name).raw_root.has_error


def test_an_error_that_no_node_stands_for_is_told() -> None:
    tree = tree_of("def f():\n    return f'a {b}.{c}'x\n")
    assert [(raw.type, raw.text) for raw in tree.errors] == [("block", b"return f'a {b}.{c}'x")]
    assert [tree.source.text(span) for span in tree.broken] == [tree.source.data.decode().rstrip()]
    assert tree_of("#define A 1 /* a */ #define B\n", "c").errors
    assert not tree_of("#define A 1", "c").errors  # but for the end of the line, which may be left out


@given(st.binary(max_size=200))
def test_any_bytes_are_their_leaves_and_gaps(raw: bytes) -> None:
    try:
        source = Source.read(raw)
    except UnreadableError:
        return
    tree = Tree(source, language("python"))
    assert b"".join(piece for piece, _ in tree.pieces()) == source.data
    assert source.raw() == raw


def test_gaps_of_real_code_hold_only_space() -> None:
    files = sorted(Path(sysconfig.get_path("stdlib")).glob("*.py"))[::8]
    assert len(files) > 10
    for file in files:
        tree = Tree(Source.read(file.read_bytes(), path=str(file)), language("python"))
        pieces = list(tree.pieces())
        assert b"".join(piece for piece, _ in pieces) == tree.source.data
        if not tree.broken:
            gaps = b"".join(piece for piece, node in pieces if node is None)
            assert not gaps.replace(b"\\", b"").strip(), file


def test_nodes_know_kind_field_place_and_parent() -> None:
    call = tree_of("y = größe(a, b=1)  # note\n").root.items[0].core.child("right")
    assert (call.kind, call.field, call.text) == ("call", "right", "größe(a, b=1)")
    assert call.place == (1, 5)
    assert [item.kind for item in call.child("arguments").items] == [
        *("(", "identifier", "keyword_argument", ")")
    ]
    assert call.parent.kind == "assignment"
    assert [c.text for c in call.tree.comments()] == ["# note"]


def test_code_around_a_broken_part_is_still_there() -> None:
    tree = tree_of("a = 1\nb = = 2\nc = f(3)\n")
    assert len(tree.broken) == 1
    assert [node.text for node in tree.of_kinds(frozenset({"call"}))] == ["f(3)"]


CALL = """\
f(
    # about a
    a,  # a too
    b,

    # about nothing

    c  # c
)
"""


@pytest.mark.parametrize(
    ("name", "before", "after"),
    [("a", ["# about a"], ["# a too"]), ("b", [], []), ("c", [], ["# c"])],
)
def test_who_owns_which_comment(name: str, before: list[str], after: list[str]) -> None:
    arguments = tree_of(CALL).root.items[0].core.child("arguments")
    node = next(item for item in arguments.items if item.text == name)
    own = attached(node)
    assert ([c.text for c in own.before], [c.text for c in own.after]) == (before, after)


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("f(a, b)", "f( a,  # c\n b, )", True),
        ("(a)", "a", True),
        ("x = 'a'", 'x = "a"', True),
        ("x = 0x10", "x = 16", True),
        ("x = 1", "x = 1.0", False),
        ("x = 'a'", "x = b'a'", False),
        ("return (a, b)", "return a, b", True),
        ("a[b]", "a[b,]", False),
        ("f(a)", "f(b)", False),
        ("not a", "a", False),
    ],
)
def test_same_code(one: str, other: str, same: bool) -> None:
    left, right = tree_of(one).root.items[0], tree_of(other).root.items[0]
    assert same_code(left, right) is same
