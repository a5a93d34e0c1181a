"""`ytr new`: the start of a rule, from a pattern or from real code, or of a pack."""

from __future__ import annotations

import os
import re
from pathlib import Path

from yellow_trellis.authoring.isolated_proof import proof_of
from yellow_trellis.authoring.pack_scaffold import pack_files
from yellow_trellis.authoring.scaffold import Skeleton, rule_file
from yellow_trellis.cli.arguments import Takes, UsageError, known_language, option
from yellow_trellis.cli.console import ASK, console, counted, run_shown, shown_path
from yellow_trellis.cli.options import LookOptions, from_here, settings_here
from yellow_trellis.cli.output import styled
from yellow_trellis.cli.pattern_notes import tell_open_heads
from yellow_trellis.errors import TrellisError
from yellow_trellis.languages import DEFAULT, language
from yellow_trellis.patterns.compile import compile_pattern
from yellow_trellis.patterns.generalize import generalized, part_of, place_in, plain
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.safe_paths import kept_below
from yellow_trellis.rules import load_rules, pack_called
from yellow_trellis.rules.definition import NAME
from yellow_trellis.runs.rule_source import PatternSpec
from yellow_trellis.source import Source
from yellow_trellis.syntax import Node, Tree

EXAMPLE = (
    "ytr new wait-for-signal --at alder/signals/quay.py:41    "
    "ytr new none-is --find '@{x} == None' alder    ytr new pack alder-rules"
)
TAKES: Takes = (
    option("name", metavar="RULE|pack", help="The name of the rule; or the word `pack`."),
    option(
        "more",
        metavar="PATHS|NAME",
        nargs="*",
        default=[],
        help="Where to look for --find; the name of the pack.",
    ),
    option(
        "--find",
        metavar="PATTERN",
        help="The pattern; the first match gives the example. Example: --find '@{x} == None'",
    ),
    option(
        "--at",
        metavar="FILE:LINE[:COLUMN]",
        help="Cut pattern and example out of the code there. Example: --at alder/depot/yard.py:19",
    ),
    option("--put", metavar="TEMPLATE", help="What to put instead. Example: --put '@{x} is None'"),
    option(
        "--summary",
        metavar="TEXT",
        default="",
        help="What is wrong, in one sentence. Example: --summary 'None is one.'",
    ),
    option(
        "--into",
        metavar="FILE",
        help="The file to write; by default in the folder of rules. Example: --into "
        "rules/none.toml",
    ),
    option(
        "--language",
        dest="tongue",
        metavar="LANGUAGE",
        type=known_language,
        default=DEFAULT,
        help="For --find. Example: --language javascript",
    ),
)


def command(
    name: str,
    more: tuple[str, ...],
    find: str | None,
    at: str | None,
    put: str | None,
    summary: str,
    into: str | None,
    tongue: str,
) -> None:
    """Write the start of a rule called RULE, or, as `ytr new pack NAME`, of a pack of rules.

    The pattern is given with --find, and the first match in PATHS is its example; or both are cut
    out of real code with --at. The file says where to go on. Nothing is written over.
    """
    if name == "pack":
        _new_pack(more)
        return
    if NAME.fullmatch(name) is None:
        raise TrellisError(
            f"{name!r} is no name for a rule: write lower-case words joined by hyphens"
        )
    if (find is None) == (at is None):
        raise UsageError("say what the rule finds, by --find PATTERN or --at FILE:LINE")
    folder, top = _folder_of_rules(), None
    if into is not None:
        file = Path(into)
    elif folder is not None:
        top = settings_here().folder
        file = Path(from_here(settings_here(), folder)) / f"{name}.toml"
    else:
        file, top = Path("rules") / f"{name}.toml", Path()
    if os.path.lexists(file):
        raise TrellisError(f"{file}: the file is there already: choose another by --into")
    tree, start, end, origin = _at(at) if at is not None else _first(find or "", more, tongue)
    node = place_in(tree, start, end)
    if node is None:
        raise TrellisError(f"{origin}: there is no code")
    pattern, part = (find, None) if find else _pattern(node)
    skeleton = Skeleton(
        name,
        pattern,
        plain(node.statement),
        origin,
        summary,
        put,
        language=tree.language.name,
        part=part,
    )
    if top is None:
        file.parent.mkdir(parents=True, exist_ok=True)
    below, leaf = kept_below(file, top)
    if "/" in leaf:
        below.make_folder(leaf.rpartition("/")[0])
    below.replace(leaf, rule_file(skeleton).encode("utf-8"))
    try:
        _fill_in(file, skeleton)
    except TrellisError:
        file.unlink()
        raise
    _report(file, folder is not None or into is not None)
    if find:
        compiled = compile_pattern(find, language(tongue))
        tell_open_heads(compiled, more, LookOptions())


