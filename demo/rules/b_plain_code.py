"""What was written the long way round, in any part of the code."""

from yellow_trellis import Example, Option, Rule, fix, rule

one_none = Rule(
    "one-none",
    summary="There is one None: `is` asks for it.",
    find="@{value} == None",
    put="@{value} is None",
    examples=[
        Example("if now == None: pass", becomes="if now is None: pass"),
        Example("x = (a.b == (None))", becomes="x = (a.b is (None))"),
        Example("if now == 0: pass", stays=True),
    ],
)

not_none = Rule(
    "not-none",
    summary="`is not None` says it in the order in which it is read.",
    find="not @{value} is None",
    put="@{value} is not None",
    examples=[
        Example("if not last is None: pass", becomes="if last is not None: pass"),
        Example("ok = not (a or b) is None", becomes="ok = (a or b) is not None"),
    ],
)

absent_from = Rule(
    "absent-from",
    summary="`not in` is one operator.",
    find="not @{item} in @{group}",
    put="@{item} not in @{group}",
    examples=[
        Example("if not stop in LAST: pass", becomes="if stop not in LAST: pass"),
        Example("if not (stop in LAST): pass", becomes="if stop not in LAST: pass"),
        Example("if not stop: pass", stays=True),
    ],
)

ask_the_table = Rule(
    "ask-the-table",
    summary="Tables are asked with `in`.",
    find="@{table}.has_key(@{key})",
    put="@{key} in @{table}",
    examples=[
        Example("ok = TABLES.has_key(name)", becomes="ok = name in TABLES"),
        Example("ok = not t.has_key(a or b)", becomes="ok = not (a or b) in t"),
    ],
)

empty_by_itself = Rule(
    "empty-by-itself",
    summary="An empty list is false by itself.",
    find="len(@{group}) == 0",
    put="not @{group}",
    safety="review",
    help="Review: an object may have a length and another idea of truth.",
    examples=[
        Example("if len(free) == 0: pass", becomes="if not free: pass"),
        Example("x = len(a + b) == 0", becomes="x = not a + b"),
    ],
)

unless_else = Rule(
    "unless-else",
    summary="With two branches, the positive question comes first.",
    find="if not @{test}:\n    @{one+}\nelse:\n    @{other+}",
    put="if @{test}:\n    @{other+}\nelse:\n    @{one+}",
    examples=[
        Example(
            "if not car.awake:\n    car.wake()  # slowly\nelse:\n    # full only on the street\n    car.go()",
            becomes="if car.awake:\n    # full only on the street\n    car.go()\nelse:\n    car.wake()  # slowly",
        ),
    ],
)


@rule(
    "say-what-is-caught",
    summary="An except clause names what it catches.",
    kinds=["except_clause"],
    level="error",
    options=[Option("catch", "Exception", help="The class that is caught instead of everything.")],
    examples=[
        Example(
            "try:\n    f()\nexcept:  # whatever\n    g()",
            becomes="try:\n    f()\nexcept Exception:  # whatever\n    g()",
        ),
        Example("try:\n    f()\nexcept KeyError:\n    g()", stays=True),
    ],
)
def say_what_is_caught(clause, code):
    """It also catches the interrupt by which the night job is stopped."""
    word, following = clause.children[0], clause.children[1]
    caught = code.options["catch"]
    if following.kind == ":":
        yield code.finding(
            word,
            "this catches everything, the interrupt too",
            [
                fix(f"Catch {caught}").after(word, f" {caught}"),
                fix("Catch everything, and say so", safety="review").after(word, " BaseException"),
            ],
        )
