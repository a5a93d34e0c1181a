"""Ten rules as a team would have them: some rare, some common, declared and in code."""

from yellow_trellis import Rule, fix, rule

is_none = Rule("is-none", summary="None is one.", find="@{value} == None", put="@{value} is None")
absent_from = Rule(
    "absent-from",
    summary="not in is one operator.",
    find="not @{item} in @{group}",
    put="@{item} not in @{group}",
)
length_zero = Rule(
    "length-zero",
    summary="Empty is false.",
    find="len(@{group}) == 0",
    put="not @{group}",
)
is_instance = Rule(
    "is-instance",
    summary="The house's own function.",
    find="isinstance(@{value}, @{kind})",
    put="is_a(@{kind}, @{value})",
)
opened = Rule(
    "opened",
    summary="Files are opened by Path.",
    find="open(@{name}, @{rest*})",
    put="Path(@{name}).open(@{rest*})",
)
type_is = Rule(
    "type-is",
    summary="Types are compared by identity.",
    find="type(@{value}) == @{kind}",
    put="type(@{value}) is @{kind}",
)
printed = Rule(
    "printed",
    summary="Programs log.",
    find="print(@{text: string})",
    put="log.info(@{text})",
)
warned = Rule(
    "warned",
    summary="Warnings say where they come from.",
    find="warnings.warn(@{message}, @{kind}, @{rest*})",
    put="caution(@{kind}, @{message}, @{rest*})",
)
raises_block = Rule(
    "raises-block",
    summary="expect is the new name.",
    find="with self.assertRaises(@{error}): @{body*}",
    put="with self.expect(@{error}): @{body*}",
)


@rule("say-what-is-caught", summary="Say what is caught.", kinds=["except_clause"])
def say_what_is_caught(clause, code):
    head = clause.children[0]
    if clause.children[1].kind == ":":
        yield code.finding(head, fixes=[fix("Say it").after(head, " BaseException")])
