"""The tables of literals give the values that the language gives."""

import ast
import warnings

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import tree_of
from yellow_trellis.languages import language

PYTHON = language("python").literal_forms

TEXTS = st.text(st.sampled_from("aNxu0178{}\\\n'\"é\t #"), max_size=12)
STRINGS = st.builds(
    lambda prefix, quote, body: f"{prefix}{quote}{body}{quote}",
    st.sampled_from(["", "r", "b", "Rb", "bR", "u", "f", "ur"]),
    st.sampled_from(["'", '"', "'''", '"""']),
    TEXTS,
)
NUMBERS = st.text(st.sampled_from("0123789._eExXoObBjJaf+"), min_size=1, max_size=8)


def value_of(text: str) -> object:
    """Return what the language says of a literal; None where it is none with a value."""
    try:
        with warnings.catch_warnings():  # of escapes that are none
            warnings.simplefilter("ignore")
            value = ast.literal_eval(ast.parse(f"({text}\n)", mode="eval").body)
    except (ValueError, SyntaxError):
        return None
    return value if isinstance(value, (str, bytes, int, float, complex)) else None


@given(st.one_of(STRINGS, NUMBERS, st.lists(STRINGS, min_size=2, max_size=3).map(" ".join)))
def test_a_value_is_that_of_the_language(text: str) -> None:
    nodes = [node for node in tree_of(f"x = {text}\n").root.walk() if node.text == text]
    if not any(PYTHON.kinds & {node.kind for node in nodes}) or value_of(text) is None:
        return
    try:
        value = PYTHON.value(text)
    except ValueError:
        return
    assert (type(value), value) == (type(value_of(text)), value_of(text))


@pytest.mark.parametrize(
    "text",
    [
        *("'a'", '"a"', "r'\\n'", "'\\n\\x41\\u00e9\\U0001F600\\101\\0'", "b'\\xff\\u1'", "'\\d'"),
        *("'''a\nb'''", "'a' \"b\"", "'a'  # why\n'b'", "b'a' b'b'", r"'\N{BULLET}'", "u'a'"),
        *("1", "0x_1F", "1_000", "0o17", "0b11", "1.", ".5e-3", "1j", "00", "1e5J", "'a\\\nb'"),
    ],
)
def test_common_literals_have_a_value(text: str) -> None:
    assert PYTHON.value(text) == value_of(text)


@pytest.mark.parametrize("text", ["f'{x}'", "'a' b'b'", "'\\x4'", "010", "1__0", "'a", "0x", "-1", ""])
def test_what_has_no_value_is_told(text: str) -> None:
    with pytest.raises(ValueError):
        PYTHON.value(text)
