"""Arguments of commands, declared as data, and the library that parses them."""

from __future__ import annotations

import argparse
import os
import re
import sys
from collections.abc import Callable, Mapping
from typing import Any, NoReturn, Union

from msgspec import Struct

from yellow_trellis.errors import TrellisError
from yellow_trellis.schema import near

_WIDEST = 100


class UsageError(TrellisError):
    """A call that does not go together, or lacks something."""


class CommandOption(Struct, frozen=True):
    """An option or an argument: its names, and how the argument parser treats it."""

    names: tuple[str, ...]
    how: dict[str, Any]
    is_place: bool = False
    """Whether it says where the code base is: files, folders, or a place in a file."""

    @property
    def is_argument(self) -> bool:
        """Return whether it is given by position, not by name."""
        return not self.names[0].startswith("-")

    @property
    def keyword(self) -> str:
        """The keyword under which a command gets it."""
        name = self.how.get("dest") or next(n for n in self.names if not re.match("-[^-]", n))
        return str(name).lstrip("-").replace("-", "_")


class Group(Struct, frozen=True):
    """Options that a command gets as one value."""

    keyword: str
    title: str
    """What stands above them in the help."""
    options: tuple[CommandOption, ...]
    gathered: Callable[..., object]
    """Makes the value of what was given for each, by keyword."""
    goes_first: bool = False
    """Whether its value is made before those of others, which may depend on it; it is given the
    places that a call names."""


Takes = tuple[Union[CommandOption, Group], ...]
"""All that a command takes, in the order of its help."""


def option(*names: str, is_place: bool = False, **how: Any) -> CommandOption:
    """Return an option with a value, or an argument if its name has no hyphen in front.

    Arguments: `is_place` is whether it says where the code base is.
    """
    usual = how.get("default")
    if usual:
        message = f"{usual:g}" if isinstance(usual, float) else usual
        how["help"] += f" [default: {message}]"
    return CommandOption(names, how, is_place)


def flag(*names: str, **how: Any) -> CommandOption:
    """Return an option without a value."""
    return CommandOption(names, {"action": "store_true", **how})


def several(*names: str, **how: Any) -> CommandOption:
    """Return an option that may be given several times."""
    return CommandOption(names, {"action": "append", "default": [], **how})


def whole(text: str) -> int:
    """Return a whole number, 0 or more, that a word of a call says."""
    if not text.isascii() or not text.isdigit():
        raise argparse.ArgumentTypeError(f"{text!r} is no whole number")
    return int(text)


def positive(text: str) -> int:
    """Return a whole number, 1 or more, that a word of a call says."""
    number = whole(text)
    if not number:
        raise argparse.ArgumentTypeError("it takes 1 or more")
    return number


def seconds(text: str) -> float:
    """Return the seconds, 0 or more, that a word of a call says."""
    if re.fullmatch(r"\d+(?:\.\d*)?|\.\d+", text) is None:
        raise argparse.ArgumentTypeError(f"{text!r} is no number of seconds")
    return float(text)


def size(text: str) -> int:
    """Return the bytes that ``800k`` or ``4M`` say."""
    match = re.fullmatch(r"(\d+)([kmg]?)b?", text.strip().lower())
    if match is None:
        raise argparse.ArgumentTypeError(f"{text!r} is no size; say for instance 800k or 4M")
    power = " kmg".index(match[2]) if match[2] else 0
    return int(match[1]) * int(1024**power)


def version(text: str) -> tuple[int, int]:
    """Return the version of Python that a word of a call says, such as 3.9."""
    from yellow_trellis.project.settings import version_of

    try:
        return version_of(text)
    except ValueError as wrong:
        raise argparse.ArgumentTypeError(str(wrong)) from None


def known_language(text: str) -> str:
    """Return the name of a language that is known here.

    It is checked when it is given: a list of all would ask every installed package, in each call.
    """
    from yellow_trellis.languages import is_known, names

    if not is_known(text):
        raise argparse.ArgumentTypeError(f"{text!r} is none of {', '.join(names())}")
    return text


def file_there(text: str) -> str:
    """Return the name of a file that exists."""
    if not os.path.isfile(text):
        raise argparse.ArgumentTypeError(f"{text}: there is no such file")
    return text


def file_to_write(text: str) -> str:
    """Return the name of a file that can be written: its folder exists."""
    folder = os.path.dirname(os.path.abspath(text))
    if not os.path.isdir(folder):
        raise argparse.ArgumentTypeError(f"{text}: there is no folder {folder}")
    if os.path.isdir(text):
        raise argparse.ArgumentTypeError(f"{text}: it is a folder")
    return text


def folder_there(text: str) -> str:
    """Return the name of a folder that exists."""
    if not os.path.isdir(text):
        raise argparse.ArgumentTypeError(f"{text}: there is no such folder")
    return text