def _folder_of_rules() -> str | None:
    """Return the first folder that the configuration names for rules, if it is there or not."""
    settings = settings_here()
    for name in settings.rules:
        there = settings.folder / name
        if there.is_dir() or not (there.exists() or there.suffix or pack_called(name)):
            return name
    return None


def _at(place: str) -> tuple[Tree, int, int, str]:
    """Return the tree, the bytes where what is meant starts and ends at most, and the place."""
    match = re.fullmatch(r"(.+?):(\d+)(?::(\d+))?", place)
    if match is None:
        raise TrellisError(f"{place!r} is no place: say FILE:LINE or FILE:LINE:COLUMN")
    file, line, column = match[1], int(match[2]), int(match[3] or 0)
    tree = _tree(file)
    lines = tree.source.lines
    if not 1 <= line <= len(lines):
        raise TrellisError(f"{place}: the file has {counted(len(lines), 'line')}")
    text = lines.text(line)
    start = lines.starts[line - 1]
    if column:
        before = text.decode("utf-8", "replace")[: column - 1].encode("utf-8")
        return tree, start + len(before), start + len(text), f"{shown_path(file)}:{line}"
    start += len(text) - len(text.lstrip())
    return tree, start, len(tree.source.data), f"{shown_path(file)}:{line}"


def _first(find: str, paths: tuple[str, ...], tongue: str) -> tuple[Tree, int, int, str]:
    """Return tree and bytes of the first match of a pattern, and its place."""
    compile_pattern(find, language(tongue))  # a mistake is told of the pattern, not of a rule
    result, _ = run_shown(paths, PatternSpec(find, None, tongue))
    if not result.findings:
        scan = counted(len(result.reports), "file")
        raise TrellisError(f"the pattern matches nothing in {scan}: `ytr seek` and `ytr why` help")
    first = result.findings[0]
    tree = _tree(first.path)
    start, end = tree.source.lines.offset(first.start), tree.source.lines.offset(first.end)
    return tree, start, end, f"{shown_path(first.path)}:{first.start.line}"


def _tree(file: str) -> Tree:
    name = language_at(file)
    if name is None:
        raise TrellisError(f"{file}: no language is known for such files")
    tongue = language(name)
    raw = Path(file).read_bytes()
    return Tree(Source.read(raw, path=file, declarations=tongue.declares_encoding), tongue)


def _pattern(node: Node) -> tuple[str, str | None]:
    """Return the pattern for a node, and the part of the language that it is said to be.

    It is general, or as the code stands where that would not match it.
    """
    text = generalized(node)
    matches, part = part_of(node, text)
    if not matches:
        text = plain(node)
        _, part = part_of(node, text)
    return text, part


def _fill_in(file: Path, skeleton: Skeleton) -> None:
    """Write what becomes of the example, which only the rule itself can say."""
    (rule,) = load_rules([file])
    if skeleton.put is None:
        return
    from yellow_trellis.testing.authors import fix

    becomes = fix(rule, skeleton.code).rstrip("\n")
    file.write_text(rule_file(skeleton._replace(becomes=becomes)), "utf-8")


def _report(file: Path, configured: bool) -> None:
    out = console()
    (rule,) = load_rules([file])
    out.print(f"Wrote {shown_path(str(file))}.")
    failed = proof_of(rule).failed
    for verdict in failed:
        out.print(styled(f"Its example does not hold yet: {verdict.reason}.", style=ASK))
    if not failed:
        out.print("Its example holds.")
    where = shown_path(str(file))
    out.print(f"Go on in the file; then `ytr prove --rules {where}`.")
    if not configured:
        out.print(styled(f"The configuration does not name {where} yet.", style=ASK))


def _new_pack(names: tuple[str, ...]) -> None:
    if len(names) != 1 or NAME.fullmatch(names[0]) is None:
        raise TrellisError("say how the pack is called, as in `ytr new pack alder-rules`")
    folder = Path(names[0])
    if os.path.lexists(folder):
        raise TrellisError(f"{folder}: it is there already: choose another name")
    for path, text in pack_files(names[0]).items():
        file = folder / path
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(text, "utf-8")
    out = console()
    out.print(f"Wrote {folder}: a rule, a ruleset and tests.")
    out.print(f"Now: cd {folder} && pip install -e '.[test]' && pytest")
