"""Near misses, and the reason that each is told."""

import pytest

from tests.conftest import tree_of
from yellow_trellis import compile_pattern
from yellow_trellis.languages import language
from yellow_trellis.patterns import explain

NEAR_MISSES = [
    ("stamp(@{z})", "stamp(HOME, exact=True)", "1:13", "the call has the keyword argument `exact=True`, the pattern has none: `@{rest*}` would take it"),
    ("stamp(@{z})", "stamp(HOME, 1)", "1:13", "the call has the integer `1`, the pattern has none: `@{rest*}`"),
    ("stamp(@{z}, @{e})", "stamp(HOME)", "1:11", "the pattern asks for `@{e}` here"),
    ("stamp(@{z})", "stamp()", "1:7", "the pattern asks for `@{z}` here"),
    ("stamp(@{z})", "stmap(HOME)", "1:1", "the pattern says `stamp`, the code says `stmap`"),
    ("stamp(@{z})", "clock.stamp(HOME)", "1:1", "the pattern has `stamp` here, the code has the attribute `clock.stamp`"),
    ("stamp(@{z})", "stamp(zone=HOME)", "1:7", "the keyword argument `zone=HOME` is taken by a hole for several"),
    ("stamp(@{z})", "stamp(*zones)", "1:7", "the list splat `*zones` is taken by a hole for several"),
    ("stamp(zone=@{z})", "stamp(HOME)", "1:7", "the pattern has a keyword argument here, the code has the identifier `HOME`"),
    ("stamp(zone=@{z})", "stamp(area=HOME)", "1:7", "the pattern says `zone`, the code says `area`"),
    ("f(@{x: string})", "f(name)", "1:3", "`@{x: string}` takes a string; here stands the identifier `name`"),
    ("f(@{x like [A-Z]+})", "f(name)", "1:3", "`name` does not match `[A-Z]+` in full"),
    ("@{x} == @{x}", "a == b", "1:6", "`@{x}` took `a` before; here stands `b`"),
    ("f(@{x+})", "f()", "1:4", "takes one at least; there is none"),
    ("@{x} == None", "x != None", "1:3", "the pattern has `==` here"),
    ("@{x} == None", "x == 0", "1:6", "the pattern has `None` here, the code has the integer `0`"),
    ("@{a} < @{b}", "a < b < c", "1:7", "the comparison operator has `<`, the pattern has none"),
    ("x = 'a'", "x = 'b'", "1:5", "the pattern says `'a'`, the code says `'b'`"),
    ("x = 'a'", "x = b'a'", "1:5", "the pattern says `'a'`"),
    ("def f(@{p*}): @{b*}", "def f(a) -> int: pass", "1:13", "the function definition has a return type `int` where the pattern has `:`"),
    ("def f(@{p*}): @{b*}", "async def f(a): pass", "1:1", "the function definition has `async` where the pattern has `def`"),
    ("class A: @{b*}", "class A(B): pass", "1:8", "the class definition has superclasses `(B)` where the pattern has `:`"),
    ("if @{c}:\n    return True", "if a:\n    return False", "2:12", "the pattern has `True` here, the code has the false `False`"),
    ("if @{c}:\n    return True", "if a:\n    b()\n    return True", "2:5", "the if statement has the expression statement `b()`, the pattern has none: `@{rest*}`"),
    ("if @{c}: @{b*}", "if a:\n    b()\nelse:\n    c()", "3:1", "the if statement has an alternative"),
    ("import a", "from b import a", "1:1", "the pattern has an import statement here, the code has the import from statement"),
    ("@{x}.format(@{_*})", "'a'.join(b)", "1:5", "the pattern says `format`, the code says `join`"),
    ("a()\nb()", "a()\nc()", "2:1", "the pattern says `b`, the code says `c`"),
]  # rows


@pytest.mark.parametrize(("pattern", "code", "place", "reason"), NEAR_MISSES)
def test_near_misses(pattern: str, code: str, place: str, reason: str) -> None:
    found = explain(compile_pattern(pattern, language("python")), tree_of(code), 1)
    assert found.match is None
    assert (str(found.place), reason in found.reason) == (place, True), found.reason
    assert sum(not row.agrees for row in found.rows) <= 1


def test_a_fit_is_told_with_what_the_holes_take() -> None:
    found = explain(compile_pattern("f(@{x})", language("python")), tree_of("\ny = f(g(1))"), 2)
    assert found.match is not None
    assert found.match.node_of("x").text == "g(1)"
    assert all(row.agrees for row in found.rows)
    with pytest.raises(ValueError, match="no code on line 7"):
        explain(found.match.pattern, tree_of("x"), 7)


def test_the_nearest_code_on_the_line_is_taken() -> None:
    tree = tree_of("total = add(one, two) + stamp(HOME, 1)\n")
    found = explain(compile_pattern("stamp(@{z})", language("python")), tree, 1)
    assert found.node.text == "stamp(HOME, 1)"
