"""What is found from the bytes is what a visit of every node finds, however the code is written."""

import os
import random
import sysconfig
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

import pytest

from tests.conftest import DEMO, tree_of
from yellow_trellis import Pattern, PatternError, compile_pattern, load_rules
from yellow_trellis.languages import language
from yellow_trellis.languages.registry import language_of
from yellow_trellis.patterns import seek
from yellow_trellis.patterns.match import Match, match_at
from yellow_trellis.source import MultiPatternMatcher, TokenIndex, TokenSequence
from yellow_trellis.syntax import Node, Tree

ROOT = Path(__file__).parents[2]

WRITTEN = [
    ("os.path.join(@{a*})", ["os . path. join (a)", "(os.path.join # c\n # d e\n (b))", "os.path.\\\njoin()"]),
    ("isinstance(@{a}, @{b})", ["isinstance((a), b,)", "(isinstance)(a, b)", "isinstance(isinstance(a, b), c)"]),
    ("@{a} == None", ["a == (None)", "(a ==\n # or not\n None)", "a==None", "((a) == ((None)))"]),
    ("self.f(@{a}, None)", ["self.f(a, (None))", "self.f(self.f(b, None), None)"]),
    ("return None", ["return None", "return(None)", "return \\\n None"]),
    ("raise @{e}() from None", ["raise E() from None", "raise (E()) from (None)", "raise E(\n) from None"]),
    ("class @{n}(object): @{b*}", ["class A(object): pass", "class A (object,) : # c\n  x = 1", "class A( # c\n object): pass"]),
    ("not @{a} in @{b}", ["not a in b", "not (a in b)", "(not a # in\n in b)"]),
    ("@{a like [lIO]} = @{b}", ["l = 1", "I=2", "all = 0; l = 3", "xl = 1\nO = 2"]),
    ("@{a like get[A-Z]\\w*} = @{b}", ["getX = 1", "getÄ = 1\ngetAä = 1", "a.getX = 1; getXY = 1"]),
    ("@{a} = @{f}(@{x like a+b?})", ["y = g(a)", "y = g(aab)", "ab = g(ba)"]),
    ("f(@{a})\ng(@{a})", ["f(x) # c\n\n# d\ng(x)", "f(1); g(1)", "f(x)\nf(x)\ng(x)"]),
    ("@{x: string}.format(@{a*})", ["'a'.format(b)", "'a' 'b' . format()", "('a'\n .format(c))"]),
    ("try: @{a*}\nexcept @{e}: pass", ["try:\n  a\nexcept E:\n  # c\n  pass", "try: pass\nexcept E: pass"]),
    ("@{a}[None]", ["a[None]", "a[ (None) ]", "a[b][None]"]),
    ("f'a{@{x}}b'", ['f"a{y}b"', "f'a{ y }b'"]),
    ("f'{g(@{x})}b'", ["f'{g(y)}b'", "f\"\"\"{g(\n y)}b\"\"\""]),
    ("@{a}, @{b}", ["a, b", "(a), \\\n (b)", "a \\\n , b"]),
    ("@{a}[@{b}, @{c*}]", ["a[b, c]", "a[b, c, d]", "(a)[(b), *c]", "a[b, c:d]"]),
    ("f(@{a}, *@{b}, c=@{d})", ["f(a, *b, c=d)", "f(a, # e\n *(b), c = (d),)"]),
    ("with @{a} as @{b}: @{c*}", ["with a as b: c", "with (a) as b:\n  # d\n  c; e", "with (a as b): c"]),
    ("{@{a}: @{b}, **@{c}}", ["{a: b, **c}", "{(a): b, # d\n **c,}"]),
    ("for @{a} in @{b}: @{c*}", ["for a, b in c: d", "for a in b, c:\n  d\n\n  # e\n  f", "for a in b: c"]),
    ("@{a} if not @{b} else @{a}", ["a if not b else a", "(a.b\n if not c\n else (a . b))"]),
    ("x = not @{a} in (@{b}, 1)", ["x = not a in (b, 1)", "x = not a in (b\n  , 0x1)", "x = (not f(a,\n b) in (c,\n 1))"]),
    ("def f(@{a}, b=1, *@{_}): @{c*}", ["def f(a, b=1, *c): pass", "def f(a, b = 1, *c): return"]),
    ("@{a}: int = f(@{b})", ["a: int = f(b)", "a . b : int = f(\n b)"]),
    ("assert @{a}, 'b'", ['assert a, "b"', "assert (a), ('b')"]),
    ("@{f}(@{x}, @{x})", ["f(a, a)", "f(a, (a),)", "f('a', # c\n \"a\")", "f(a.b, a . b)", "f(0x1, 1)"]),
    ("@{f}(@{x})", ["f(a)", "f(a for a in b)", "f((a),)", "f(# c\n a)", "f(\\\n a)"]),
    ("@{x}[0:@{n}]", ["a[0:b]", "a[(0) : # c\n b]", "a[0x0:b]"]),
    ("@{x} - @{x}", ["a - a", "(a) - a", "a - (# b\n a)", "f(a) - f( a )"]),
    ("@{x} = @{x} + @{y}", ["a = a + b", "a = (a + b)", "a = (# c\n a + b)"]),
    ("@{x} = @{_}\n@{x} = @{_}", ["a = 1\na = 2", "if b:\n  a = 1 # c\n  # d\n\n  a = 2", "a=1;a=2"]),
    ("@{a}.@{b}.@{c}(@{_*})", ["a.b.c()", "(a.b).c(d)", "a. b \\\n .c(d for d in e)", "a().b.c(1)"]),
    ("(@{x},)", ["(a,)", "(# b\n a,)", "x = a,", "((a),)"]),
    ("@{a}, @{b} = @{b}, @{a}", ["a, b = b, a", "(a, b) = b, a", "a, b = (b, # c\n a)"]),
    ("@{v} if @{t} else @{v}", ["a if b else a", "(a) if b else (a # c\n)"]),
    ("lambda: @{f}()", ["lambda: f()", "lambda : (f())"]),
    ("pay(@<alder.line>, @{x})", ["from alder import line\npay(line, 1)", "import alder\npay((alder.line), # c\n b)"]),
    ("class A(@<alder.Line>): @{b*}", ["from alder import Line as L\nclass A(L): pass", "import alder\nclass A(alder.Line,): pass"]),
    ("account[@<alder.line>] = @{x}", ["from alder import line\naccount[line] = 1", "import alder as a\naccount[(a.line)] = 1"]),
    ("raise Delayed(@<alder.line>, 'late')", ["from alder import line\nraise Delayed(line, \"late\")"]),
    ("from a import @{b*}", ["from a import b, c", "from a import (b, # d\n c,)", "from a import b as c"]),
]  # rows


