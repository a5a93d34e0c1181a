"""Imports that follow when files or folders are renamed or moved in the editor."""

from __future__ import annotations

import os
from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import NamedTuple

from yellow_trellis.editor.answers import WorkspaceChanges
from yellow_trellis.editor.open_files import OpenFiles
from yellow_trellis.editor.single_fix import text_after
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.editor.text_diff import text_changes
from yellow_trellis.editor.workspace import Tell
from yellow_trellis.errors import TrellisError
from yellow_trellis.fixes import Fix
from yellow_trellis.languages import family_of, language
from yellow_trellis.languages import names as language_names
from yellow_trellis.project.discovery import discover
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.project import CodeBase
from yellow_trellis.semantics import EditGroup, require_semantics, semantics_of
from yellow_trellis.source import UnreadableError
from yellow_trellis.syntax import Tree


class _Refused(TrellisError):
    """The reason why files cannot be moved together with what imports them."""


class _Moving(NamedTuple):
    """The files that move, by real path, and the code base around them."""

    files: OpenFiles
    base: CodeBase
    endings: Mapping[str, str]
    paths: dict[str, str]
    """Before and after."""


def move_imports(
    files: OpenFiles, tell: Tell, moves: tuple[tuple[str, str], ...]
) -> WorkspaceChanges | str:
    """Return the changes that let imports follow files, made before these are moved.

    Arguments: `moves` are paths of files and folders, before and after. What may mean a moved
    module and is not known to is told; nothing is changed where one file cannot be done.
    """
    setup = files.setup(moves[0][0]) if moves else "nothing is moved"
    if isinstance(setup, str):
        return setup
    endings = dict(setup.settings.endings)
    spoken = frozenset(language_names())
    paths: dict[str, str] = {}
    languages: set[str] = set()
    for old, new in moves:
        for file in discover([old], spoken, None, endings):
            before = os.path.realpath(file.path)
            inside = os.path.relpath(file.path, old)
            after = os.path.join(os.path.realpath(new), "" if inside == "." else inside)
            paths[before] = os.path.normpath(after)
            if semantics_of(language(file.language)) is not None:
                languages.add(min(family_of(file.language)))
    base = CodeBase(
        Path(setup.root), languages=sorted(languages), endings=endings, unsaved=files.unsaved()
    )
    moving = _Moving(files, base, endings, paths)
    changes: dict[str, list[TextChange]] = {}
    notes: list[str] = []
    try:
        for name in sorted(languages):
            _follow(moving, name, tell, changes, notes)
    except TrellisError as error:
        return str(error)
    return WorkspaceChanges(changes, tuple(notes))


def _follow(
    moving: _Moving,
    name: str,
    tell: Tell,
    changes: dict[str, list[TextChange]],
    notes: list[str],
) -> None:
    """Add the changes of the files in one family of languages, and what may have to change too."""
    semantics = require_semantics(language(name))
    renamed = moving.base.modules_after(name, moving.paths)
    for old, new in renamed.items():
        parts = new.split(".")
        if name == "python" and not all(map(semantics.is_name, parts)):
            raise _Refused(f"`{new}` cannot be imported: no name may be like that (`{old}`)")
    _refuse_taken(moving, name, renamed)
    words = [old.replace("/", ".").rpartition(".")[2].encode("utf-8") for old in renamed]
    names = moving.base.modules(name).names
    shown = {os.path.realpath(path): path for path in moving.files.documents}
    for number, path in enumerate(names):
        tell(number + 1, len(names))
        spoken = language_at(path, moving.endings) or name
        try:
            source = moving.files.source_of(shown.get(path, path), spoken)
        except (OSError, UnreadableError) as error:
            notes.append(f"{path}: it may import what is moved, and cannot be read: {error}")
            continue
        if path not in moving.paths and not any(word in source.data for word in words):
            continue
        context = partial(moving.base.surroundings, path)
        tree = Tree(source, language(spoken), context)
        done = semantics.follow_modules(tree, renamed)
        for doubt in done.doubts:
            notes.append(f"{path}:{source.place(doubt.span.start)}: {doubt.reason}")
        if done.group is not None:
            data = _proved(tree, done.group)
            changes[shown.get(path, path)] = text_changes(source, data, moving.files.encoding)
        tree.release()


def _refuse_taken(moving: _Moving, name: str, renamed: Mapping[str, str]) -> None:
    """Refuse a new name of a module that its package has for something else.

    Errors: `_Refused`.
    """
    graph = moving.base.modules(name).graph
    before = {new: old for old, new in renamed.items()}
    for old, new in renamed.items():
        parent, _, word = new.rpartition(".")
        package = before.get(parent, parent)
        summary = graph.summary(package) if package else None
        if summary is not None and word in summary.names and f"{package}.{word}" != old:
            raise _Refused(f"`{package}` has a `{word}` already, and `{old}` would be hidden by it")


def _proved(tree: Tree, group: EditGroup) -> bytes:
    """Return the text after some edits. Errors: `_Refused`, where they cannot be proved right."""
    fix = Fix("Follow what is moved", group.edits, group.extent, clash=group.clash)
    done = text_after(tree, fix)
    if isinstance(done, str):
        raise _Refused(f"{tree.source.path}: {done}")
    return done
