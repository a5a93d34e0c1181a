"""Write docs/reference.md from the docstrings of what the package exports: run it after a change."""

from __future__ import annotations

import enum
import inspect
import re
import textwrap
from collections.abc import Iterator
from functools import cached_property
from pathlib import Path
from typing import Any

import yellow_trellis

PAGE = Path(__file__).with_name("reference.md")

CHAPTERS = {
    "Code and trees": (
        *("parse", "apply_edits", "Tree", "Node", "Source", "Span", "Place", "language", "Language"),
    ),
    "Patterns": ("compile_pattern", "Pattern", "Match", "Hole"),
    "Rules": (
        *("Rule", "RuleDefinition", "rule", "Judge", "Example", "Option", "Value", "chosen", "Setting", "load_rules"),
        *("Ruleset", "check_code", "fix_code", "CodeResult", "Code", "Subject", "Draft"),
    ),
    "Conditions": (
        *("taken", "count", "within", "directly_within", "holds", "before", "after", "first", "last"),
        *("any_of", "all_of", "none_of", "HoleCondition", "CountCondition", "RelationCondition"),
        *("CombinedCondition", "DeclaredCondition", "Condition"),
    ),
    "Findings and fixes": (
        *("Finding", "Level", "Unasked", "fix", "named", "FixBuilder", "Reference", "Fix", "Safety"),
        *("Edit", "New", "Slice", "Order", "Conflict", "ConflictSide", "Outcome", "State", "RuleFailure"),
        "Trial",
    ),
    "Runs": (
        *("Project", "run", "Run", "FileReport", "FindingRecord", "OutcomeRecord", "Problem"),
        *("Change", "Hunk", "Diff", "FileFilter", "SkippedFile", "SourceFile", "Limits"),
        *("SyntaxChecks", "RunOptions", "RulesLike", "RulesSpec", "PatternSpec", "Mode", "Ask", "Answer", "write_changes"),
        *("WriteReport", "undo", "UndoReport"),
    ),
    "Names": ("Binding", "Facts", "Import", "ImportPlacement", "Occurrence", "Scope", "UnusedImport"),
    "Errors": (
        *("TrellisError", "BusyError", "EditError", "MissingLanguageError", "MissingPathError", "DataFrameError"),
        *("CodeOwnersError", "RevisionError", "MissingRunError", "OptionError", "PatternError", "RuleError"),
        *("UnfinishedRunError", "UnreadableError"),
    ),
}

# Members that serve the library itself: a script has no use for them, and they may change.
_CONDITION = {
    *("compile", "contained_patterns", "forms", "from_table", "hole_constraints", "parts"),
    *("patterns", "reach", "required_parts"),
}
INTERNAL = {
    "CombinedCondition": _CONDITION,
    "DeclaredCondition": _CONDITION,
    "CountCondition": _CONDITION,
    "HoleCondition": _CONDITION,
    "RelationCondition": _CONDITION,
    "CodeResult": {"of"},
    "Facts": {"place", "names", "summary", "graph", "release"},
    "FileReport": {"used", "trials", "failed"},
    "FindingRecord": {"of", "mark"},
    "Finding": {"rank", "extent", "choice"},
    "FixBuilder": {"made"},
    "Fix": {"puts", "imports"},
    "Language": {
        *("compile_errors", "misread_in", "is_one_line", "kind_names", "kind_numbers", "parse"),
        *("raw_language", "scanner", "spellings_of", "statement_spans", "telltales", "unmeant"),
        *("telltales_of", "thin", "extras", "word_bytes", "literal_forms", "precedence"),
    },
    "Match": {"takes"},
    "Node": {"raw", "forget", "events"},
    "Pattern": {"lead", "trail", "find_anchors", "stand_ins", "roots", "needs", "meant", "without"},
    "RunOptions": {"of_report"},
    "RuleDefinition": {"across", "compiled", "prepare", "under", "for_example", "at_level", "settings"},
    "Ruleset": {"candidates", "token_index", "warm_up", "may_be_among", "look", "spanning"},
    "RulesSpec": {"identity", "for_elsewhere"},
    "PatternSpec": {"identity", "for_elsewhere"},
    "Scope": {"symbols", "users", "tree", "owners", "place_of"},
    "Source": {"lines", "raw", "with_data"},
    "SourceFile": {"stamp"},
    "Tree": {
        *("context", "edits", "facts", "is_parsed", "known", "like", "peculiar", "pieces"),
        *("prepare", "query", "raw_around", "raw_root", "release", "splits_line_ends", "spans"),
        *("kind_names", "token_index", "with_data", "wrap", "is_intact", "hits", "is_misread"),
    },
}
"""By class: members that are left out."""


