"""A storm for each language: rules that meet, nest and touch everywhere, at least eight of them.

They change what programs do: they are for copies of code that is parsed and not run. Each rule has
nothing to do where it has been.
"""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis import Finding, Node, Rule, Code, fix, none_of, rule, taken
from yellow_trellis.rules.conditions import Condition

BRACES = {
    "renamed": ("@{f like (get|is|to|len|size|print)\\w*}(@{x})", "renamed_(@{x}, 0, 0)"),
    "swapped": ("@{f like [a-z]\\w*}(@{a}, @{b})", "swapped_(@{b}, @{a}, 0)"),
    "wrapped": ("@{a} == @{b}", "same_(@{a}, @{b}, 1, 2)"),
    "unwrapped": ("!@{x}", "@{x}"),
    "joined": ("@{a} && @{b}", "both_(@{a}, @{b}, 1, 2)"),
    "flipped": (
        "if (@{c}) { @{a*} } else { @{b*} }",
        "if (flip_(@{c}, 0, 0)) {\n    @{b*}\n} else {\n    @{a*}\n}",
    ),
    "doubled": ("@{x} += @{y: number};", "@{x} = @{x} + (@{y});\nlog_();"),
    "chosen": ("@{c} ? @{a} : @{b}", "choose_(@{c}, @{a}, @{b}, 0)"),
}
STORMS = {
    "c": BRACES,
    "cpp": BRACES,
    "csharp": BRACES,
    "java": BRACES,
    "javascript": BRACES | {"tripled": ("@{a} === @{b}", "same_(@{b}, @{a}, 1, 2)")},
    "typescript": BRACES | {"tripled": ("@{a} === @{b}", "same_(@{b}, @{a}, 1, 2)")},
    "tsx": BRACES,
    "php": {name: pair for name, pair in BRACES.items() if name != "chosen"},
    "swift": {
        **{name: BRACES[name] for name in ("renamed", "wrapped", "unwrapped", "joined", "chosen")},
        "swapped": ("@{f like [a-z]\\w*}(@{a}, @{b})", "swapped_(@{b}, @{a}, 0)"),
        "flipped": (
            "if @{c} { @{a*} } else { @{b*} }",
            "if flip_(@{c}, 0, 0) {\n    @{b*}\n} else {\n    @{a*}\n}",
        ),
        "doubled": ("@{x} += @{y: number}", "@{x} = @{x} + (@{y})\nlog_()"),
    },
    "rust": {
        **{name: BRACES[name] for name in ("renamed", "swapped", "wrapped", "unwrapped", "joined")},
        "flipped": (
            "if @{c} { @{a*} } else { @{b*} }",
            "if flip_(@{c}, 0, 0) {\n    @{b*}\n} else {\n    @{a*}\n}",
        ),
        "doubled": ("@{x} += @{y: number};", "@{x} = @{x} + (@{y});\nlog_();"),
    },
    "go": {
        **{name: BRACES[name] for name in ("renamed", "swapped", "wrapped", "unwrapped", "joined")},
        "flipped": (
            "if @{c} { @{a*} } else { @{b*} }",
            "if flip_(@{c}, 0, 0) {\n\t@{b*}\n} else {\n\t@{a*}\n}",
        ),
        "doubled": ("@{x} += @{y: number}", "@{x} = @{x} + (@{y})\nlog_()"),
    },
    "ruby": {
        **{name: BRACES[name] for name in ("renamed", "swapped", "wrapped", "unwrapped", "joined")},
        "chosen": BRACES["chosen"],
        "flipped": (
            "if @{c}\n  @{a+}\nelse\n  @{b+}\nend",
            "if flip_(@{c}, 0, 0)\n  @{b+}\nelse\n  @{a+}\nend",
        ),
        "doubled": ("@{x} += @{y: number}", "@{x} = @{x} + (@{y})\nlog_(0, 0, 0)"),
    },
    "pascal": {
        "renamed": BRACES["renamed"],
        "swapped": ("@{f like [a-z]\\w*}(@{a}, @{b})", "swapped_(@{b}, @{a}, 0)"),
        "wrapped": ("@{a} <> @{b}", "differ_(@{a}, @{b}, 1, 2)"),
        "unwrapped": ("not @{x}", "@{x}"),
        "joined": ("@{a} and @{b}", "both_(@{a}, @{b}, 1, 2)"),
        "flipped": (
            "if @{c} then begin @{a*} end else begin @{b*} end",
            "if flip_(@{c}, 0, 0) then begin @{b*} end else begin @{a*} end",
        ),
        "doubled": ("@{x} := @{x} + @{y: number}", "@{x} := (@{y}) - @{x}"),
    },
}