Found = dict[tuple[int, int], list[tuple[str, tuple[tuple[int, int], ...]]]]
"""By span of a match: what each hole took, in bytes."""


def took(matches: Iterable[Match | None]) -> Found:
    return {
        match.span: sorted(
            (key, tuple(node.span for node in (one if isinstance(one, tuple) else (one,))))
            for key, one in match.takes.items()
        )
        for match in matches
        if match is not None
    }


@lru_cache(maxsize=1)
def named_in(tree: Tree) -> list[Node]:
    return [node for node in tree.root.walk() if node.named]


def visited(pattern: Pattern, tree: Tree) -> Found:
    named = named_in(tree)
    if kinds := pattern.kinds:
        several = len(pattern.roots) > 1  # they are statements, which an expression may be
        named = [node for node in named if (node.core if several else node).kind in kinds]
    return took(match_at(pattern, node) for node in named)


def sought(pattern: Pattern, tree: Tree) -> Found:
    return took(seek(pattern, tree))


@pytest.mark.parametrize(("text", "codes"), WRITTEN)
def test_however_it_is_written(text: str, codes: list[str]) -> None:
    pattern = compile_pattern(text, language("python"))
    for code in codes:
        tree = tree_of(code + "\n")
        found = visited(pattern, tree)
        assert sought(pattern, tree) == found, code
        if code != "ab = g(ba)":
            assert found, code


