"""The rules that our own code keeps."""

from yellow_trellis import Example, Option, rule
from yellow_trellis.source import Span

LAYERS = (
    *("records", "lazy", "mistake", "tables", "globs", "toml_file", "source", "languages"),
    *("syntax", "facts", "patterns", "fixes", "rules", "plans", "config", "engine"),
    *("formats", "testing", "cli"),
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
        Example("x = (\n    '" + "y" * 100 + "',\n)  # fmt: skip", stays=True),
    ],
)
def short_lines(module, code):
    source = module.tree.source
    start = 0
    for line in source.data.split(b"\n"):
        if len(line.decode("utf-8", "replace")) > code.options["most"] and b"fmt: skip" not in line:
            leaf = module.tree.leaf_at(start + len(line) - 1)
            if leaf is not None and not _in_table(leaf):
                yield code.finding(leaf, f"The line has {len(line)} characters.")
        start += len(line) + 1


def _in_table(node):
    """Return whether a node is in a table whose rows read best as lines."""
    return any(
        above.next is not None and above.next.is_comment and "fmt: skip" in above.next.text
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
