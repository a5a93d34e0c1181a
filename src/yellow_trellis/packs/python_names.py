"""Rules about the names of a Python file: unused imports, lost definitions, shadowed names."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

import builtins
import sys
from collections.abc import Iterator

from yellow_trellis.fixes import Safety, fix
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.option import Option
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.semantics.python import facts_of
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import attached

_BUILTINS = frozenset(dir(builtins))
_HIDDEN = ("function", "class", "import")


def _face(code: Code) -> bool:
    """Return whether the file is the face of a package, whose imports are for others."""
    return code.path.replace("\\", "/").rpartition("/")[2].startswith("__init__.")


def _tried(node: Node) -> bool:
    return any(above.kind == "try_statement" for above in node.ancestors())


@rule(
    "idle-import",
    summary="What is imported is used.",
    kinds=["module"],
    tags=["names", "imports"],
    options=[Option("kept", (), help="Names that stay although nothing refers to them.")],
    examples=[
        Example("import os\nimport sys\nsys.exit()", becomes="import sys\nsys.exit()"),
        Example(
            "from json import dumps, loads\nloads('1')",
            becomes="from json import loads\nloads('1')",
        ),
        Example("import os.path\nimport os.path as p\np.sep", becomes="import os.path as p\np.sep"),
        Example("import os  # its import counts", stays=False),
        Example("from x import y\n__all__ = ['y']", stays=True),
        Example("from x import y\ndef f(a: 'y'): pass", stays=True),
        Example("from x import y as y", stays=True),
        Example("try:\n    import fast\nexcept ImportError:\n    import slow", stays=True),
        Example("from __future__ import annotations", stays=True),
    ],
)
def idle_import(node: Node, code: Code) -> Iterator[Draft]:
    """Nothing in the file refers to the name, and no other file takes it from here.

    Importing a module may have an effect of its own. So taking it out is safe for the modules of
    the language, and asks for review for all others, unless another import of that module stays.
    """
    if _face(code):
        return
    sources = [item.source(code.package) for _, item in code.facts.names.imports]
    for imported, binding, item in code.unused_imports():
        if binding.name in code.options["kept"]:
            continue
        if _tried(item) or (binding.scope is code.facts.names.module and code.gives(binding.name)):
            continue
        if facts_of(code.tree).must_load(imported):
            continue
        source = imported.source(code.package) or imported.module
        is_known = source.partition(".")[0] in sys.stdlib_module_names or sources.count(source) > 1
        safety: Safety = "safe" if is_known else "review"
        has_comment = any(attached(item))  # a comment may be the reason
        yield code.finding(
            item,
            f"`{imported.bound}` is imported and not used",
            [] if has_comment else [fix("Take it out", safety=safety).unimport(item)],
        )


@rule(
    "hidden-name",
    summary="A variable does not hide a built-in or what the module defines.",
    kinds=["module"],
    level="note",
    tags=["names"],
    examples=[
        Example(
            "def f(x):\n    list = [x]\n    return list",
            becomes="def f(x):\n    list_ = [x]\n    return list_",
        ),
        Example(
            "import json\ndef f():\n    for json in a:\n        g(json)",
            becomes="import json\ndef f():\n    for json_ in a:\n        g(json_)",
        ),
        Example("def f(x):\n    y = x\n    return y", stays=True),
        Example("class A:\n    list = 1", stays=True),
    ],
)
def hidden_name(node: Node, code: Code) -> Iterator[Draft]:
    """An argument is reported too, but keeps its name: calls elsewhere may say it."""
    names = code.facts.names
    for binding in names.bindings:
        if binding.scope.kind not in ("function", "lambda") or binding.name.startswith("__"):
            continue
        if not binding.definitions or binding.hows & {"function", "class", "import"}:
            continue
        hidden = (
            names.bound(names.module, binding.name) if names.module.binds(binding.name) else None
        )
        if hidden is not None and hidden.hows & set(_HIDDEN):
            label = f"what the module binds at {hidden.definitions[0].place}"
        elif hidden is None and binding.name in _BUILTINS:
            label = "the built-in"
        else:
            continue
        fixes = []
        if "argument" not in binding.hows:
            new = binding.name + "_"
            fixes = [fix(f"Call it {new}").rename(binding, new)]
        yield code.finding(binding.definitions[0].node, f"`{binding.name}` hides {label}", fixes)


@rule(
    "replaced-unread",
    summary="A definition is not replaced before it is used.",
    kinds=["module"],
    tags=["names"],
    examples=[
        Example("import os\nimport os\nos.sep", becomes="import os\nos.sep"),
        Example("def f(): pass\ndef f(): return 1\nf()", stays=False),
        Example("def f(): pass\nf()\ndef f(): return 1", stays=True),
        Example("if a:\n    def f(): pass\nelse:\n    def f(): pass", stays=True),
        Example(
            "class A:\n    @property\n    def x(self): pass\n    @x.setter\n    def x(self, v): pass",
            stays=True,
        ),
    ],
)
def replaced_unread(node: Node, code: Code) -> Iterator[Draft]:
    """Remove the second where both are the same import; else leave the choice to a person."""
    for first, second in code.redefinitions():
        fixes = []
        entry, peer = (code.facts.names.import_of(each) for each in (first, second))
        if entry is not None and peer is not None:
            item = code.facts.names.item_of(peer)
            if entry.target(
                code.package
            ) == peer.target(code.package) and entry.alias == peer.alias:
                fixes = [fix("Take the second out").unimport(item)]
        yield code.finding(
            second.node, f"`{second.name}` was made at {first.place} and never used", fixes
        )


@rule(
    "import-for-types",
    summary="What only annotations name is imported for type checkers only.",
    kinds=["module"],
    level="note",
    tags=["names", "imports"],
    examples=[
        Example(
            "from __future__ import annotations\n\nimport os\n\nfrom cars import Car, Line\n\n\n"
            "def f(x: Car) -> None:\n    Line(x, os)",
            becomes="from __future__ import annotations\n\nimport os\nfrom typing import TYPE_CHECKING\n\n"
            "from cars import Line\n\nif TYPE_CHECKING:\n    from cars import Car\n\n\n"
            "def f(x: Car) -> None:\n    Line(x, os)",
        ),
        Example(
            "from typing import TYPE_CHECKING\n\nfrom cars import Car\n\nif TYPE_CHECKING:\n"
            "    import os\n\ndef f(x: 'Car', y: 'os'): ...",
            becomes="from typing import TYPE_CHECKING\n\nif TYPE_CHECKING:\n"
            "    import os\n\n    from cars import Car\n\ndef f(x: 'Car', y: 'os'): ...",
        ),
        Example("from cars import Car\ndef f(x: Car): ...", stays=True),
        Example(
            "from __future__ import annotations\nfrom cars import Car\nx: Car = Car()", stays=True
        ),
    ],
)
def import_for_types(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: programs may read annotations as they run."""
    names = facts_of(code.tree).names
    later = any(
        item.module == "__future__" and item.name == "annotations" for _, item in names.imports
    )
    harmless = {"quoted", "annotation"} if later else {"quoted"}
    for scope, first in names.imports:
        if scope is not names.module or first.name in (None, "*") or first.module == "__future__":
            continue
        binding = names.visible(first.bound, scope)
        if binding is None or len(binding.definitions) > 1 or _face(code):
            continue
        uses = {ref.use for ref in binding.references}
        if not uses or not uses <= harmless or code.gives(first.bound):
            continue
        if first.bound in {name for name, _ in names.exported or ()}:
            continue
        item = names.item_of(first)
        if item.parent is None or item.parent.parent is not code.root:
            continue
        result = fix("Import it for type checkers only", safety="review").unimport(item)
        yield code.finding(
            item, f"only annotations name `{first.bound}`", [result.bring(first, where="types")]
        )


