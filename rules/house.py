"""The rules that our own code keeps."""

from yellow_trellis import Example, Option, Rule, rule
from yellow_trellis.source import Span

LAYERS = (
    *("errors", "trace", "schema", "ignore_patterns", "lazy_imports", "toml_source"),
    *("data_frames", "notebook_html", "source", "languages", "syntax", "edits", "semantics"),
    *("patterns", "fixes", "findings", "plans", "rules"),
    *("packs", "scan", "project", "runs", "reports", "authoring", "testing", "cli"),
)
"""From the ground up: nothing imports what stands further right."""


@rule(
    "short-lines",
    summary="A line has at most so many characters.",
    kinds=["module"],
    options=[Option("most", 100, help="Characters of a line.")],
    examples=[
        Example("x = 1  # " + "y" * 100),
        Example("x = 1", stays=True),
        Example("x = (\n    '" + "y" * 100 + "',\n)  # rows", stays=True),
    ],
)
def short_lines(module, code):
    if "tests/" in code.path:
        return  # code to be read by the library stands there as it is
    source = module.tree.source
    start = 0
    for line in source.data.split(b"\n"):
        if len(line.decode("utf-8", "replace")) > code.options["most"] and b"# rows" not in line:
            leaf = module.tree.leaf_at(start + len(line) - 1)
            if leaf is not None and not _in_table(leaf):
                yield code.finding(leaf, f"The line has {len(line)} characters.")
        start += len(line) + 1


def _in_table(node):
    """Return whether a node is in a table whose rows read best as lines."""
    return any(
        above.next is not None and above.next.is_comment and "# rows" in above.next.text
        for above in (node, *node.ancestors())
    )


@rule(
    "module-says-why",
    summary="A module starts with a sentence that says why it exists.",
    kinds=["module"],
    examples=[Example("x = 1"), Example('"""Why."""\nx = 1', stays=True)],
)
def module_says_why(module, code):
    if module.items and module.items[0].core.kind not in ("string", "concatenated_string"):
        yield code.finding(module.items[0])


@rule(
    "only-commands-print",
    summary="Only the commands write to the terminal.",
    find="@<builtins.print>(@{_*})",
    examples=[Example("print(1)"), Example("out.print(1)", stays=True)],
)
def only_commands_print(match, code):
    if "/cli/" not in code.path and "benchmarks/" not in code.path:
        yield code.finding(match)


@rule(
    "no-import-upwards",
    summary="A layer imports only what stands below it.",
    find="from @{module} import @{_+}",
    examples=[Example("from yellow_trellis.cli import main", stays=True)],
)
def no_import_upwards(match, code):
    folders = code.path.replace("\\", "/").split("/")
    module = match.node_of("module").text.split(".")
    if "yellow_trellis" not in folders[:-1] or module[0] != "yellow_trellis" or len(module) < 2:
        return
    ours = folders[folders.index("yellow_trellis") + 1].removesuffix(".py")
    theirs = module[1]
    if ours in LAYERS and theirs in LAYERS and LAYERS.index(theirs) > LAYERS.index(ours):
        yield code.finding(match, f"`{ours}` imports `{theirs}`, which stands above it.")


@rule(
    "files-are-small",
    summary="A file has one idea, and at most so many lines.",
    kinds=["module"],
    options=[Option("most", 500, help="Lines of a file.")],
    examples=[
        Example("x = 1\nx = 2\n", options={"most": 1}),
        Example("x = 1\n", stays=True, options={"most": 1}),
    ],
)
def files_are_small(module, code):
    count = module.tree.source.data.count(b"\n")
    if count > code.options["most"] and "tests/" not in code.path:
        yield code.finding(module.items[-1], f"The file has {count} lines.")


@rule(
    "default-made-once",
    summary="A default that can change is made for each call, not once for all.",
    kinds=["default_parameter", "typed_default_parameter"],
    examples=[
        Example("def f(a=[]): pass"),
        Example("def f(a: dict = {}): pass"),
        Example("def f(a=()): pass", stays=True),
    ],
)
def default_made_once(node, code):
    value = node.child("value")
    if value is not None and value.core.kind in ("list", "dictionary", "set"):
        yield code.finding(value)