def test_comments_between_tokens_in_javascript() -> None:
    pattern = compile_pattern("a.b(@{x})", language("javascript"))
    for code in ("a /* c */ . // d\n b(1)", "a\n.b(1)", "a.b /* * / */ (1)", "$a.b(1); a.b(2)"):
        tree = tree_of(code, "javascript")
        assert sought(pattern, tree) == visited(pattern, tree) != {}, code


def test_in_the_library() -> None:
    """Patterns of all kinds in a share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "700"))
    names = ("rules_forty.py", "rules_shapes.py")
    rules = load_rules([ROOT / "benchmarks" / name for name in names])
    patterns = [one.compiled.pattern for one in rules if one.find is not None]
    patterns += [compile_pattern(text, language("python")) for text, _ in WRITTEN]
    matches = 0
    for file in sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))[::share]:
        tree = tree_of(file.read_bytes())
        for pattern in patterns:
            if pattern.without is None:
                found = visited(pattern, tree)
                assert sought(pattern, tree) == found, (file, pattern.text)
                matches += len(found)
    assert matches > 100


def test_code_of_the_library_is_found_in_it() -> None:
    """Expressions and statements of some files, as patterns, one part of them a hole."""
    files = sorted(Path(sysconfig.get_paths()["stdlib"]).rglob("*.py"))
    share = int(os.environ.get("YTR_SHARE", len(files) // 24))
    chance = random.Random(1)
    tried = 0
    for file in files[::share]:
        tree = tree_of(file.read_bytes())
        nodes = [node for node in named_in(tree) if 3 < len(node.data) < 200]
        for node in chance.sample(nodes, min(len(nodes), 4)):
            parts = [child for child in node.children if child.named]
            text = node.text
            if parts and "@{" not in text:
                part = chance.choice(parts)
                start, end = part.start - node.start, part.end - node.start
                data = node.data
                text = (data[:start] + b"@{part}" + data[end:]).decode()
            try:
                pattern = compile_pattern(text, language("python"))
            except PatternError:
                continue  # not everything is code of its own
            assert sought(pattern, tree) == visited(pattern, tree), (file, text)
            tried += 1
    assert tried > 20


def test_one_pass_for_all_words_sees_what_each_search_sees() -> None:
    chains = [TokenSequence.of_word(word) for word in (b"in", b"not", b"notes", b"x", b"def")]
    matcher = MultiPatternMatcher(chains)
    for data in (
        b"x",
        b"not in notes, noted_in x\xc3\xa9 def\ndef",
        b"",
        b"(x)x[in]not-x",
        b"xx x_x",
    ):
        alone, together = TokenIndex(data), TokenIndex(data, matcher)
        for chain in chains:
            assert together.of(chain) == alone.of(chain), data
            word = chain.starts[0][:-1]
            assert together.holds_word(word) or not alone.of(chain)


def test_a_hole_of_a_kind_takes_each_node_of_it() -> None:
    """Statements that are but an expression count as well: `@{s: expression_statement}`."""
    tried = 0
    for path in sorted(p for p in DEMO.rglob("*") if p.is_file()):
        name = language_of(str(path))
        tree = tree_of(path.read_bytes(), name) if name is not None else None
        if tree is None or tree.broken:
            continue
        nodes = [node for node in tree.root.walk() if node.named and node.parent is not None]
        for kind in sorted({node.kind for node in nodes} & tree.language.kinds):
            pattern = compile_pattern(f"@{{x: {kind}}}", tree.language)
            found = {match.node.span for match in seek(pattern, tree)}
            missed = [
                node.text
                for node in nodes
                if node.kind == kind and node.span not in found and not node.is_comment
                and not (kind in tree.language.chained and node.parent.kind == kind)
                and node.children
            ]
            assert not missed, (path, kind)
            tried += 1
    assert tried > 500
