"""The public interface is exported, documented, and written down as it is."""

from __future__ import annotations

import ast
import importlib.util
import inspect
import re
import sys
from pathlib import Path
from types import ModuleType

import pytest

import yellow_trellis

DOCS = Path(__file__).parents[1] / "docs"


def generator() -> ModuleType:
    spec = importlib.util.spec_from_file_location("make_reference", DOCS / "make_reference.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


REFERENCE = generator()


def test_the_page_is_what_the_docstrings_say() -> None:
    assert (DOCS / "reference.md").read_text("utf-8") == REFERENCE.page(), (
        "run `python docs/make_reference.py`"
    )


def test_every_export_has_its_chapter() -> None:
    listed = [name for names in REFERENCE.CHAPTERS.values() for name in names]
    assert sorted(listed) == sorted(set(yellow_trellis.__all__) - {"__version__"})


def imports_of(module: str) -> dict[str, str]:
    """Return by name where a module imports it from, those for type checkers too."""
    tree = ast.parse(inspect.getsource(sys.modules[module]))
    return {
        alias.asname or alias.name: node.module or ""
        for node in ast.walk(tree)
        if isinstance(node, ast.ImportFrom)
        for alias in node.names
    }


def names_in(function: object) -> set[str]:
    """Return the names of our own in the signature of a function."""
    known = imports_of(function.__module__)
    own = vars(sys.modules[function.__module__])
    words = {
        word
        for text in function.__annotations__.values()
        for word in re.findall(r"[A-Za-z_]\w*", text if isinstance(text, str) else "")
    }
    return {
        word
        for word in words
        if known.get(word, "").startswith("yellow_trellis")
        or (word in own and inspect.isclass(own[word]) and own[word].__module__ == function.__module__)
    }


def functions_of(name: str):
    value = getattr(yellow_trellis, name)
    if inspect.isfunction(value):
        yield value
    elif inspect.isclass(value):
        for _, member in REFERENCE.members_of(name, value):
            if (function := REFERENCE.function_of(member)) is not None:
                yield function


@pytest.mark.parametrize("name", sorted(set(yellow_trellis.__all__) - {"__version__"}))
def test_what_a_signature_says_is_exported(name: str) -> None:
    for function in functions_of(name):
        assert (function.__doc__ or "").strip(), f"{function.__qualname__} has no docstring"
        missing = names_in(function) - set(yellow_trellis.__all__)
        assert not missing, f"{function.__qualname__} says {', '.join(sorted(missing))}"


def test_what_the_page_leaves_out_exists() -> None:
    missing = [
        f"{name}.{member}"
        for name, members in REFERENCE.INTERNAL.items()
        for member in members - set(dir(getattr(yellow_trellis, name)))
        if member not in getattr(getattr(yellow_trellis, name), "__annotations__", {})
        and f"self.{member}" not in inspect.getsource(getattr(yellow_trellis, name))
    ]
    assert missing == []
