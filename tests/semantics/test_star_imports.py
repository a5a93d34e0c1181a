"""What star imports bring, held to Python itself: modules import all of each other at random."""

import importlib
import os
import sys
from itertools import count
from pathlib import Path
from types import ModuleType

from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_trellis.project.project import CodeBase

MODULES = ("__init__", "a", "b", "c", "toll")
"""The package itself, and modules in it, one of which is called like a thing."""
NAMES = ("toll", "bell", "Counter", "_inner")
LINES = st.sampled_from(
    [
        *(f"from .{module} import *" for module in MODULES[1:]),
        "from . import *",
        *(f"class {name}: pass" for name in NAMES),
        '__all__ = ["toll", "_inner"]',
        "from collections import Counter as bell",
        "from collections import *",
    ]
)


def _bound(line: str) -> str:
    """Return the name that a line binds, or the line itself where it is a star import."""
    return line if line.endswith("*") else line.removesuffix(": pass").split()[-1]


TEXTS = st.fixed_dictionaries(
    {module: st.lists(LINES, max_size=4, unique_by=_bound) for module in MODULES}
)
_numbers = count()


def name_of(package: str, module: str) -> str:
    """Return the dotted name of a module of a package."""
    return package if module == "__init__" else f"{package}.{module}"


def loaded(package: str, first: str) -> dict[str, object]:
    """Import the modules of a package, one of them first, and return them by name; gone if broken."""
    for name in [name for name in sys.modules if name.split(".")[0] == package]:
        del sys.modules[name]
    results = {}
    for module in (first, *MODULES):
        try:
            results[module] = importlib.import_module(name_of(package, module))
        except (ImportError, AttributeError):  # a circle, or `__all__` names what is not there
            continue
    return results


def called(there: object) -> str:
    """Return the dotted name of a class or a module."""
    if isinstance(there, ModuleType):
        return there.__name__
    assert isinstance(there, type)
    return f"{there.__module__}.{there.__qualname__}"


@settings(max_examples=int(os.environ.get("YTR_EXAMPLES", "100")))
@given(texts=TEXTS)
def test_a_name_comes_down_to_what_python_finds(tmp_path_factory, texts) -> None:
    root: Path = tmp_path_factory.mktemp("base")
    package = f"alder_{next(_numbers)}"
    (root / package).mkdir()
    for module, lines in texts.items():
        (root / package / f"{module}.py").write_text("".join(f"{line}\n" for line in lines))
    graph = CodeBase(root, use_cache=False).modules("python").graph
    sys.path.insert(0, str(root))
    try:
        for first in MODULES:
            for module, value in loaded(package, first).items():
                for name in NAMES:
                    meaning = graph.resolve(f"{name_of(package, module)}:{name}")
                    there = getattr(value, name, None)
                    if meaning is not None and there is not None:
                        assert meaning == called(there), (first, module)
    finally:
        sys.path.remove(str(root))
