"""Asking a person at the terminal which fixes to apply."""

from __future__ import annotations

from yellow_trellis.cli.console import BAD, DIM, GOOD, PLACE, RULE, console, shown_path
from yellow_trellis.cli.output import styled
from yellow_trellis.runs.fix_selection import Answer, Question
from yellow_trellis.visible_text import visible


def ask_at_terminal(question: Question) -> Answer:
    """Show a finding and its fixes, and return what is typed; the end of input is `quit`."""
    out = console()
    place = f"{shown_path(question.path)}:{question.place}"
    out.print(styled("\n", (place, PLACE), "  ", (question.rule, RULE)))
    out.print(f"  {visible(question.message)}")
    several = len(question.choices) > 1
    for number, choice in enumerate(question.choices, 1):
        review = ", asks for review" if choice.safety == "review" else ""
        if several or review:
            out.print(styled(f"  {number}  {visible(choice.title)}{review}", style="bold"))
        for sign, lines, style in (("-", choice.before, BAD), ("+", choice.after, GOOD)):
            for line in lines:
                out.print(styled(f"  {sign} {visible(line)}", style=style))
    words = "apply, skip, rule (apply all of it), more (show around), quit"
    if several:
        words = f"1 to {len(question.choices)} or {words}"
    while True:
        try:
            typed = input(f"  {words}? ")
        except (EOFError, KeyboardInterrupt):
            return Answer("quit")
        word = typed.strip().lower()
        if word.isdigit() and 1 <= int(word) <= len(question.choices):
            return Answer("take", int(word) - 1)
        if word and "apply".startswith(word):
            return Answer("take")
        if word and "skip".startswith(word):
            return Answer("skip")
        if word and "rule".startswith(word):
            return Answer("rule")
        if word and "quit".startswith(word):
            return Answer("quit")
        if word and "more".startswith(word):
            for line in question.around:
                out.print(styled(f"    {visible(line)}", style=DIM))
        else:
            out.print(styled(f"  say one of: {words}; a first letter is enough", style=DIM))