@rule(
    "import-at-the-top",
    summary="A module imports before it does anything else.",
    kinds=["import_statement", "import_from_statement"],
    level="note",
    tags=["names", "imports"],
    examples=[
        Example(
            "import os\n\nprint(os)\n\nfrom json import dumps\n\ndumps(1)",
            becomes="import os\nfrom json import dumps\n\nprint(os)\n\ndumps(1)",
        ),
        Example('"""Doc."""\nimport os\n__all__ = []\nimport sys', stays=True),
        Example("print(1)\nif a:\n    import os", stays=True),
        Example("def f():\n    g()\n    import os", stays=True),
    ],
)
def import_at_the_top(node: Node, code: Code) -> Iterator[Draft]:
    """Asks for review: what stands before may be there on purpose."""
    if node.parent is not code.root:
        return
    before = [item for item in code.root.items if item.end <= node.start]
    if all(_may_precede(item) for item in before):
        return
    result = fix("Move it to the top", safety="review").unimport(node)
    for item in [item for _, item in code.facts.names.imports if item.statement == node.span]:
        if item.name == "*":
            return
        result.bring(item)
    yield code.finding(node, "this import stands behind other code", [result])


def _may_precede(item: Node) -> bool:
    """Return whether a statement may stand before imports: a string, `__all__`, a choice."""
    core = item.core
    if item.kind.startswith(("import", "future_import", "if_", "try_", "with_")):
        return True
    if core.kind == "assignment":
        return core.items[0].text.startswith("__")
    return core.kind in ("string", "concatenated_string")