def _conditions(name: str) -> list[Condition]:
    """Return what keeps a rule from what it has done."""
    if name == "flipped":
        return [none_of(taken("c", text=r"flip_\(.*"))]
    if name in ("swapped", "renamed"):
        return [none_of(taken("f", text=r"\w+_"))]
    return []


for _language, _rules in STORMS.items():
    for _name, (_find, _put) in _rules.items():
        globals()[f"{_language}_{_name}"] = Rule(
            f"{_language}-{_name}",
            summary=_name,
            find=_find,
            put=_put,
            where=_conditions(_name),
            language=_language,
        )

# By language: kinds of statements to take out if they are steps or calls without arguments, of
# returns to put a statement before, and of bodies of which the methods are sorted.
_KINDS = {
    "c": ("expression_statement", "return_statement", "enumerator_list"),
    "cpp": ("expression_statement", "return_statement", "enumerator_list"),
    "csharp": ("expression_statement", "return_statement", "declaration_list"),
    "java": ("expression_statement", "return_statement", "class_body"),
    "javascript": ("expression_statement", "return_statement", "class_body"),
    "typescript": ("expression_statement", "return_statement", "class_body"),
    "tsx": ("expression_statement", "return_statement", "class_body"),
    "php": ("expression_statement", "return_statement", "declaration_list"),
    "swift": ("call_expression", "control_transfer_statement", "class_body"),
    "rust": ("expression_statement", "let_declaration", "declaration_list"),
    "go": ("inc_statement", "return_statement", "interface_type"),
    "ruby": ("operator_assignment", "return", "body_statement"),
    "pascal": ("statement", "raise", "declVars"),
}


def _member_rules(spoken: str, step: str, leaving: str, members: str) -> Iterator[Rule]:
    end = "" if spoken in ("swift", "go", "ruby") else ";"

    @rule(f"{spoken}-removed", summary="A step goes.", kinds=[step], language=spoken)
    def removed(node: Node, code: Code) -> Iterator[Finding]:
        text = node.text.rstrip(";")
        in_body = node.parent is not None and node.parent.kind in node.tree.language.bodies
        if in_body and text.endswith(("++", "--", "()", "1")):
            yield code.finding(node, fixes=[fix("Take it out").remove(node)])

    @rule(f"{spoken}-inserted", summary="A return is logged.", kinds=[leaving], language=spoken)
    def inserted(node: Node, code: Code) -> Iterator[Finding]:
        parent = node.parent
        if parent is None or parent.kind not in node.tree.language.bodies:
            return
        items = parent.items
        at = next(number for number, item in enumerate(items) if item is node)
        if not at or not items[at - 1].text.startswith("trace_"):
            yield code.finding(node, fixes=[fix("Log it").before(node, f"trace_(0, 0, 0){end}")])

    @rule(f"{spoken}-sorted", summary="Members are sorted.", kinds=[members], language=spoken)
    def in_order(node: Node, code: Code) -> Iterator[Finding]:
        functions = node.tree.language.family("function") or frozenset()
        kinds = functions | {"enumerator", "method_elem", "declVar"}
        items = [item for item in node.items if item.kind in kinds]
        if len(items) > 1 and items != sorted(items, key=_first_line):
            yield code.finding(node, fixes=[fix("Sort them").sort(items, _first_line)])

    yield from (removed, inserted, in_order)


def _first_line(node: Node) -> str:
    return node.text.split("\n")[0]


for _language, _kinds in _KINDS.items():
    for _rule in _member_rules(_language, *_kinds):
        globals()[_rule.name.replace("-", "_")] = _rule
