"""The declaration of a language: all that the library has to know of one."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cached_property

import tree_sitter
from msgspec import Struct, field

from yellow_trellis.languages.compile_errors import CompileErrors, no_compiler
from yellow_trellis.languages.literals import Literals
from yellow_trellis.languages.misgroupings import Misgroupings
from yellow_trellis.languages.parse_in_parts import parse_in_parts
from yellow_trellis.languages.precedence import Precedence
from yellow_trellis.languages.scanner import Scanner
from yellow_trellis.source import NormalForm, TokenSequence


_NO_TOKENS: frozenset[str] = frozenset()
_LONG = 16 * 1024
"""Bytes from which code is parsed so that signals are heeded, and that the parser gets at once."""


def kinds(text: str) -> frozenset[str]:
    """Return the words of `text`: kinds of nodes, or tokens."""
    return frozenset(text.split())


def fields(words: str) -> frozenset[tuple[str, str | None]]:
    """Return pairs of a kind and a field, written ``kind.field``."""
    pairs = (word.partition(".") for word in words.split())
    return frozenset((kind, field or None) for kind, _, field in pairs)


class KindKeyword(Struct, frozen=True, dict=True):
    """A word that leads to all nodes of a kind."""

    word: bytes
    """The word, in ASCII letters."""
    then: bytes = b""
    """What follows it, as a regular expression."""

    @cached_property
    def chain(self) -> TokenSequence:
        """The token sequence to search for in the bytes of a file."""
        return TokenSequence.of_word(self.word, self.then)


class Language(Struct, frozen=True, eq=False, dict=True):
    """The shapes of one language over its grammar. Kinds are the grammar's node kinds."""

    name: str
    grammar: object
    """The grammar as the parser library takes it."""
    comments: frozenset[str]
    """Kinds of comments."""
    bodies: frozenset[str]
    """Kinds whose children are statements."""
    lists: frozenset[str]
    """Kinds whose children are items between separators."""
    enclosures: frozenset[str]
    """Kinds written in brackets, within which line breaks are free."""
    suffixes: tuple[str, ...] = ()
    """The endings of its files, with dots and in lower case."""
    separators: frozenset[str] = frozenset({",", ";"})
    space: str = r"[\s\ufeff\u2060\u200b]"
    """One piece of space between tokens, as a regular expression over text."""
    space_kinds: frozenset[str] = _NO_TOKENS
    """Kinds that are nothing but space, such as a line continuation."""
    atoms: frozenset[str] = _NO_TOKENS
    """Kinds treated as leaves although the parser splits them further."""
    brackets: frozenset[str] = frozenset({"parenthesized_expression"})
    """Kinds that only group."""
    bracketed_heads: frozenset[str] = _NO_TOKENS
    """Kinds of statements that need brackets around their head, which do not only group there."""
    wrappers: frozenset[str] = _NO_TOKENS
    """Kinds around one node that add nothing to it."""
    groups: frozenset[str] = _NO_TOKENS
    """Kinds that only hold others side by side: a pattern of one of them is that one."""
    word_expressions: frozenset[str] = _NO_TOKENS
    """Fixed tokens that are expressions of their own, which the grammar gives no name."""
    same_kinds: Mapping[str, str] = field(default_factory=dict)
    """Kinds that are other spellings of a kind."""
    open_heads: Mapping[str, str] = field(default_factory=dict)
    """By kind: the kind of the same head without a word, `abstract`, that has a kind of its own."""
    rival_words: tuple[frozenset[str], ...] = ()
    """Words of which a head has one at most; none has any word twice."""
    spliced: Mapping[str, str] = field(default_factory=dict)
    """By kind: a child kind whose own children count in its place, ``[int]`` of ``Box[int]``."""
    alike_kinds: tuple[frozenset[str], ...] = ()
    """Kinds that the same code has in different places, such as a list and a target like one."""
    optional_tokens: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """By kind: tokens that may be left out."""
    counted_separators: frozenset[str] = _NO_TOKENS
    """Kinds in which a separator after the last item changes the meaning."""
    open_ended: frozenset[str] = _NO_TOKENS
    """Kinds of lists in brackets in which a comma may stand behind the last item."""
    closes_list: frozenset[str] = _NO_TOKENS
    """Kinds of items that no comma may follow, in lists that are open ended."""
    fixed_separators: frozenset[str] = _NO_TOKENS
    """Kinds in which each separator has its meaning, such as the head of a loop."""
    hides_text: frozenset[str] | None = None
    """Kinds in which code that means something is in no node; None where that is not known."""
    literal_forms: Literals = Literals()
    """The kinds that may be spelled in several ways, and how."""
    families: Mapping[str, Iterable[str]] = field(default_factory=dict)
    """Names for groups of kinds that holes may ask for. Expressions and statements are those that
    the grammar calls so, where they are not said here."""
    references: frozenset[str] = _NO_TOKENS
    """Kinds of nodes that refer to something by its name; none where that is not understood."""
    no_references: frozenset[tuple[str, str | None]] = frozenset()
    """Kind and field of places where a name stands and refers to nothing."""
    member_calls: frozenset[tuple[str, str | None]] = frozenset()
    """Kind and field of names of members in calls that have no node for type and member."""
    semantics: str | None = None
    """The package that knows what names and imports mean; None where nothing does."""
    has_paths: bool = False
    """Whether modules are named by paths, `@alder/fares`, in names by meaning."""
    inner_binding: re.Pattern[bytes] = re.compile(rb"(?!)")
    """What stands in the bytes of an expression that binds a name of the scope around it."""
    imports: frozenset[str] = _NO_TOKENS
    """Kinds of statements that bring names from elsewhere."""
    only_in_runs: frozenset[str] = _NO_TOKENS
    """Kinds that a hole for one node takes only when asked for by kind."""
    last_items: frozenset[str] = _NO_TOKENS
    """Kinds of list items behind which no other may stand."""
    named_items: frozenset[str] = _NO_TOKENS
    """Kinds of list items that start with a name and may stand in any order among each other."""
    word_kinds: re.Pattern[str] | None = None
    """Named kinds that are but fixed words, as a regular expression; None where there are none."""
    ignores_case: bool = False
    """Whether names and fixed words are the same in capitals and in small letters."""
    normal_form: NormalForm | None = None
    """The normal form in which names are compared; None where each is read as it is spelled."""
    word: bytes = rb"[A-Za-z0-9_\x80-\xff]"
    """A byte of a name, as a regular expression."""
    common_words: frozenset[str] = _NO_TOKENS
    """Words too common to look for first, beside the keywords of the grammar."""
    line_breaks_count: bool = False
    """Whether a line break outside brackets ends a statement."""
    declares_encoding: bool = False
    """Whether files may name their encoding in a comment (PEP 263)."""
    has_macros: bool = False
    """Whether a preprocessor puts other code where it finds a name."""
    gap: bytes = rb"[^A-Za-z0-9_\x80-\xff#]|#[^\n]*\n"
    """A piece of what may stand between two tokens and means nothing, as a regular expression: a
    byte that is no letter, or a comment."""
    line_comment: str = "#"
    """What a comment to the end of the line starts with."""
    comment_mark: re.Pattern[bytes] = re.compile(b"#")
    """What is found in the bytes of any code that holds a comment."""
    stand_ins: tuple[str, ...] = ("{}",)
    """What a hole may be written as for the parser, `{}` being a name no code uses; the usual form
    first."""
    contexts: tuple[tuple[str, str], ...] = (("", ""),)
    """Code before and after a pattern; nothing where it parses alone, as an except clause does
    not. The first that will do is taken."""
    statement_stand_in: str = "{};"
    """The form of a hole that is a statement on a line of its own, where a token ends those."""
    returns_from: frozenset[str] = _NO_TOKENS
    """Kinds of what a return leaves, where that is not each function of its families."""
    loops: frozenset[str] = _NO_TOKENS
    """Kinds of loops, where their names say another thing than in most grammars."""
    called: frozenset[tuple[str, str | None]] = frozenset()
    """Places of what is called, where that is always a member of a type."""
    unlikely_words: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """By kind: words in such code by which a pattern is rather meant as something else, such as
    ``private`` in a variable of a function: it is a member of a class."""
    unlikely: frozenset[str] = _NO_TOKENS
    """Kinds that a pattern is only read as where no other context reads it otherwise."""
    around: tuple[tuple[str, str], ...] = ()
    """Code around a part that is none alone, and belongs to it: the brackets of a generator."""
    parts: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    """By name: code before and after a part that would parse as something else alone."""
    lifted: frozenset[str] = _NO_TOKENS
    """Kinds that a hole for several takes whole when it is all they hold."""
    leading: frozenset[str] = _NO_TOKENS
    """Kinds of statements that speak for the next one, which has no node for both."""
    clauses: frozenset[str] = _NO_TOKENS
    """Kinds of parts of a compound statement that can be left out, such as ``else``."""
    optional_around: frozenset[str] = _NO_TOKENS
    """Kinds around a definition that are not there where it has nothing but itself."""
    delimiters: frozenset[str] = _NO_TOKENS
    """Tokens around a literal of which only the letters count, not the quotes."""
    telltales: Mapping[str, tuple[KindKeyword, ...]] = field(default_factory=dict)
    """By kind: what gives away every node of the kind; a kind of which nothing does is left out."""
    prepared: Callable[[bytes, Callable[[bytes], bool]], bytes] | None = None
    """Makes of UTF-8 code what the grammar reads better, each byte in its place; it is given what
    returns whether the grammar takes some code."""
    scanner: Callable[[bytes], Scanner | None] = lambda data: None
    """Makes what tells statements in UTF-8 code; None where nothing does."""
    compound: frozenset[str] = _NO_TOKENS
    """Kinds of statements with bodies, and of their clauses."""
    head_comment: re.Pattern[bytes] = re.compile(rb"#!")
    """What a comment looks like that counts only at the very top of a file."""
    stays_first: frozenset[str] = _NO_TOKENS
    """Kinds of statements before which only a docstring may stand."""
    filled: frozenset[str] = _NO_TOKENS
    """Kinds of bodies that must not be empty."""
    empty_body: str = ""
    """The statement that an otherwise empty body needs."""
    precedence: Precedence = Precedence()
    """How expressions hold together, and what places ask of them."""
    no_brackets: frozenset[tuple[str, str | None]] = frozenset()
    """Kind and field (None: any) of places where a name may not stand in brackets."""
    weak_expressions: frozenset[str] = _NO_TOKENS
    """Kinds that are no expressions to the grammar, but are in brackets."""
    sole_items: Mapping[str, str] = field(default_factory=dict)
    """By kind: the list whose brackets are its own where it is the only item."""
    ambiguous: frozenset[str] = _NO_TOKENS
    """Kinds in which the compiler reads some code as another tree than the parser."""
    misread_in: Callable[[tree_sitter.Node], Iterable[int]] = lambda node: ()
    """The bytes at which the compiler reads code in such a node as another tree, or not at all."""
    misgrouped: Misgroupings = field(default_factory=dict)
    """Expressions that the grammar groups otherwise than the compiler, which has the inner node
    around the outer one."""
    never_at_top: frozenset[str] = _NO_TOKENS
    """Kinds of statements that the parser takes at the top of a file, and the compiler does not."""
    unbracketed_in: Callable[[tree_sitter.Node], Iterable[tuple[int, int]]] | None = None
    """The spans of expressions in such a node that are read otherwise without brackets."""
    misread_statements: Callable[
        [tree_sitter.Node, bytes, Callable[[int, int], bool]], list[tuple[int, int]]
    ] = lambda root, data, matters: []
    """The spans of the statements in a tree, with its text, that the compiler of the language
    reads as another tree; of code with a body its header is meant. The last argument says of the
    span of a statement or a header whether it matters."""
    spans_read: Callable[[tree_sitter.Node], list[tuple[int, int]]] = lambda statement: []
    """The spans of a statement, and of what is in it, that may be asked for in that."""
    unbracketed: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    """By field: the list, and its field, that an item in it stands for without brackets."""
    terminator: str = ""
    """The token that may end a statement, and may be left out."""
    block: tuple[str, str] | None = None
    """What is put around several statements where the language takes one; None where it takes any
    number everywhere."""
    self_ended: frozenset[str] = _NO_TOKENS
    """Kinds of statements that no such token ends."""
    chained: frozenset[str] = _NO_TOKENS
    """Kinds that stand in one of their own as a part of it, and are nothing by themselves there."""
    many_in_brackets: str = ""
    """The kind that brackets around any number of items make."""
    interpolations: frozenset[str] = _NO_TOKENS
    """Kinds of code in strings, in brackets."""
    verbatim: Mapping[str, str] = field(default_factory=dict)
    """By kind: a token with which a node shows its own code as text when the program runs."""
    verbatim_mark: re.Pattern[bytes] = re.compile(rb"(?!)")
    """What is found in the bytes of any code that holds such a node."""

    statement_spans: Callable[[bytes], Sequence[tuple[int, int]]] = lambda data: ()
    """The spans of the statements at the top of UTF-8 code, as the compiler of the language reads
    it; none where it does not, or where there is none."""
    is_one_line: Callable[[bytes, int, int], bool] = lambda data, start, end: True
    """Whether UTF-8 code from a byte to another, which the parser takes for one statement without a
    body, may be one in the language: in some, such a statement ends where a line does."""
    compile_errors: CompileErrors = no_compiler
    """What the compiler of the language has against UTF-8 code, if there is one: the first error of
    each of the spans given, which are the statements at its top. The version is the oldest that
    must read it."""

    def __repr__(self) -> str:
        return f"<Language {self.name}>"

    @cached_property
    def raw_language(self) -> tree_sitter.Language:
        """The grammar, as the parser library has it."""
        return tree_sitter.Language(self.grammar)

    @cached_property
    def _parser(self) -> tree_sitter.Parser:
        return tree_sitter.Parser(self.raw_language)

    def parse(
        self,
        data: bytes,
        only: Sequence[tuple[int, int]] | None = None,
        old: tree_sitter.Tree | None = None,
    ) -> tree_sitter.Tree:
        """Parse UTF-8 `data`, or only some spans of it as if there were nothing in between.

        Arguments: `old` is the tree of an earlier text, already edited to the places of `data`.
        Errors: what the handler of a signal raises meanwhile, if `data` is long.
        """
        if self.prepared is not None:
            prepared = self.prepared(data, self._takes)
            tree = self._parse(prepared, only, None)
            if prepared is data or not tree.root_node.has_error:
                return tree  # that of an old text may have been prepared otherwise
            old = None
        return self._parse(data, only, old)

    def _parse(
        self,
        data: bytes,
        only: Sequence[tuple[int, int]] | None,
        old: tree_sitter.Tree | None,
    ) -> tree_sitter.Tree:
        parser = self._parser
        if only is not None:
            parser.included_ranges = [
                tree_sitter.Range((0, start), (0, end), start, end) for start, end in only
            ]
        try:
            if old is not None:
                return parser.parse(data, old)
            return parser.parse(data) if len(data) < _LONG else parse_in_parts(parser, data)
        finally:
            if only is not None:
                parser.included_ranges = []

    def _takes(self, data: bytes) -> bool:
        return not self._parser.parse(data).root_node.has_error

    @cached_property
    def fixed_words(self) -> frozenset[str]:
        """The named kinds that are but fixed words."""
        if self.word_kinds is None:
            return _NO_TOKENS
        return frozenset(filter(self.word_kinds.fullmatch, self.kinds)) - self.expressions

    def folded(self, data: bytes) -> bytes:
        """Return code as it is searched in: in small letters where their case means nothing."""
        return data.lower() if self.ignores_case else data

    def is_token(self, kind: str) -> bool:
        """Return whether the grammar has a fixed token of that kind."""
        return self.raw_language.id_for_node_kind(kind, False) is not None

    @cached_property
    def sequences(self) -> frozenset[str]:
        """The kinds of what holds any number of neighbours: lists and bodies."""
        return self.lists | self.bodies

    @cached_property
    def statements(self) -> frozenset[str]:
        """The kinds of statements, definitions among them."""
        if "statement" in self.families:
            return frozenset(self.families["statement"])
        subtypes = self._subtypes("statement") | self._subtypes("_statement")
        ends = ("_statement", "_definition")
        return subtypes or frozenset(kind for kind in self.kinds if kind.endswith(ends))

    @cached_property
    def keywords(self) -> frozenset[str]:
        """The words too common to look for first: tokens of the grammar, and `common_words`."""
        count = self.raw_language.node_kind_count
        tokens = (
            self.raw_language.node_kind_for_id(number)
            for number in range(count)
            if not self.raw_language.node_kind_is_named(number)
        )
        return self.common_words | {token for token in tokens if token and token.isalpha()}

    @cached_property
    def expressions(self) -> frozenset[str]:
        """The kinds of what may be put in brackets."""
        return (self.family("expression") or frozenset()) | self.weak_expressions

    @cached_property
    def unmeant(self) -> frozenset[str]:
        """The kinds of children that may carry no meaning: comments and separators."""
        return self.comments | self.separators

    @cached_property
    def thin(self) -> frozenset[str]:
        """The kinds of brackets and wrappers, which hold one node and say nothing of their own."""
        return self.brackets | self.wrappers

    @cached_property
    def heads(self) -> frozenset[str]:
        """The kinds of functions and classes."""
        families = [self.family("function"), self.family("class")]
        return frozenset().union(*(family or frozenset() for family in families))

    @cached_property
    def extras(self) -> frozenset[str]:
        """The kinds of named nodes that may stand anywhere and mean nothing."""
        return self.comments | self.space_kinds

    def spellings_of(self, kind: str, field: str | None) -> tuple[str, ...] | None:
        """Return the kinds of nodes that code of a kind in a field may be, `kind` first.

        None where that is not told by kinds.
        """
        if (kind, field) in self.unbracketed.values():
            return None
        same = {second for second, as_ in self.same_kinds.items() if as_ == kind}
        sole = {second for second, around in self.sole_items.items() if around == kind}
        return (kind, *sorted((same | sole) - {kind}))

    def more_heads(self, kind: str) -> tuple[str, ...]:
        """Return the kinds that heads of a kind have with more words in them."""
        own = {second for second, as_ in self.open_heads.items() if as_ == kind}
        return tuple(sorted(own | {k for k, as_ in self.same_kinds.items() if as_ in own}))

    @cached_property
    def word_bytes(self) -> frozenset[int]:
        """The bytes of names."""
        item = re.compile(self.word)
        return frozenset(byte for byte in range(256) if item.fullmatch(bytes([byte])))

    @cached_property
    def kinds(self) -> frozenset[str]:
        """All named kinds of the grammar."""
        count = self.raw_language.node_kind_count
        names = (i for i in range(count) if self.raw_language.node_kind_is_named(i))
        return frozenset(filter(None, map(self.raw_language.node_kind_for_id, names)))

    @cached_property
    def kind_names(self) -> dict[int, str]:
        """By the number that the parser has for it: the kind of a node."""
        count = self.raw_language.node_kind_count
        names = {number: self.raw_language.node_kind_for_id(number) for number in range(count)}
        return {number: sys.intern(name) for number, name in names.items() if name is not None}

    @cached_property
    def kind_numbers(self) -> dict[str, tuple[int, ...]]:
        """By named kind: the numbers under which the parser knows it."""
        table: dict[str, tuple[int, ...]] = {}
        for number in range(self.raw_language.node_kind_count):
            kind = self.raw_language.node_kind_for_id(number)
            if kind is not None and self.raw_language.node_kind_is_named(number):
                table[kind] = (*table.get(kind, ()), number)
        return table

    @cached_property
    def _families(self) -> dict[str, frozenset[str]]:
        results = {name: frozenset(kinds) for name, kinds in self.families.items()}
        if "expression" not in results:
            results["expression"] = self._subtypes("expression") | self._subtypes("_expression")
        results["statement"] = self.statements
        return results

    def _subtypes(self, name: str) -> frozenset[str]:
        lookup = self.raw_language.id_for_node_kind(name, True)
        results: set[str] = set()
        todo = [lookup] if lookup is not None else []
        while todo:
            for kind in self.raw_language.subtypes(todo.pop()):
                text = self.raw_language.node_kind_for_id(kind)
                if text in results or text is None:
                    continue
                results.add(text)
                if kind in self.raw_language.supertypes:
                    todo.append(kind)
        return frozenset(results)

    def telltales_of(self, kinds: Iterable[str]) -> tuple[KindKeyword, ...] | None:
        """Return what gives away all nodes of `kinds`; None where nothing does so for one."""
        table: dict[KindKeyword, None] = {}
        for kind in kinds:
            if kind not in self.telltales:
                return None
            table.update(dict.fromkeys(self.telltales[kind]))
        return tuple(table)

    def family(self, name: str) -> frozenset[str] | None:
        """Return the kinds that `name` stands for, a family or one kind; None if unknown."""
        if name in self._families:
            return self._families[name]
        return frozenset({name}) if name in self.kinds else None

    def families_of(self, kind: str) -> list[str]:
        """Return the names of the families that `kind` belongs to, sorted."""
        return sorted(name for name, kinds in self._families.items() if kind in kinds)

    def family_names(self) -> list[str]:
        """Return the names of all families, sorted."""
        return sorted(self._families)

    def same_kind(self, kind: str) -> str:
        """Return the one kind that stands for all spellings of `kind`."""
        return self.same_kinds.get(kind, kind)

    def is_literal(self, kind: str) -> bool:
        """Return whether `kind` may be spelled in several ways."""
        return kind in self.literal_forms.kinds

    def same_delimiter(self, item: str, second: str) -> bool:
        """Return whether two delimiters differ in nothing but their quotes."""
        return item.strip("'\"").lower() == second.strip("'\"").lower()

    def has_value(self, literal: str) -> bool:
        """Return whether a literal has a value before the program runs."""
        try:
            self.literal_forms.value(literal)
        except ValueError:
            return False
        return True

    def same_literal(self, item: str, second: str) -> bool:
        """Return whether two literals have the same value and type."""
        try:
            left, right = self.literal_forms.value(item), self.literal_forms.value(second)
        except ValueError:
            return item == second
        return type(left) is type(right) and left == right
