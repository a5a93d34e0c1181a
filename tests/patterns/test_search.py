"""What is found from the bytes is what a visit of every node finds, however the code is written."""

import os
import sysconfig
from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import Pattern, compile_pattern, language, load_rules, seek
from yellow_trellis.patterns.match import match_at
from yellow_trellis.source import Chain, Lookout, Sightings
from yellow_trellis.syntax import Tree

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
    ("@{a ~ [lIO]} = @{b}", ["l = 1", "I=2", "all = l = 3", "xl = O = 2"]),
    ("@{a ~ get[A-Z]\\w*} = @{b}", ["getX = 1", "getÄ = 1\ngetAä = 1", "a.getX = getXY = 1"]),
    ("@{a} = @{f}(@{x ~ a+b?})", ["y = g(a)", "y = g(aab)", "ab = g(ba)"]),
    ("f(@{a})\ng(@{a})", ["f(x) # c\n\n# d\ng(x)", "f(1); g(1)", "f(x)\nf(x)\ng(x)"]),
    ("@{x: string}.format(@{a*})", ["'a'.format(b)", "'a' 'b' . format()", "('a'\n .format(c))"]),
    ("try: @{a*}\nexcept @{e}: pass", ["try:\n  a\nexcept E:\n  # c\n  pass", "try: pass\nexcept E: pass"]),
    ("@{a}[None]", ["a[None]", "a[ (None) ]", "a[b][None]"]),
    ("f'a{@{x}}b'", ['f"a{y}b"', "f'a{ y }b'"]),
]  # fmt: skip


def visited(pattern: Pattern, tree: Tree) -> list[tuple[int, int]]:
    named = [node for node in tree.root.walk() if node.named]
    if kinds := pattern.kinds:
        several = len(pattern.roots) > 1  # they are statements, which an expression may be
        named = [node for node in named if (node.core if several else node).kind in kinds]
    found = [match_at(pattern, node) for node in named]
    return sorted({match.span for match in found if match is not None})


def sought(pattern: Pattern, tree: Tree) -> list[tuple[int, int]]:
    return sorted(match.span for match in seek(pattern, tree))


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
        assert sought(pattern, tree) == visited(pattern, tree) != [], code


def test_in_the_library() -> None:
    """Patterns of all kinds in a share of the files; YTR_SHARE=1 takes all."""
    share = int(os.environ.get("YTR_SHARE", "150"))
    rules = load_rules([ROOT / "benchmarks" / "rules_forty.py"])
    patterns = [one.pattern for one in rules if one.pattern is not None]
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


def test_one_pass_for_all_words_sees_what_each_search_sees() -> None:
    chains = [Chain.of_word(word) for word in (b"in", b"not", b"notes", b"x", b"def")]
    lookout = Lookout(chains)
    for data in (
        b"x",
        b"not in notes, noted_in x\xc3\xa9 def\ndef",
        b"",
        b"(x)x[in]not-x",
        b"xx x_x",
    ):
        alone, together = Sightings(data), Sightings(data, lookout)
        for chain in chains:
            assert together.of(chain) == alone.of(chain), data
            word = chain.starts[0][:-1]
            assert together.holds_word(word) or not alone.of(chain)
