"""Files of a code base that a run does not look at, and that a rule over all of it would change.

Such a rule does all or nothing. So whatever keeps a file out of a run, the paths that were named,
an ignore file, a mark that it is generated, its size or its missing suffix, keeps the rule from
being done by half. Text alone tells which files to look into; most are never parsed.
"""

from __future__ import annotations

import os
import re
from collections.abc import Collection, Iterable, Iterator, Mapping
from functools import partial

from yellow_trellis.findings import Finding
from yellow_trellis.languages import Language, language, missing_family_of
from yellow_trellis.project.discovery import SKIPPED, why_skipped
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.file_options import LARGEST
from yellow_trellis.project.project_registry import BaseSpec, surroundings
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.runs.configuration_users import SETTINGS, texts_beside, users_in_settings
from yellow_trellis.source import Source, UnreadableError, normalized
from yellow_trellis.syntax import Tree

_MOST_TOLD = 3
_TEXTS = SETTINGS | {".md", ".rst", ".txt"}


def users_outside(
    rules: Iterable[RuleDefinition],
    looked_at: Mapping[str, str],
    paths: Iterable[str],
    base: BaseSpec,
) -> dict[str, str]:
    """Return by rule why it cannot be done: which files use what it is about, and are left out.

    Arguments: `looked_at` are the real paths of the files of the run, each with the reason why it
    could not be looked at, empty if it was; `paths` is what was asked for.
    """
    queries = list(paths)
    entries = list(rules)
    files = list(_files(base.root)) if entries else []
    table = users_in_settings(entries, files, base)
    missing = {rule.name: missing_family_of(rule.language) for rule in entries}
    spoken = frozenset(
        name for rule in entries for name in (*rule.languages, *missing[rule.name])
    )
    endings = dict(base.endings)
    seen = {path for path, reason in looked_at.items() if not reason}
    for path in _others(files, seen, spoken, endings):
        name = language_at(path, endings)
        if name is None:
            continue
        shown = os.path.relpath(path, base.root)
        try:
            raw = base.read(path)
        except OSError as wrong:
            for rule in entries:
                message = f"{shown} may use it and cannot be read: {wrong.strerror or wrong}"
                table.setdefault(rule.name, []).append(message)
            continue
        for rule in entries:
            if name in missing[rule.name]:
                if rule.across is not None and rule.across.mentions(raw):
                    message = f"{shown} may use it, and {name} is not installed"
                    table.setdefault(rule.name, []).append(message)
            elif name not in rule.languages:
                continue
            elif not _concerns(rule, raw, language(name), bool(looked_at.get(path))):
                continue
            elif reason := looked_at.get(path):
                message = f"{shown} may use it and could not be looked at: {reason}"
                table.setdefault(rule.name, []).append(message)
            elif (place := _use(rule.in_language(name), path, raw, base)) is not None:
                why = why_skipped(path, queries, endings) or "it is skipped, generated or too large"
                message = f"{shown}{place} uses it and is not looked at: {why}"
                table.setdefault(rule.name, []).append(message)
    return {name: _reason(places) for name, places in table.items()}


def texts_saying(rules: list[RuleDefinition], base: BaseSpec) -> list[str]:
    """Return what is to be told of documents and settings that say the thing by its whole name."""
    statements = {rule.across.old.partition("(")[0]: rule.name for rule in rules if rule.across}
    words = {name: re.compile(rb"\b" + re.escape(name.encode()) + rb"\b") for name in statements}
    results: list[str] = []
    paths = (path for path in _files(base.root) if not os.path.islink(path))
    for path, raw in texts_beside(rules, paths, _TEXTS) if statements else ():
        for name, word in words.items():
            if (first := word.search(raw)) is not None:
                line = raw.count(b"\n", 0, first.start()) + 1
                place = f"{os.path.relpath(path, base.root)}:{line}"
                results.append(
                    f"{place} says `{name}`, which {statements[name]} changes: look at it"
                )
    return results


def _reason(places: list[str]) -> str:
    extra = len(places) - _MOST_TOLD
    others = f"; and {extra} more files" if extra > 0 else ""
    return f"in no file, because {'; '.join(places[:_MOST_TOLD])}{others}"


def _others(
    files: Iterable[str],
    looked_at: Collection[str],
    spoken: frozenset[str],
    endings: Mapping[str, str],
) -> Iterator[str]:
    """Yield those of `files` that may hold code and are not among those of the run.

    Arguments: `spoken` are the languages of the code that counts.
    """
    for path in files:
        is_code = language_at(path, endings) in spoken
        if is_code and path not in looked_at and not os.path.islink(path):
            yield path


def _files(root: str) -> Iterator[str]:
    """Yield the regular files below `root`, in order, those in folders of other code aside."""
    for folder, folders, names in os.walk(root):
        folders[:] = sorted(
            name
            for name in folders
            if name not in SKIPPED
            and not os.path.exists(os.path.join(folder, name, "pyvenv.cfg"))
            and not os.path.exists(os.path.join(folder, name, ".git"))
        )
        yield from filter(os.path.isfile, (os.path.join(folder, name) for name in sorted(names)))


def _concerns(rule: RuleDefinition, raw: bytes, spoken: Language, in_run: bool) -> bool:
    """Return whether a file can mention what a rule is about, however it spells the name.

    Arguments: `in_run` counts what may see the name without saying it, as in any file of the run.
    """
    try:
        data = Source.read(raw, declarations=spoken.declares_encoding).data
    except UnreadableError:
        data = raw
    if spoken.normal_form is not None:
        data = normalized(data, spoken.normal_form)
    if rule.across is None:
        return False
    return rule.across.concerns(data) if in_run else rule.across.mentions(data)


def _use(rule: RuleDefinition, path: str, raw: bytes, base: BaseSpec) -> str | None:
    """Return the place of the first use in a file, from a colon on; None where there is none."""
    if len(raw) > LARGEST:
        return ""
    try:
        source = Source.read(raw, path=path)
    except UnreadableError:
        return ""
    tree = Tree(source, language(rule.language), partial(surroundings, base, path))
    # a text in a file that nobody asked for may say anything: only what code says counts
    findings = [item for item in rule.compiled.look(tree) if item.fixes or _is_code(item, tree)]
    place = f":{tree.source.place(findings[0].span.start)}" if findings else None
    tree.release()
    return place


def _is_code(finding: Finding, tree: Tree) -> bool:
    """Return whether a finding stands outside of strings."""
    leaf = tree.leaf_at(finding.span.start)
    around = (leaf, *leaf.ancestors()) if leaf is not None else ()
    return not any(tree.language.is_literal(node.kind) for node in around)
