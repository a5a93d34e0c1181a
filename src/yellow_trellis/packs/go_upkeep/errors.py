"""Rules about errors and files in Go."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.patterns import Match
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code
from yellow_trellis.syntax import Node

_HEAD = 'package gateway\n\nimport "fmt"\n\n'


@rule(
    "error-put-as-a-value",
    summary="An error inside another is wrapped.",
    language="go",
    find="@<fmt.Errorf>(@{text: interpreted_string_literal}, @{values*}, @{err like err|.*Err})",
    tags=["errors"],
    examples=[
        Example(_HEAD + 'func f(err error) error { return fmt.Errorf("line %d: %v", 1, err) }',
                becomes=_HEAD + 'func f(err error) error { return fmt.Errorf("line %d: %w", 1, err) }'),
        Example(_HEAD + 'func f(err error) error { return fmt.Errorf("line: %w", err) }', stays=True),
    ],
)
def error_put_as_a_value(match: Match, code: Code) -> Iterator[Draft]:
    """Asks for review: callers may ask for the inner error then."""
    text = match["text"]
    assert isinstance(text, Node)
    if text.text.endswith(('%v"', '%s"')):
        offered = fix("wrap it", safety="review").replace(text, text.text[:-2] + 'w"')
        yield code.finding(match.node, "callers cannot ask for the error that is put here", [offered])


@rule(
    "file-left-open",
    summary="A file that is opened is closed.",
    language="go",
    find="@{file: identifier}, @{err: identifier} := @<os.Open>(@{path})\nif @{err} != nil { @{give*} }",
    tags=["files"],
    examples=[
        Example(
            'package gateway\n\nimport "os"\n\nfunc f() {\n\tin, err := os.Open("a")\n'
            "\tif err != nil {\n\t\treturn\n\t}\n\tread(in)\n}\n",
            becomes='package gateway\n\nimport "os"\n\nfunc f() {\n\tin, err := os.Open("a")\n'
            "\tif err != nil {\n\t\treturn\n\t}\n\tdefer in.Close()\n\tread(in)\n}\n",
        ),
        Example(
            'package gateway\n\nimport "os"\n\nfunc f() {\n\tin, err := os.Open("a")\n'
            "\tif err != nil {\n\t\treturn\n\t}\n\tdefer in.Close()\n}\n", stays=True,
        ),
    ],
)
def file_left_open(match: Match, code: Code) -> Iterator[Draft]:
    """Asks for review: the file may be handed on, to be closed elsewhere."""
    file, last = match["file"], match.nodes[-1]
    assert isinstance(file, Node)
    body = last.parent
    if body is None or f"{file.text}.Close()" in body.text:
        return
    offered = fix("close it in the end", safety="review").after(last, f"defer {file.text}.Close()")
    yield code.finding(file, f"nothing closes `{file.text}`", [offered])
