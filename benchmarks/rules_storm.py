"""A storm: rules that meet, nest and touch everywhere, to see that nothing is lost or broken.

They change what programs do: they are for copies of code that is compiled, not run.
"""

from yellow_trellis import Rule, fix, none_of, rule, taken
from yellow_trellis.edits.lists import items_of


def put(name, find, template, **more):
    return Rule(name, summary=name, find=find, put=template, **more)


# Renames, arguments swapped, wraps, operators into calls and back.
equal = put("equal", "self.assertEqual(@{a}, @{b}, @{r*})", "self.are_equal(@{b}, @{a}, @{r*})")
true = put("true", "self.assertTrue(@{x}, @{r*})", "self.holds(@{x}, @{r*})")
false = put("false", "self.assertFalse(@{x}, @{r*})", "self.holds(not @{x}, @{r*})")
raises = put("raises", "self.assertRaises(@{e}, @{f}, @{r*})", "self.fails(@{f}, @{e}, @{r*})")
member = put("member", "self.assertIn(@{a}, @{b}, @{r*})", "self.holds(@{a} in @{b}, @{r*})")
same = put("same", "@{a} == @{b}", "same(@{a}, @{b})")
other = put("other", "@{a} != @{b}", "not same(@{b}, @{a})")
missing = put("missing", "@{x} is None", "missing(@{x})")
there = put("there", "@{x} is not None", "there(@{x})")
outside = put("outside", "@{a} not in @{b}", "outside(@{b}, @{a})")
size = put("size", "len(@{x})", "size_of(@{x})")
kind = put("kind", "isinstance(@{x}, @{k})", "is_a(@{k}, @{x})")
words = put("words", "str(@{x})", "words(of=@{x})")
whole = put("whole", "int(@{x})", "whole((@{x}))")
span = put("span", "range(@{a}, @{b})", "span(@{b}, start=@{a})")
told = put("told", "print(@{a*})", "tell(@{a*})")
pushed = put("pushed", "@{x}.append(@{y})", "push(@{y}, @{x})")
got = put("got", "@{x}.get(@{k}, @{d})", "got(@{x}, @{k}, otherwise=@{d})")
joined = put("joined", "@{x}.join(@{y})", "together(@{y}, by=@{x})")
filled = put("filled", "@{t: string} % @{x}", "fill(@{t}, @{x})")
either = put("either", "@{a} or @{b}", "either(@{a}, @{b})")
sure = put("sure", "assert @{x}, @{m}", "ensure(@{x}, says=@{m})")
plain = put("plain", "return None", "return")
parent = put("parent", "super(@{a}, @{b})", "super()")
flipped = put(
    "flipped",
    "if @{c}:\n    @{a+}\nelse:\n    @{b+}",
    "if flip(@{c}):\n    @{b+}\nelse:\n    @{a+}",
    where=[none_of(taken("c", text=r"flip\(.*\)"))],
)
opened = put(
    "opened", "with open(@{a*}) as @{f}:\n    @{b+}", "with opened(@{a*}) as @{f}:\n    @{b+}"
)
tried = put("tried", "try:\n    @{a+}\nexcept @{e}:\n    pass", "with quiet(@{e}):\n    @{a+}")


@rule("traced", summary="traced", kinds=["function_definition"])
def traced(node, code):
    """An insertion at the start of every function."""
    if "trace_in(" not in node.text:
        made = fix("Trace").first_in(node, "trace_in()", order=1, blank_after=1)
        yield code.finding(node.child("name") or node, fixes=[made])


@rule("counted", summary="counted", kinds=["function_definition"])
def counted(node, code):
    """Another insertion at the same points, and the same blank line wished for."""
    if "count_in(" not in node.text:
        made = fix("CountCondition").first_in(node, "count_in()", order=2, blank_after=1)
        yield code.finding(node.child("name") or node, fixes=[made])


@rule("left", summary="left", kinds=["return_statement"])
def left(node, code):
    """An insertion before every return that has a line of its own."""
    before = node.previous
    while before is not None and before.is_comment:
        before = before.previous
    alone = code.tree.source.indent_at(node.start).decode() == " " * (node.place.column - 1)
    if alone and not (before is not None and before.text == "leave()"):
        yield code.finding(node, fixes=[fix("Suppression").before(node, "leave()")])


@rule("marked", summary="marked", kinds=["class_definition"])
def marked(node, code):
    """An insertion at the end of every class."""
    if "MARKED = True" not in node.text:
        yield code.finding(
            node.child("name") or node, fixes=[fix("Fingerprint").last_in(node, "MARKED = True")]
        )


@rule("sorted-names", summary="sorted names", kinds=["import_from_statement"])
def sorted_names(node, code):
    """Items of a list in order."""
    names = [item for item in node.items if item.field == "name"]
    if sorted(n.text for n in names) != [n.text for n in names]:
        yield code.finding(node, fixes=[fix("Sort").sort(names, key=lambda n: n.text)])


@rule("last-shown", summary="last shown", kinds=["function_definition"])
def last_shown(node, code):
    """A move: ``__repr__`` stands last in its class."""
    body = node.parent
    name = node.child("name")
    if name is None or name.text != "__repr__" or body is None or body.kind != "block":
        return
    last = body.items[-1]
    if last is not node and last.kind == "function_definition":
        yield code.finding(name, fixes=[fix("Move").move(node, after=last)])


@rule("broken-calls", summary="broken calls", kinds=["argument_list"])
def broken_calls(node, code):
    """A list over lines, where its line is long."""
    lines = code.tree.source.lines
    start = lines.start(node.start)
    if any(above.kind == "interpolation" for above in node.ancestors()):
        return
    if "\n" not in node.text and lines.end(start) - start > 90 and len(items_of(node)) > 1:
        yield code.finding(node, fixes=[fix("Break").over_lines(node)])


@rule("no-static", summary="no static", kinds=["decorator"])
def no_static(node, code):
    """A decorator is removed."""
    if node.text == "@staticmethod":
        yield code.finding(node, fixes=[fix("Remove").remove(node)])


@rule("one-more", summary="one more", find="@{x}.format(@{a+})")
def one_more(match, code):
    """An argument is appended."""
    arguments = match.node.child("arguments")
    if arguments is not None and "more=" not in arguments.text:
        yield code.finding(match, fixes=[fix("Append").append_to(arguments, "more=None")])
