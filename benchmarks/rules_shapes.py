"""Forty rules of every kind, most of them of holes alone, written without a look at any code."""

from yellow_trellis import Rule, fix, holds, none_of, rule, taken

_SHAPES = (
    ("call-same-twice", "@{f}(@{x}, @{x})", None),
    ("slice-from-zero", "@{x}[0:@{n}]", "@{x}[:@{n}]"),
    ("slice-one", "@{x}[@{n}:@{n}]", None),
    ("same-both-sides", "@{x} - @{x}", "0"),
    ("same-compared", "@{x} == @{x}", None),
    ("and-itself", "@{x} and @{x}", "@{x}"),
    ("or-itself", "@{x} or @{x}", "@{x}"),
    ("assign-itself", "@{x} = @{x}", None),
    ("double-not", "not not @{x}", "bool(@{x})"),
    ("negated-twice", "--@{x}", "@{x}"),
    ("plus-zero", "@{x} + 0", "@{x}"),
    ("times-one", "@{x} * 1", "@{x}"),
    ("add-to-itself", "@{x} = @{x} + @{y}", "@{x} += @{y}"),
    ("subtract-from-itself", "@{x} = @{x} - @{y}", "@{x} -= @{y}"),
    ("choice-of-same", "@{x} if @{t} else @{x}", "@{x}"),
    ("choice-of-truth", "True if @{t} else False", "bool(@{t})"),
    ("negated-choice", "@{a} if not @{t} else @{b}", "@{b} if @{t} else @{a}"),
    ("copy-by-loop", "[@{x} for @{x} in @{xs}]", "list(@{xs})"),
    ("call-of-call", "@{f}(@{_*})(@{_*})", None),
    ("index-of-call", "@{f}(@{_*})[@{n: integer}]", None),
    ("pair-swap", "@{a}, @{b} = @{b}, @{a}", None),
    ("empty-lambda", "lambda: @{f}()", "@{f}"),
    ("one-argument-lambda", "lambda @{x}: @{f}(@{x})", "@{f}"),
    ("tuple-of-one", "(@{x},)", None),
    ("nested-choice", "@{a} if @{s} else @{b} if @{t} else @{c}", None),
    ("loop-over-literal", "for @{x} in [@{_*}]: @{body*}", None),
    ("early-return", "if @{t}:\n    return @{x}\nreturn @{y}", None),
    ("return-after-set", "@{x} = @{v}\nreturn @{x}", "return @{v}"),
    ("set-twice", "@{x} = @{_}\n@{x} = @{_}", None),
    ("empty-branch", "if @{t}: pass", None),
    ("loop-with-index", "while @{i} < @{n}: @{body*}", None),
    ("with-two", "with @{a}, @{b}: @{body*}", None),
    ("plain-try", "try: @{body*}\nexcept @{e}: @{rest*}", None),
    ("one-method-class", "class @{name}(@{_*}):\n    def @{m}(self): @{body*}", None),
    ("subscript-set", "@{d}[@{k}] = @{v: call}", None),
    ("chain-of-three", "@{a}.@{b}.@{c}(@{_*})", None),
)
for _name, _find, _put in _SHAPES:
    globals()[_name.replace("-", "_")] = Rule(_name, summary=_name, find=_find, put=_put)

literal_first = Rule(
    "literal-first",
    summary="A literal stands on the right.",
    find="@{a: literal} == @{b}",
    put="@{b} == @{a}",
    where=[none_of(taken("b", kind="literal"))],
)
long_body = Rule(
    "loop-in-loop",
    summary="A loop in a loop.",
    find="for @{x} in @{xs}: @{body*}",
    where=[holds("for @{y} in @{ys}: @{_*}")],
)


@rule("many-parameters", summary="A function takes few things.", kinds=["function_definition"])
def many_parameters(node, code):
    parameters = node.child("parameters")
    if parameters is not None and len(parameters.items) > 8:
        yield code.finding(parameters)


@rule("bare-number", summary="A number has a name.", kinds=["return_statement"])
def bare_number(node, code):
    if len(node.items) == 2 and node.items[1].kind == "integer":
        yield code.finding(node, fixes=[fix("Take it out", safety="review").remove(node)])
