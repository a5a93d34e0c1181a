"""The order in which classes are asked for a member, held to Python itself on random classes."""

import os

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_trellis.project.project import CodeBase

NUMBERS = st.integers(0, 8)
NETS = st.lists(st.lists(NUMBERS, max_size=4, unique=True), min_size=3, max_size=9)


def written(net: list[list[int]]) -> str:
    """Return the code of classes, each with bases among those before it."""
    lines = []
    for number, bases in enumerate(net):
        names = ", ".join(f"K{base}" for base in bases if base < number)
        lines.append(f"class K{number}({names}):\n    def own_{number}(self): pass\n")
        if number % 2:
            lines.append("    def both(self): pass\n")
    return "".join(lines)


@settings(max_examples=int(os.environ.get("YTR_EXAMPLES", "100")))
@given(net=NETS)
def test_classes_are_asked_in_the_order_of_python(tmp_path_factory, net) -> None:
    root = tmp_path_factory.mktemp("base")
    code = written(net)
    (root / "alder.py").write_text(code)
    graph = CodeBase(root, use_cache=False).modules("python").graph
    space: dict[str, type] = {}
    try:
        # trellis: leave no-code-from-text because the classes are those of our own net
        exec(code, {"__name__": "alder"}, space)
    except TypeError:  # the first class that is not there has no order
        assert None in list(graph.bases(f"alder.K{len(space)}"))
    for name, made in space.items():
        order = [f"alder.{base.__name__}" for base in made.__mro__[1:-1]]
        assert list(graph.bases(f"alder.{name}")) == order
        if hasattr(made, "both"):
            holder = made.both.__qualname__
            assert graph.resolve(f"alder:{name}().both") == f"alder.{holder}"


def test_classes_that_share_all_their_bases_cost_no_more_than_they_are(tmp_path) -> None:
    lines = ["class A0: pass", "class B0: pass"]
    for number in range(1, 60):
        above = f"(A{number - 1}, B{number - 1})"
        lines += [f"class A{number}{above}: pass", f"class B{number}{above}: pass"]
    (tmp_path / "alder.py").write_text("\n".join(lines) + "\n")
    graph = CodeBase(tmp_path, use_cache=False).modules("python").graph
    order = list(graph.bases("alder.A59"))
    assert len(order) == 118 and order[:2] == ["alder.A58", "alder.B58"] and order[-1] == "alder.B0"


@pytest.mark.parametrize("code", ["class A(B): pass\nclass B(A): pass\n", "class A(A): pass\n"])
def test_classes_in_a_circle_have_no_order(tmp_path, code: str) -> None:
    (tmp_path / "alder.py").write_text(code)
    graph = CodeBase(tmp_path, use_cache=False).modules("python").graph
    assert None in list(graph.bases("alder.A"))
