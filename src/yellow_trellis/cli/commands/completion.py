"""`ytr completion`: a script that lets a shell complete commands, options and their choices."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from importlib import import_module

from yellow_trellis.cli.app import BARE, COMMANDS
from yellow_trellis.cli.arguments import Group, CommandOption, Takes, option
from yellow_trellis.cli.presentation import COMMON

SHELLS = ("bash", "fish", "zsh")
EXAMPLE = (
    "ytr completion bash > ~/.local/share/bash-completion/completions/ytr    "
    "ytr completion fish > ~/.config/fish/completions/ytr.fish"
)
TAKES: Takes = (
    option("shell", metavar="SHELL", choices=SHELLS, help=f"One of {', '.join(SHELLS)}."),
)


def command(shell: str) -> None:
    """Print a script for SHELL that completes the commands of ytr, their options and choices.

    Names of files are completed where an option or argument takes one.
    """
    sys.stdout.write({"bash": _bash, "fish": _fish, "zsh": _zsh}[shell]())


def _options(name: str) -> Iterator[CommandOption]:
    """Yield what a command takes, groups opened."""
    takes = import_module(f"yellow_trellis.cli.commands.{name}").TAKES
    for take in takes if name in BARE else (*takes, COMMON):
        yield from take.options if isinstance(take, Group) else (take,)


def _words(name: str) -> list[str]:
    """Return the options of a command, and the words that its arguments are chosen from."""
    words = ["--help"]
    for item in _options(name):
        words += item.how.get("choices", ()) if item.is_argument else item.names
    return words


def _choices(name: str) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Yield the options of a command that take one of several words, with these."""
    for item in _options(name):
        if not item.is_argument and item.how.get("choices"):
            yield item.names[0], tuple(item.how["choices"])


def _bash() -> str:
    cases = []
    for name in COMMANDS:
        for flag, words in _choices(name):
            cases.append(f'    {name}:{flag}) words="{" ".join(words)}" ;;')
    for name in COMMANDS:
        cases.append(f'    {name}:*) words="{" ".join(_words(name))}" ;;')
    return f"""\
# Completion of ytr in bash.
_ytr() {{
  local word=${{COMP_WORDS[COMP_CWORD]}} before=${{COMP_WORDS[COMP_CWORD-1]}} words=""
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "{" ".join(COMMANDS)} --help --version" -- "$word"))
    return
  fi
  case "${{COMP_WORDS[1]}}:$before" in
{chr(10).join(cases)}
  esac
  COMPREPLY=($(compgen -W "$words" -- "$word"))
}}
complete -o default -F _ytr ytr
"""


def _zsh() -> str:
    return "#compdef ytr\nautoload -U +X bashcompinit && bashcompinit\n" + _bash()


def _fish() -> str:
    names = " ".join(COMMANDS)
    lines = ["# Completion of ytr in fish.", f"set -l commands {names}"]
    for name, purpose in COMMANDS.items():
        lines.append(
            f"complete -c ytr -n 'not __fish_seen_subcommand_from $commands' -f -a {name} "
            f"-d {_quoted(purpose)}"
        )
    for name in COMMANDS:
        condition = f"-n '__fish_seen_subcommand_from {name}'"
        for item in _options(name):
            choices = item.how.get("choices") or ()
            argument = f" -x -a {_quoted(' '.join(choices))}" if choices else ""
            if item.is_argument:
                lines += [f"complete -c ytr {condition}{argument}"] if choices else []
                continue
            value = "" if item.how.get("action") == "store_true" or choices else " -r"
            flags = " ".join(map(_fish_flag, item.names))
            first = str(item.how.get("help", "")).split(". ")[0]
            line = f"complete -c ytr {condition} {flags}{value}{argument} -d {_quoted(first)}"
            lines.append(line)
    return "\n".join(lines) + "\n"


def _fish_flag(name: str) -> str:
    return f"-l {name[2:]}" if name.startswith("--") else f"-s {name[1:]}"


def _quoted(text: str) -> str:
    """Return a text as fish takes it."""
    return "'" + text.replace("\\", "\\\\").replace("'", "\\'") + "'"