@rule(
    "docstring-says-what",
    summary="A docstring says what is done or returned, in the imperative.",
    kinds=["function_definition", "class_definition", "module"],
    options=[Option("never", ("What", "Whether", "Where", "How", "Who", "Which", "Tell"))],
    examples=[
        Example('def f():\n    """What a file holds."""'),
        Example('def f():\n    """Return what a file holds."""', stays=True),
        Example('"""Who owns a file."""'),
    ],
)
def docstring_says_what(node, code):
    body = node if node.kind == "module" else node.child("body")
    first = body.items[0].core if body is not None and body.items else None
    if first is None or first.kind != "string" or "tests/" in code.path:
        return
    word = first.text.strip("\"'").split(maxsplit=1)[:1]
    if word and word[0] in code.options["never"]:
        yield code.finding(first, f"The docstring starts with `{word[0]}`.")


@rule(
    "public-has-docstring",
    summary="What others use says what it does.",
    kinds=["function_definition", "class_definition"],
    examples=[
        Example("class A:\n    x = 1", stays=True),
        Example("def _f(): pass", stays=True),
    ],
)
def public_has_docstring(node, code):
    name, body = node.child("name"), node.child("body")
    if name is None or body is None or "src/" not in code.path:
        return
    hidden = name.text.startswith("_") or any(
        above.kind == "function_definition" for above in node.ancestors()
    )
    documented = body.items and body.items[0].core.kind in ("string", "concatenated_string")
    owner = next((one for one in node.ancestors() if one.kind == "class_definition"), None)
    if hidden or documented or owner is not None or "/commands/" in code.path:
        return
    yield code.finding(name, f"`{name.text}` has no docstring.")


@rule(
    "imports-in-order",
    summary="The imports of a block stand in the order of their modules.",
    kinds=["module"],
    examples=[
        Example("import b\nimport a\n"),
        Example("import a\nimport b\n", stays=True),
        Example("import b\n\nimport a\n", stays=True),
    ],
)
def imports_in_order(module, code):
    last = None
    for item in module.items:
        key = _key(item)
        if key is None:
            last = None
            continue
        if last is not None and item.place.line == last[1].next_line and key < last[0]:
            yield code.finding(item, "This import stands before the one above it.")
        last = key, _Line(item)


class _Line:
    """The line below an import."""

    def __init__(self, node):
        lines = node.tree.source.lines
        self.next_line = lines.number(node.end) + 1


def _key(item):
    """Return by what an import is sorted: plain ones first, then by module."""
    if item.kind == "import_statement":
        return (0, item.items[1].text)
    if item.kind in ("import_from_statement", "future_import_statement"):
        name = item.child("module_name")
        return (1, name.text if name is not None else "")
    return None


no_star_import = Rule(
    "names-are-imported",
    summary="An import says which names it brings.",
    find="from @{module} import *",
    examples=[Example("from a import *"), Example("from a import b", stays=True)],
)

caught_by_name = Rule(
    "caught-by-name",
    summary="A handler names what it catches.",
    find="try: @{body*}\nexcept: @{rest*}",
    examples=[
        Example("try:\n    a\nexcept:\n    b"),
        Example("try:\n    a\nexcept A:\n    b", stays=True),
    ],
)

no_exec = Rule(
    "no-code-from-text",
    summary="No code is made from text at run time.",
    find="@<builtins.exec>(@{_*})",
    examples=[Example("exec('x')"), Example("run.exec('x')", stays=True)],
)

no_garbage_switch = Rule(
    "collector-runs",
    summary="The garbage collector is left alone.",
    find="@<gc.disable>()",
    examples=[Example("gc.disable()", given="import gc")],
)

encoding_is_said = Rule(
    "encoding-is-said",
    summary="Text is read and written in an encoding that is said.",
    find="@{path}.read_text()",
    put='@{path}.read_text("utf-8")',
    safety="review",
    examples=[Example("p.read_text()", becomes='p.read_text("utf-8")')],
)

one_none = Rule(
    "nothing-is-nothing",
    summary="None is asked for by identity.",
    find="@{value} == None",
    put="@{value} is None",
    examples=[Example("x == None", becomes="x is None"), Example("x is None", stays=True)],
)
