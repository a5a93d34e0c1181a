"""The open files of an editor, with the configurations and the code bases around them."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from functools import partial
from pathlib import Path

from msgspec.structs import replace

from yellow_trellis.editor.document import Document
from yellow_trellis.editor.positions import PositionEncoding
from yellow_trellis.editor.setup import Setup
from yellow_trellis.editor.text_change import TextChange, changed
from yellow_trellis.errors import TrellisError
from yellow_trellis.findings.timing import Watch
from yellow_trellis.languages import language
from yellow_trellis.plans import Choose
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.project import CodeBase
from yellow_trellis.rules import Ruleset
from yellow_trellis.runs.configured import configured_filter
from yellow_trellis.runs.file_report import FileReport
from yellow_trellis.runs.file_scan import NO_PROJECT, ProjectView
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.processes.deadlines import Deadline
from yellow_trellis.runs.run_options import Limits, RunOptions
from yellow_trellis.semantics import SPELLED
from yellow_trellis.source import Source, UnreadableError

LIMITS = Limits(rule=2.0, file=20.0)
_NO_REASONS: Mapping[str, str] = {}
"""Seconds for one rule, and for all, on one open file."""


class OpenFiles:
    """The open files of an editor, and the rules that hold for them.

    Arguments: `encoding` is what the positions count; `trusted` lets the rules in Python of any
    folder run.
    """

    def __init__(self, encoding: PositionEncoding = "utf-16", trusted: bool = False) -> None:
        self.encoding = encoding
        self.trusted = trusted
        self.documents: dict[str, Document] = {}
        self.plain: dict[str, Source] = {}
        """By path: the open files that are in no language: rule files and configurations."""
        self._setups: dict[str, Setup | str] = {}
        self._bases: dict[tuple[str, frozenset[str]], tuple[int, CodeBase]] = {}
        self._edits: dict[str, int] = {}
        """By path: the number of the last edit, counted over all files."""
        self._count = 0

    # ------------------------------------------------------------------ files

    def open(self, path: str, text: str) -> None:
        """Take over a file that the editor has opened."""
        name = self._language_of(path)
        if name is None:
            source = Source(b"", path=path)
            self.plain[path] = changed(source, TextChange(None, text), self.encoding).source
        else:
            setup = self.setup(path)
            macros = setup.settings.empty_macros if isinstance(setup, Setup) else ()
            self.documents[path] = Document(path, language(name), text, macros)
            self._note(path)

    def change(self, path: str, changes: Iterable[TextChange]) -> None:
        """Take over changes of an open file."""
        document = self.documents.get(path)
        if document is not None:
            document.change(list(changes), self.encoding)
            self._note(path)
        elif path in self.plain:
            for change in changes:
                self.plain[path] = changed(self.plain[path], change, self.encoding).source

    def close(self, path: str) -> None:
        """Forget a file that the editor has closed: what is on the disk counts."""
        self.documents.pop(path, None)
        self.plain.pop(path, None)
        self._note(path)

    def files_changed(self) -> None:
        """Take note that files on the disk are not as they were.

        Where there was no configuration there may be one now; changes of one restart the process.
        """
        self._bases.clear()
        self._setups = {
            folder: setup
            for folder, setup in self._setups.items()
            if isinstance(setup, str) or setup.settings.file is not None
        }

    def _note(self, path: str) -> None:
        self._count += 1
        self._edits[path] = self._count

    def _language_of(self, path: str) -> str | None:
        setup = self.setup(path)
        endings = dict(setup.settings.endings) if isinstance(setup, Setup) else {}
        return language_at(path, endings)

    def setup(self, path: str) -> Setup | str:
        """Return the configuration for a file, or what is wrong with it."""
        return self.setup_in(os.path.dirname(path))

    def setup_in(self, folder: str) -> Setup | str:
        """Return the configuration that holds in a folder, or what is wrong with it."""
        if folder not in self._setups:
            try:
                self._setups[folder] = Setup.of(Path(folder), self.trusted)
            except TrellisError as error:
                self._setups[folder] = str(error)
            except Exception as error:  # rules in Python are foreign code
                self._setups[folder] = f"the rules cannot be read: {type(error).__name__}: {error}"
        return self._setups[folder]

    def prepare(self, folder: str) -> None:
        """Read the configuration of a folder, its rules, and the words that they ask for.

        So that is done when the first file is opened.
        """
        setup = self.setup_in(folder)
        symbols = setup.spec.ruleset().required_symbols() if isinstance(setup, Setup) else None
        if isinstance(setup, Setup) and symbols:
            _ = self.base("", setup, symbols).vocabulary

    def opened(self, path: str) -> tuple[Document, Setup] | str:
        """Return an open file and its configuration, or what is wrong with either."""
        document, setup = self.documents.get(path), self.setup(path)
        if document is None:
            return "the file is not open"
        return setup if isinstance(setup, str) else (document, setup)

    def code_base(self, path: str, setup: Setup, ruleset: Ruleset) -> CodeBase | None:
        """Return the code base for rules that ask for names; None where none does.

        It is read anew when another open file has changed since.
        """
        symbols = ruleset.required_symbols()
        return self.base(path, setup, symbols) if symbols else None

    def base(self, path: str, setup: Setup, symbols: frozenset[str]) -> CodeBase:
        last = max((n for name, n in self._edits.items() if name != path), default=0)
        key = (setup.root, symbols)
        read, base = self._bases.get(key, (-1, None))
        if base is None or read < last:
            languages = setup.spec.ruleset().languages()
            base = CodeBase(
                Path(setup.root), symbols, sorted(languages), None,
                dict(setup.settings.endings), self.unsaved(),
            )
            self._bases[key] = self._count, base
        return base

    def unsaved(self) -> dict[str, bytes]:
        """Return by real path the bytes that the open files have when they are saved.

        One that cannot be saved in its encoding is left out: what is on the disk counts.
        """
        texts: dict[str, bytes] = {}
        for document in self.documents.values():
            with suppress(UnreadableError):
                texts[os.path.realpath(document.path)] = document.raw
        return texts

    def source_of(self, path: str, language_name: str) -> Source:
        """Return the text of a file: as the editor has it, else as it is on the disk.

        Errors: `OSError`, `UnreadableError`.
        """
        document = self.documents.get(path)
        if document is not None:
            return document.source
        declares = language(language_name).declares_encoding
        return Source.read(Path(path).read_bytes(), path=path, declarations=declares)

    def context(self, path: str, root: str) -> Callable[[], object]:
        """Return what gives the code base around a file, below the folder `root`."""
        base = CodeBase(Path(root), unsaved=self.unsaved())
        return partial(base.surroundings, os.path.realpath(path))

    def surroundings(self, path: str, setup: Setup, ruleset: Ruleset) -> object:
        base = self.base(path, setup, ruleset.required_symbols())
        return base.surroundings(os.path.realpath(path))

    def view(self, path: str, setup: Setup, ruleset: Ruleset) -> ProjectView:
        base = self.code_base(path, setup, ruleset)
        if base is None and not any(rule.function is not None for rule in ruleset.rules):
            return NO_PROJECT
        base = base or self.base(path, setup, frozenset())
        vocabulary = base.vocabulary if base.symbols else SPELLED
        return ProjectView(partial(base.surroundings, os.path.realpath(path)), vocabulary)

    def report(
        self,
        document: Document,
        setup: Setup,
        ruleset: Ruleset,
        options: RunOptions,
        choose: Choose | None = None,
        refused: Mapping[str, str] = _NO_REASONS,
    ) -> FileReport:
        watch = Watch(over=dict(document.over))
        guard = Deadline(LIMITS)
        guard.watch = watch
        view = self.view(document.path, setup, ruleset)
        options = replace(
            options, file_filter=configured_filter(setup.settings, options.file_filter)
        )
        with guard.on_duty():
            return process_file(
                document.raw, document.path, document.language.name, ruleset, options, view,
                refused=refused, choose=choose, watch=watch,
            )