def members_of(name: str, of: type) -> Iterator[tuple[str, Any]]:
    """Yield the public members of a class by name, but for those of another that is exported."""
    seen: dict[str, Any] = {}
    for base in reversed(of.__mro__):
        told = base is not of and base.__name__ in yellow_trellis.__all__
        if base.__module__.startswith("yellow_trellis") and not told:
            seen.update(vars(base))
    for member in sorted(seen):
        if member[0] != "_" and member not in INTERNAL.get(name, ()):
            yield member, seen[member]


def function_of(member: Any) -> Any:
    """Return the function behind a member; None where there is none."""
    for attribute in ("fget", "func", "__func__"):
        if (function := getattr(member, attribute, None)) is not None:
            return function
    return member if inspect.isfunction(member) else None


def entry(name: str) -> str:
    """Return the part of the page about one exported name."""
    value = inspect.unwrap(getattr(yellow_trellis, name))
    if inspect.isclass(value):
        return _class(name, value)
    if inspect.isfunction(value):
        return f"### `{name}`\n\n```python\n{_signature(name, value)}\n```\n\n{_text(value)}\n"
    shown = getattr(value, "__args__", None) and str(value)
    shown = re.sub(r"(?:\w+\.)+(?=[A-Z])|ForwardRef|~", "", shown or repr(value))
    return f"### `{name}`\n\n```text\n{textwrap.fill(shown, 96)}\n```\n"


def _class(name: str, value: type) -> str:
    parts = [f"### `{name}`\n"]
    shown = value.__init__ if "__init__" in vars(value) else value
    if not issubclass(value, (BaseException, enum.Enum)):
        parts.append(f"```python\n{_signature(name, shown)}\n```\n")
    parts.append(_text(value) + "\n")
    rows = []
    for member, held in members_of(name, value):
        function = function_of(held)
        if function is None:
            continue
        is_data = isinstance(held, (property, cached_property))
        title = member if is_data else _signature(member, function, most=10_000)
        rows.append(f"`{title}`\n: {_indented(_text(function))}\n")
    return "\n".join([*parts, *rows])


def _signature(name: str, value: Any, most: int = 96) -> str:
    try:
        signature = inspect.signature(value)
    except ValueError:
        return name
    given = list(signature.parameters.values())
    given = [item for item in given if item.name not in ("self", "cls", "_cls")]
    if inspect.isclass(value):
        fields = _fields(value)
        given = [item.replace(annotation=fields[item.name]) for item in given]
    shown: list[str] = []
    for item in given:
        if item.kind is inspect.Parameter.KEYWORD_ONLY and "*" not in shown:
            if not any(text.startswith("*") for text in shown):
                shown.append("*")
        shown.append(_parameter(item))
    returns = "" if inspect.isclass(value) or name[0].isupper() else signature.return_annotation
    tail = f" -> {returns}" if returns not in ("", inspect.Signature.empty) else ""
    line = f"{name}({', '.join(shown)}){tail}"
    if len(line) <= most:
        return line
    return "\n".join([f"{name}(", *(f"    {text}," for text in shown), f"){tail}"])


def _fields(value: type) -> dict[str, Any]:
    """Return the annotations of a class and its bases, as they are written."""
    return {
        name: written
        for base in reversed(value.__mro__)
        for name, written in vars(base).get("__annotations__", {}).items()
    }


def _parameter(item: inspect.Parameter) -> str:
    stars = {inspect.Parameter.VAR_POSITIONAL: "*", inspect.Parameter.VAR_KEYWORD: "**"}
    text = stars.get(item.kind, "") + item.name
    if item.annotation is not inspect.Parameter.empty:
        text += f": {item.annotation}"
    if item.default is inspect.Parameter.empty:
        return text
    default = repr(item.default)
    if isinstance(item.default, frozenset):
        default = f"frozenset({sorted(item.default)})"
    return f"{text} = {default if default[0] != '<' else '...'}"


def _text(value: Any) -> str:
    text = inspect.cleandoc(value.__doc__ or "")
    return text.replace("``", "`")


def _indented(text: str) -> str:
    return "\n".join(f"  {line}" if line and at else line for at, line in enumerate(text.split("\n")))


def page() -> str:
    """Return the whole page."""
    parts = [
        "# Reference\n\nAll that `yellow_trellis` exports, made from the docstrings by "
        "`python docs/make_reference.py`. Places of people are\nline and column from 1, columns in "
        "characters; spans are half-open, in bytes from 0.\n"
    ]
    for title, names in CHAPTERS.items():
        parts += [f"## {title}\n", *map(entry, names)]
    return "\n".join(parts)


if __name__ == "__main__":
    PAGE.write_text(page(), "utf-8")
