"""Every language does what docs/languages.md says of it."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import tree_of
from tests.languages.cases import ASPECTS, CASES, Case
from yellow_trellis import Rule, RuleError, Ruleset, fix, parse, rule
from yellow_trellis.languages import MissingLanguageError, language, registry
from yellow_trellis.languages.registry import language_of, names
from yellow_trellis.patterns import PatternError, compile_pattern
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

DOCS = Path(__file__).parents[2] / "docs"
BRACES = ("c", "cpp", "csharp", "java", "javascript", "php", "tsx", "typescript")
FAMILIES = ("expression", "statement", "name", "string", "number", "literal", "call", "function")


@pytest.mark.parametrize(("spoken", "aspect"), CASES)
def test_patterns_and_templates(spoken: str, aspect: str) -> None:
    case = CASES[spoken, aspect]
    written = Rule(
        "rule", summary="s", find=case.find, put=case.put, language=spoken, part=case.part
    )
    result = written.fix(case.code)
    assert (result.code, result.refused) == (case.becomes, ())
    assert not parse(result.code, spoken).errors
    same = Rule("rule", summary="s", find=case.find, put=case.find, language=spoken, part=case.part)
    assert same.fix(case.code).code == case.code


def test_the_page_says_what_is_shown() -> None:
    spoken = sorted({name for name, _ in CASES})
    rows = [f"| | {' | '.join(spoken)} |", f"|---|{'---|' * len(spoken)}"]
    for aspect in ASPECTS:
        marks = ("yes" if (name, aspect) in CASES else "" for name in spoken)
        rows.append(f"| {aspect} | {' | '.join(marks)} |")
    assert "\n".join(rows) in (DOCS / "languages.md").read_text("utf-8")


@pytest.mark.parametrize("spoken", names())
def test_families_have_the_same_names(spoken: str) -> None:
    declared = language(spoken)
    for family in (*FAMILIES, "class"):
        kinds = declared.family(family)
        assert kinds, f"{spoken} has no family {family}"
        if family in declared.families:
            unknown = kinds - declared.kinds - declared.word_expressions
            assert not unknown, f"{spoken}: {family} has {sorted(unknown)}"


@pytest.mark.parametrize("spoken", names())
def test_a_declaration_is_short_and_names_kinds_of_its_grammar(spoken: str) -> None:
    declared = language(spoken)
    for field in ("bodies", "lists", "wrappers", "comments", "clauses", "only_in_runs", "imports"):
        unknown = getattr(declared, field) - declared.kinds
        assert not unknown, f"{spoken}: {field} has {sorted(unknown)}"
    module = registry._MODULES[spoken].partition(".")[0]
    path = Path(registry.__file__).parent / module / "declaration.py"
    assert len(path.read_text("utf-8").splitlines()) <= 150


@pytest.mark.parametrize("spoken", BRACES)
def test_a_statement_alone_gets_a_block(spoken: str) -> None:
    inner, before, after = "if (late) ring(1);", "void f() {\n", "\n}\n"
    if spoken in ("csharp", "java"):
        before, after = "class T { void F() {\n", "\n} }\n"
    elif spoken == "php":
        inner, before, after = "if ($late) ring(1);", "<?php\n", "\n"
    elif spoken not in ("c", "cpp"):
        before, after = "", "\n"

    def ringing(node, code):
        if node.text.startswith("ring"):
            yield code.finding(node, fixes=[CHANGES[change](fix("Change it"), node)])

    head = inner.partition(" ring")[0]
    for change, wanted in (
        ("before", f"{head} {{ go(); ring(1); }}"),
        ("after", f"{head} {{ ring(1); go(); }}"),
        ("remove", f"{head} {{}}"),
    ):
        written = rule("r", summary="s", kinds=["expression_statement"], language=spoken)(ringing)
        found = written.check(before + inner + after).findings
        text = written.fix(before + inner + after)
        if change != "remove":  # it is found again in the block, round after round
            edited = found[0].choice(with_review=True)
            assert edited is not None
            assert "{" in "".join(p.text for e in edited.edits for p in e.pieces)
            continue
        assert text.code == before + wanted + after


CHANGES = {
    "before": lambda made, node: made.before(node, "go();"),
    "after": lambda made, node: made.after(node, "go();"),
    "remove": lambda made, node: made.remove(node),
}


def test_a_semicolon_asks_for_a_whole_statement() -> None:
    code = "x = ring(1);\nring(2);\nif (late) ring(3);\n"
    alone = Rule("r", summary="s", find="ring(@{x});", put="bell(@{x});", language="javascript")
    assert alone.fix(code).code == "x = ring(1);\nbell(2);\nif (late) bell(3);\n"
    anywhere = Rule("r", summary="s", find="ring(@{x})", put="bell(@{x})", language="javascript")
    assert anywhere.fix(code).code == code.replace("ring", "bell")


def test_names_in_capitals_are_the_same_where_case_means_nothing() -> None:
    code = "program P; begin RING(1); Ring(2); Stop; end.\n"
    written = Rule("r", summary="s", find="ring(@{x})", put="bell(@{x})", language="pascal")
    assert written.fix(code).code == "program P; begin bell(1); bell(2); Stop; end.\n"
    for text, code in (("'Ring'", "'ring'"), ("'ring'", "'RING'"), ("'it''s'", "'IT''S'")):
        assert compile_pattern(text, "pascal").search(f"program P; begin f({code}); end.") == []
        assert compile_pattern(text, "pascal").search(f"program P; begin f({text}); end.")
    same = compile_pattern("f(@{x}, @{x})", "pascal")
    assert same.search("program P; begin f(a, A); f('it''s', 'it''s'); end.")
    assert same.search("program P; begin f('it''s', 'IT''S'); end.") == []


def test_a_string_with_code_in_it_is_no_plain_string() -> None:
    code = "<?php\nf('a$b');\nf(\"a$b\");\nf(\"ab\");\n"
    assert [m.text for m in compile_pattern("f('a$b')", "php").search(parse(code, "php"))] == [
        "f('a$b')"
    ]
    assert [m.text for m in compile_pattern("f('ab')", "php").search(parse(code, "php"))] == [
        'f("ab")'
    ]


def test_spread_arguments_are_taken_in_runs_only() -> None:
    code = "package a\n\nfunc f() { g(a, b...) }\n"
    single = Rule("r", summary="s", find="g(@{a}, @{b})", put="g(@{b}, @{a})", language="go")
    assert single.fix(code).code == code
    several = Rule("r", summary="s", find="g(@{a*})", put="h(@{a*})", language="go")
    assert several.fix(code).code == code.replace("g(", "h(")


def test_files_are_told_by_their_endings() -> None:
    paths = ("a.ts", "b.tsx", "c.rs", "d.PAS", "e.phtml", "f.h", "g.hpp", "h.swift", "i.gemspec")
    assert [language_of(path) for path in paths] == [
        *("typescript", "tsx", "rust", "pascal", "php", "c", "cpp", "swift", "ruby"),
    ]


def test_what_is_not_installed_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    def missing(name: str) -> None:
        raise ModuleNotFoundError(name="tree_sitter_typescript")

    monkeypatch.setattr(registry, "import_module", missing)
    language.cache_clear()
    try:
        with pytest.raises(MissingLanguageError, match=r"pip install 'yellow-trellis\[typescript\]'"):
            language("tsx")
    finally:
        language.cache_clear()


def test_faults_are_told_at_their_place() -> None:
    with pytest.raises(PatternError, match="not valid java code") as told:
        compile_pattern("int = ;", "java")
    assert told.value.sketch()
    with pytest.raises(RuleError, match="go has no part `member`|no part"):
        Rule("r", summary="s", find="x", language="rust", part="nothing").prepare()


def test_cases_are_about_known_aspects() -> None:
    assert {aspect for _, aspect in CASES} == set(ASPECTS)
    assert all(isinstance(case, Case) for case in CASES.values())


@pytest.mark.parametrize(("spoken", "code", "wanted"), [
    ("rust", "fn g() { let a = old(x as u8) < z; }", "(x as u8) < z"),
    ("rust", "fn g() { let a = z < old(x as u8); }", "z < x as u8"),
    ("rust", "fn g() { let a = old(x == y) == z; }", "(x == y) == z"),
    ("php", "<?php\nreturn old($x ? 1 : 2) ? 3 : 4;", "($x ? 1 : 2) ? 3 : 4"),
    ("php", "<?php\nreturn old($x < 1) < 2;", "($x < 1) < 2"),
    ("swift", "let a = z ?? old(x == y)", "z ?? (x == y)"),
    ("swift", "let a = a ?? old(b ?? c)", "a ?? b ?? c"),
    ("swift", "let a = old(x == y) == z", "(x == y) == z"),
    ("swift", "let a = old(a ?? b) as C", "(a ?? b) as C"),
    ("ruby", "tell old({q: 1})", "tell ({q: 1})"),
])
def test_operators_that_do_not_chain_get_brackets(spoken: str, code: str, wanted: str) -> None:
    rule = Rule("r", summary="s", find="old(@{v})", put="@{v}", language=spoken)
    tree = tree_of(code + "\n", spoken)
    plan = make_plan(tree, Ruleset.of([rule]).look(tree)[0])
    assert wanted in prove(plan).tree.source.data.decode(), plan.outcomes