def parse_arguments(
    name: str, purpose: str, takes: Takes, example: str, words: list[str]
) -> dict[str, Any]:
    """Return by keyword what `words`, those behind the name of a command, give to it.

    Arguments: `purpose` is the docstring of the command. Errors: `UsageError`.
    """
    cut = words.index("--") if "--" in words else len(words)
    before, after = words[:cut], words[cut + 1 :]
    parser = _parser(name, purpose, takes, example)
    if not {"-h", "--help"}.isdisjoint(before):
        for one in _arguments(takes):
            parser.add_argument(*one.names, **one.how)
        parser.print_help()
        raise SystemExit(0)
    read, rest = parser.parse_known_args(before)
    for word in rest:
        if word.startswith("-") and word != "-":
            parser.refuse_option(word)
    # what is left may stand anywhere among the options, and start with a hyphen behind `--`
    plain = _Parser(prog=parser.prog, prefix_chars="\0", formatter_class=_Help, add_help=False)
    for one in _arguments(takes):
        plain.add_argument(*one.names, **one.how)
    plain.parse_args([*rest, *after], read)
    found = {key: tuple(v) if isinstance(v, list) else v for key, v in vars(read).items()}
    groups = [take for take in takes if isinstance(take, Group)]
    for group in sorted(groups, key=lambda group: not group.goes_first):
        if group.keyword not in found:
            values = {inner.keyword: found.pop(inner.keyword) for inner in group.options}
            if group.goes_first:
                values["places"] = _places(takes, found)
            found[group.keyword] = group.gathered(**values)
    return found


def _places(takes: Takes, found: Mapping[str, Any]) -> tuple[str, ...]:
    """Return the files and folders that a call names to work on, in order."""
    places: list[str] = []
    for take in takes:
        for inner in take.options if isinstance(take, Group) else (take,):
            value = found.get(inner.keyword) if inner.is_place else None
            places += (value,) if isinstance(value, str) else value or ()
    return tuple(_POSITION.sub("", place) for place in places)


_POSITION = re.compile(r":\d+(:\d+)?$")
"""The line and column of a place in a file."""


def _parser(name: str, purpose: str, takes: Takes, example: str) -> _Parser:
    """Return what reads the options of a command, and has all of its help but the arguments."""
    parser = _Parser(
        prog=f"ytr {name}",
        usage=f"ytr {name} [OPTIONS] {' '.join(_usage(takes))}".rstrip(),
        description=purpose,
        epilog="\n\n".join(f"Example: {item}" for item in example.split("    ")),
        formatter_class=_Help,
        allow_abbrev=False,
        add_help=False,
    )
    for take in takes:
        if isinstance(take, Group):
            group = parser.add_argument_group(take.title)
            for inner in take.options:
                group.add_argument(*inner.names, **inner.how)
        elif not take.is_argument:
            parser.add_argument(*take.names, **take.how)
    usual, message = argparse.SUPPRESS, "Show this and exit."
    parser.add_argument("-h", "--help", action="store_true", default=usual, help=message)
    return parser


def _arguments(takes: Takes) -> list[CommandOption]:
    return [take for take in takes if isinstance(take, CommandOption) and take.is_argument]


def _usage(takes: Takes) -> list[str]:
    """Return the arguments of a command as its usage shows them."""
    results = []
    for argument in _arguments(takes):
        message = argument.how["metavar"]
        forms = {"*": f"[{message} ...]", "?": f"[{message}]"}
        results.append(forms.get(argument.how.get("nargs", ""), message))
    return results


class _Parser(argparse.ArgumentParser):
    """Tells what is wrong with a call as this project does: reason and next step."""

    def error(self, message: str) -> NoReturn:
        message = message.removeprefix("argument ")
        missing = "the following arguments are required"
        message = message.replace(missing, "missing argument")
        if message.startswith("unrecognized arguments: "):
            message = f"{message.split(': ')[1].split()[0]!r} is one word too many"
        if message.endswith("expected one argument"):
            option = message.split(":")[0]
            message += f"; one that starts with a hyphen goes behind `{option}=`"
        raise UsageError(f"{message}\nTry `{self.prog} --help`.")

    def refuse_option(self, word: str) -> NoReturn:
        """Say that there is no such option, and which may have been meant."""
        name = word.partition("=")[0]
        actions = [text for action in self._actions for text in action.option_strings]
        like = near(name, actions)
        hint = "put -- before arguments that start with a hyphen"
        self.error(f"unknown option {name} ({f'did you mean `{like}`?' if like else hint})")


class _Help(argparse.HelpFormatter):
    """Help with its paragraphs kept, no wider than can be read with ease."""

    def __init__(self, prog: str) -> None:
        super().__init__(prog, max_help_position=26, width=min(_columns(), _WIDEST) - 2)

    def _split_lines(self, text: str, width: int) -> list[str]:
        import textwrap

        return textwrap.wrap(" ".join(text.split()), width, break_on_hyphens=False)

    def _fill_text(self, text: str, width: int, indent: str) -> str:
        parts = re.split(r"\n\s*\n", text.strip())
        return "\n\n".join(super(_Help, self)._fill_text(part, width, indent) for part in parts)


def _columns() -> int:
    """Return how wide the terminal is; the module that knows more of it takes long to import."""
    message = os.environ.get("COLUMNS", "")
    if message.isdigit() and int(message):
        return int(message)
    try:
        return os.get_terminal_size(sys.__stdout__.fileno()).columns  # type: ignore[union-attr]
    except (AttributeError, OSError, ValueError):
        return 80
