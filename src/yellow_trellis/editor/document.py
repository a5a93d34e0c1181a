"""An open file: its text as the editor has it, and the tree of that text."""

from __future__ import annotations

from collections.abc import Callable

from yellow_trellis.editor.positions import PositionEncoding
from yellow_trellis.editor.text_change import TextChange, changed
from yellow_trellis.languages import Language, read_source
from yellow_trellis.source import Source, TokenIndex
from yellow_trellis.source.encoding import declared_codec, from_utf8
from yellow_trellis.syntax import Tree
from yellow_trellis.syntax.tree import Memos


class Document:
    """An open file. The tree follows the text; what has not changed is not parsed again."""

    def __init__(
        self, path: str, language: Language, text: str, empty_macros: tuple[str, ...] = ()
    ) -> None:
        self.path = path
        self.language = language
        empty = read_source(b"", language, path, empty_macros)
        self.source = changed(empty, TextChange(None, text), "utf-8").source
        self.over: dict[str, str] = {}
        """The rules that are not tried on this file any more, each with the reason."""
        self._tree: Tree | None = None
        self._memos: Memos = {}

    def change(self, changes: list[TextChange], encoding: PositionEncoding) -> None:
        """Take over changes of the text, one after the other."""
        for change in changes:
            self.source, old, length = changed(self.source, change, encoding)
            if change.range is None:
                self.parse_anew()
            elif (tree := self._tree) is not None:
                self._tree = tree.after(self.source, old, length)
                tree.release()

    def parse_anew(self) -> None:
        """Forget the tree, with all that is known of it."""
        if self._tree is not None:
            self._tree.release()
            self._tree = None

    def tree(
        self,
        context: Callable[[], object] | None = None,
        index: Callable[[bytes], TokenIndex] | None = None,
    ) -> Tree:
        """Return the tree of the text as it is now.

        Arguments: `context` gives the code base around the file, `index` makes its token index.
        """
        if self._tree is None:
            self._tree = Tree(self.source, self.language, memos=self._memos)
        self._tree.context = context
        if index is not None:
            self._tree.token_index = index(self.source.code)
        return self._tree

    @property
    def parsed(self) -> Tree | None:
        """The tree of the text as it is now, where it has been asked for."""
        return self._tree

    @property
    def raw(self) -> bytes:
        """The bytes that the file has when the text is saved.

        Errors: `UnreadableError`, where the encoding that it declares has no room for a character.
        """
        return from_utf8(self.source.data, self._codec)

    def read(self, raw: bytes) -> bytes:
        """Return the text of a file with the bytes `raw`, in UTF-8."""
        return Source.read(raw, declarations=self.language.declares_encoding).data

    @property
    def _codec(self) -> str:
        declared = self.language.declares_encoding and b"coding" in self.source.data[:4096]
        return (declared_codec(self.source.data) if declared else None) or "utf-8"

    @property
    def text(self) -> str:
        """The text as the editor has it."""
        return self.source.data.decode("utf-8")
