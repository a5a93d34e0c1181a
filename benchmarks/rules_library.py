"""Ten rules that find plenty in any Python code base; each keeps a program compiling."""

from yellow_trellis import Example, Rule, fix, rule

check_equal = Rule(
    "check-equal",
    summary="assertEqual is called check_same, with the expected value first.",
    find="self.assertEqual(@{actual}, @{expected}, @{rest*})",
    put="self.check_same(@{expected}, @{actual}, @{rest*})",
    examples=[
        Example(
            "self.assertEqual(a, 1, 'text')",
            becomes="self.check_same(1, a, 'text')",
        )
    ],
)

absent_from = Rule(
    "absent-from",
    summary="`not a in b` reads better as `a not in b`.",
    find="not @{item} in @{group}",
    put="@{item} not in @{group}",
    examples=[Example("x = not (a in b)", becomes="x = a not in b")],
)

is_none = Rule(
    "is-none",
    summary="None is compared by identity.",
    find="@{value} == None",
    put="@{value} is None",
    examples=[Example("x = a == None", becomes="x = a is None")],
)

length_zero = Rule(
    "length-zero",
    summary="An empty container is false by itself.",
    find="len(@{group}) == 0",
    put="not @{group}",
    examples=[Example("x = len(a or b) == 0", becomes="x = not (a or b)")],
)

raises_block = Rule(
    "raises-block",
    summary="assertRaises as a block is spelled expect.",
    find="with self.assertRaises(@{error}): @{body*}",
    put="with self.expect(@{error}): @{body*}",
    examples=[
        Example(
            "with self.assertRaises(KeyError):\n    f()",
            becomes="with self.expect(KeyError):\n    f()",
        )
    ],
)

is_instance = Rule(
    "is-instance",
    summary="isinstance goes through the house's own function.",
    find="isinstance(@{value}, @{kind})",
    put="is_a(@{kind}, @{value})",
    examples=[Example("isinstance(a, int)", becomes="is_a(int, a)")],
)

joined = Rule(
    "format-call",
    summary="A format call names its text.",
    find="@{text: string}.format(@{values*})",
    put="render(@{text}, @{values*})",
    examples=[Example("'{}'.format(a)", becomes="render('{}', a)")],
)

ternary = Rule(
    "return-both-ways",
    summary="Both branches return: one expression says it.",
    find="if @{test}:\n    return @{one}\nelse:\n    return @{other}",
    put="return @{one} if @{test} else @{other}",
    examples=[
        Example(
            "def f():\n    if a:\n        return 1\n    else:\n        return 2",
            becomes="def f():\n    return 1 if a else 2",
        )
    ],
)


@rule(
    "say-what-is-caught",
    summary="An except clause names what it catches.",
    kinds=["except_clause"],
    examples=[
        Example(
            "try:\n    f()\nexcept:\n    g()",
            becomes="try:\n    f()\nexcept BaseException:\n    g()",
        )
    ],
)
def say_what_is_caught(clause, code):
    head = clause.children[0]
    if clause.children[1].kind == ":":
        yield code.finding(
            head, "this catches everything, unsaid", [fix("Say it").after(head, " BaseException")]
        )


@rule(
    "empty-return",
    summary="A function that ends in a bare return need not say so.",
    kinds=["return_statement"],
    examples=[
        Example(
            "def f():\n    g()\n    return",
            becomes="def f():\n    g()",
        )
    ],
)
def empty_return(node, code):
    body = node.parent
    if len(node.items) > 1 or len(body.items) < 2 or body.items[-1] is not node:
        return
    if body.parent.kind == "function_definition":
        yield code.finding(node, fixes=[fix("Take it out").remove(node)])
