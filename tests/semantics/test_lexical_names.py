"""The names of languages that import single things: what is found, put, imported and renamed."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import Project, Rule, fix, rule
from yellow_trellis.semantics import facts_of

# By language and name: code in which each name that is meant is followed by `/*!*/`, and no other.
FOUND = {
    ("java", "alder.rail.Line"): [
        "import alder.rail.Line;\nclass A { Line/*!*/ a = new Line/*!*/(1); alder.rail.Line/*!*/ b; }",
        "import alder.rail.*;\nclass A { Line/*!*/ a; }",
        "package alder.rail;\nclass A { Line/*!*/ a; void f() { Line/*!*/.of(1); } }",
        "import other.Line;\nimport alder.rail.*;\nclass A { Line a; }",
        "import alder.rail.*;\nclass A { class Line {} Line a; }",
        "import alder.rail.*;\nclass A<Line> { Line a; }",
        "import alder.rail.Line;\nclass A { void f(int Line) { g(Line); h.Line(); } }",
    ],
    ("java", "java.lang.System"): [
        "class A { void f() { System/*!*/.out.println(1); java.lang.System/*!*/.exit(1); } }",
        "import other.System;\nclass A { void f() { System.out.println(1); } }",
    ],
    ("csharp", "Alder.Rail.Line"): [
        "using Alder.Rail;\nclass A { Line/*!*/ a = new Line/*!*/(1); Alder.Rail.Line/*!*/ b; }",
        "using L = Alder.Rail.Line;\nclass A { L/*!*/ a; }",
        "using R = Alder.Rail;\nclass A { R.Line/*!*/ a; }",
        "namespace Alder.Rail;\nclass A { Line/*!*/ a; }",
        "using Alder.Rail;\nclass A { class Line {} Line a; void f(int Line) { g(Line); x.Line(); } }",
    ],
    ("go", "alder/rail.Line"): [
        'package a\n\nimport "alder/rail"\n\nvar a rail.Line/*!*/\n\nfunc f() { rail.Line/*!*/(1) }',
        'package a\n\nimport r "alder/rail"\n\nvar a r.Line/*!*/\nvar b rail.Line',
        'package a\n\nimport . "alder/rail"\n\nvar a Line/*!*/',
        'package a\n\nimport "alder/rail"\n\nfunc f(rail T) { rail.Line(1) }',
        'package a\n\nimport "alder/rail/v2"\n\nvar a rail.Line',
        'package a\n\nimport "other/rail"\n\nvar a rail.Line',
    ],
    ("go", "alder/rail/v2.Line"): ['package a\n\nimport "alder/rail/v2"\n\nvar a rail.Line/*!*/'],
    ("go", "builtin.len"): ["package a\n\nfunc f(a []int) int { return len/*!*/(a) }",
                            "package a\n\nfunc f(len T) int { return len(1) }"],
    ("rust", "alder.rail.Line"): [
        "use alder::rail::Line;\nfn f(a: Line/*!*/) { Line/*!*/::new(); alder::rail::Line/*!*/::new(); }",
        "use alder::rail::{self, Line as L, other};\nfn f(a: L/*!*/) { Line::new(); }",
        "use alder::{rail};\nfn f(a: rail::Line/*!*/) {}",
        "use alder::rail::*;\nfn f(a: Line/*!*/) {}",
        "use alder::rail::*;\nstruct Line;\nfn f(a: Line) {}",
    ],
    ("rust", "std.string.String"): [
        "mod a { struct String; fn f() { String::from(1); } mod b { fn g() { String/*!*/::from(1); } } }",
        "mod a { enum String { A } fn f() { String::A; let x: String = y; } } fn g() { String/*!*/::new(); }",
        "mod a { use super::b::String; fn f() { String::new(); } } fn g(x: String/*!*/) {}",
        "mod a { pub fn g() { std::string::String/*!*/::new(); } }",
    ],
    ("rust", "std.option.Option.Some"): [
        "fn f() { Some/*!*/(1); Option::None; }",
        "use alder::prelude::*;\nfn f() { Some(1); }",
    ],
    ("php", "Alder.Rail.Line"): [
        "<?php\nuse Alder\\Rail\\Line;\nfunction f(Line/*!*/ $a) { new Line/*!*/(1); \\Alder\\Rail\\Line/*!*/::of(); }",
        "<?php\nuse Alder\\Rail\\{Line as L, Stop};\nnew L/*!*/(); new Line();",
        "<?php\nnamespace Alder\\Rail;\nnew Line/*!*/(); $x->Line();",
        "<?php\nuse Other\\Line;\nnew Line();",
        "<?php\nnamespace Other;\nnew Line(); class A extends \\Alder\\Rail\\Line/*!*/ {}",
    ],
    ("php", "Alder.Rail.fare"): ["<?php\nuse function Alder\\Rail\\fare;\nfare/*!*/(1); $a->fare(1);"],
}


@pytest.mark.parametrize(("language", "name"), FOUND)
def test_a_name_is_found_where_it_means_the_thing(language: str, name: str) -> None:
    for marked in FOUND[language, name]:
        parts = marked.split("/*!*/")
        ends = [sum(len(part) for part in parts[: n + 1]) for n in range(len(parts) - 1)]
        tree = tree_of("".join(parts), language)
        assert [node.end for node in facts_of(tree).places(name)] == ends, marked


# By language: code, what is found and put, and what comes of it.
PUT = [
    ("java", "package a;\n\nimport b.C;\n\nclass A { Line a = new Line(1); C c; }\n",
     "new @<alder.rail.Line>(@{x})", "new @<alder.tram.Tram>(@{x})", None),
    ("java", "package a;\n\nimport alder.rail.Line;\nimport b.C;\n\nclass A { Object a = new Line(1); C c; }\n",
     "new @<alder.rail.Line>(@{x})", "new @<alder.tram.Tram>(@{x})",
     "package a;\n\nimport alder.tram.Tram;\nimport b.C;\n\nclass A { Object a = new Tram(1); C c; }\n"),
    ("java", "package a;\n\nclass A { Object a = old(1); }\n", "old(@{x})", "@<alder.rail.Line>.of(@{x})",
     "package a;\n\nimport alder.rail.Line;\n\nclass A { Object a = Line.of(1); }\n"),
    ("java", "class A { Line q; Object a = old(1); }\n", "old(@{x})", "@<alder.rail.Line>.of(@{x})",
     "class A { Line q; Object a = alder.rail.Line.of(1); }\n"),
    ("java", "class A { Object a = old(1); }\n", "old(@{x})", "@<java.lang.System>.exit(@{x})",
     "class A { Object a = System.exit(1); }\n"),
    ("csharp", "using System;\n\nclass A { object a = Old(1); }\n", "Old(@{x})", "@<Alder.Rail.Line>.Of(@{x})",
     "using Alder.Rail;\nusing System;\n\nclass A { object a = Line.Of(1); }\n"),
    # what is called is a member: its type is brought, and said
    ("csharp", "using System;\n\nclass A { object a = Old(1); }\n", "Old(@{x})", "@<System.Console.Write>(@{x})",
     "using System;\n\nclass A { object a = Console.Write(1); }\n"),
    ("csharp", "using static System.Console;\n\nclass A { object a = Old(1); }\n", "Old(@{x})", "@<System.Console.Write>(@{x})",
     "using static System.Console;\n\nclass A { object a = Write(1); }\n"),
    ("csharp", "using System;\n\nclass A { object a = Old(1); }\n", "Old(@{x})", "@<System.IO.File.Open>(@{x})",
     "using System;\nusing System.IO;\n\nclass A { object a = File.Open(1); }\n"),
    ("csharp", "using System;\n\nclass A { object a = Old(1); }\n", "Old(@{x})", "@<System.Console>.Write(@{x})",
     "using System;\n\nclass A { object a = Console.Write(1); }\n"),
    ("go", 'package a\n\nimport (\n\t"alder/old"\n\t"fmt"\n)\n\nfunc f() { fmt.Print(old.Line(1)) }\n',
     "@<alder/old.Line>(@{x})", "@<alder/rail.Line>(@{x})",
     'package a\n\nimport (\n\t"alder/rail"\n\t"fmt"\n)\n\nfunc f() { fmt.Print(rail.Line(1)) }\n'),
    ("go", "package a\n\nfunc f() { old(1) }\n", "old(@{x})", "@<alder/rail.Line>(@{x})",
     'package a\n\nimport "alder/rail"\n\nfunc f() { rail.Line(1) }\n'),
    ("rust", "use alder::old;\nuse std::fmt;\n\nfn f(a: fmt::Result) { old(1); }\n", "@<alder.old>(@{x})",
     "@<alder.rail.fare>(@{x})", "use alder::rail::fare;\nuse std::fmt;\n\nfn f(a: fmt::Result) { fare(1); }\n"),
    ("php", "<?php\n\nnamespace A;\n\nuse Alder\\Old;\n\nnew Old(1);\n", "new @<Alder.Old>(@{x})",
     "new @<Alder.Rail.Line>(@{x})", "<?php\n\nnamespace A;\n\nuse Alder\\Rail\\Line;\n\nnew Line(1);\n"),
]


@pytest.mark.parametrize(("language", "code", "find", "put", "result"), PUT)
def test_a_template_says_names_and_imports_follow(
    tmp_path: Path, language: str, code: str, find: str, put: str, result: str | None
) -> None:
    path = tmp_path / ("a" + {"java": ".java", "csharp": ".cs", "go": ".go", "rust": ".rs", "php": ".php"}[language])
    path.write_text(code, "utf-8")
    one = Rule("one", summary="one", language=language, find=find, put=put)
    Project(tmp_path).apply([one])
    assert path.read_text("utf-8") == (code if result is None else result)
    assert not Project(tmp_path).survey([one]).findings


def test_a_type_of_the_code_base_goes_before_one_of_a_package_imported_whole(tmp_path: Path) -> None:
    (tmp_path / "A.java").write_text("package a;\nimport alder.rail.*;\nclass A { Line a; }\n")
    pattern = Rule("one", summary="one", language="java", find="@<alder.rail.Line> a;", part="member")
    assert Project(tmp_path).survey([pattern]).findings
    (tmp_path / "B.java").write_text("package a;\nclass B {}\nclass Line {}\n")
    assert not Project(tmp_path).survey([pattern]).findings


def test_a_function_of_another_file_goes_before_one_of_the_language(tmp_path: Path) -> None:
    (tmp_path / "a.go").write_text("package a\n\nfunc f() int { return max(1, 2) }\n")
    pattern = Rule("one", summary="one", language="go", find="@<builtin.max>(@{a*})")
    assert Project(tmp_path).survey([pattern]).findings
    (tmp_path / "b.go").write_text("package a\n\nfunc max(a, b int) int { return a }\n")
    assert not Project(tmp_path).survey([pattern]).findings


def test_a_type_of_the_code_base_goes_before_one_of_the_language(tmp_path: Path) -> None:
    (tmp_path / "A.java").write_text("package a;\nclass A { Record a; }\n")
    pattern = Rule("one", summary="one", language="java", find="@<java.lang.Record> a;", part="member")
    assert Project(tmp_path).survey([pattern]).findings
    (tmp_path / "Record.java").write_text("package a;\nclass Record {}\n")
    assert not Project(tmp_path).survey([pattern]).findings


# By language: code in which `total` is renamed to `sum`, and what comes of it; None if refused.
RENAMED = [
    ("java", "class A { int f(int total) { int k = total; return g(total, this.total, total()) + k; } }",
     "class A { int f(int sum) { int k = sum; return g(sum, this.total, total()) + k; } }"),
    ("java", "class A { void f() { int total = 1; { Runnable r = () -> g(total); } } int total; }",
     "class A { void f() { int sum = 1; { Runnable r = () -> g(sum); } } int total; }"),
    ("java", "class A { int f(int total) { int sum = total; return sum; } }", None),
    ("csharp", "class A { int F() { var total = 1; G(total: total, x => total + x.total); return total; } }",
     "class A { int F() { var sum = 1; G(total: sum, x => sum + x.total); return sum; } }"),
    ("csharp", "class A { int F(int total) { return total; } }", None),
    ("csharp", "class A { object F() { var total = 1; return new { total }; } }", None),
    ("go", "package a\n\nfunc f() {\n\ttotal, x := 1, 2\n\ttotal, y := 2, total\n\tg(total, a.total, x, y)\n\tif total := 3; total > 1 {\n\t}\n}",
     "package a\n\nfunc f() {\n\tsum, x := 1, 2\n\tsum, y := 2, sum\n\tg(sum, a.total, x, y)\n\tif total := 3; total > 1 {\n\t}\n}"),
    ("go", "package a\n\nfunc f(total int) { g(T{total: total}) }", None),
    ("rust", "fn f() { let total = 1; let total = total + 1; g(total); }",
     "fn f() { let sum = 1; let total = sum + 1; g(total); }"),
    ("rust", "fn f(total: i32) -> S { h!(total, a.total); S { total, b: total } }",
     "fn f(sum: i32) -> S { h!(sum, a.total); S { total: sum, b: sum } }"),
    ("rust", "fn f(S { total, .. }: S) { g(total) }", "fn f(S { total: sum, .. }: S) { g(sum) }"),
    ("rust", 'fn f(total: i32) { println!("{total}"); }', None),
    ("php", "<?php\nfunction f() { $total = 1; $g = function ($x) use ($total) { return $x + $total; }; return \"a $total\"; }",
     "<?php\nfunction f() { $sum = 1; $g = function ($x) use ($sum) { return $x + $sum; }; return \"a $sum\"; }"),
    ("php", "<?php\nfunction f() { $total = 1; $g = function () { $total = 2; }; fn($x) => $total; }",
     "<?php\nfunction f() { $sum = 1; $g = function () { $total = 2; }; fn($x) => $sum; }"),
    ("php", "<?php\nfunction f() { $total = 1; return compact('total'); }", None),
    ("php", "<?php\nfunction f($total) { return $total; }", None),
    ("cpp", "int f(int total) { auto g = [total](int x) { return x + total; }; a.total = total; return g(total) + b->total; }",
     "int f(int sum) { auto g = [sum](int x) { return x + sum; }; a.total = sum; return g(sum) + b->total; }"),
    ("cpp", "int f() { int total = 1; { int total = total; } for (int i = total; i < total; ++i) h(total); return total; }",
     "int f() { int sum = 1; { int total = total; } for (int i = sum; i < sum; ++i) h(sum); return sum; }"),
    ("cpp", "#define TWICE (2 * total)\nint f(int total) { return TWICE; }", None),
    ("cpp", "int f(int total) { T x(total); return x; }", None),
    ("c", "int f(int *total) { struct s a = { .total = *total }; return a.total; }",
     "int f(int *sum) { struct s a = { .total = *sum }; return a.total; }"),
    ("ruby", "def f(total)\n  g { |x| total += x }\n  h = { total:, b: total }\n  @total = self.total\n  \"#{total}\"\nend",
     "def f(sum)\n  g { |x| sum += x }\n  h = { total: sum, b: sum }\n  @total = self.total\n  \"#{sum}\"\nend"),
    ("ruby", "total = 1\ndef f\n  total\nend\n[1].each { |total| total }\nputs total",
     "sum = 1\ndef f\n  total\nend\n[1].each { |total| total }\nputs sum"),
    ("ruby", "def f(total:)\n  total\nend", None),
    ("ruby", "def f(total)\n  eval('total')\nend", None),
    ("swift", "func f(total: Int) -> Int { g(total: total, self.total); return total }",
     "func f(total sum: Int) -> Int { g(total: sum, self.total); return sum }"),
    ("swift", "func f(_ total: Int) { let x = total; h { total in total }; print(\"\\(total)\") }",
     "func f(_ sum: Int) { let x = sum; h { total in total }; print(\"\\(sum)\") }"),
    ("swift", "func f(_ total: Int?) { if let total { g(total) } }", None),
    ("pascal", "procedure F;\nvar\n  Total: Integer;\nbegin\n  total := 1;\n  G(TOTAL, A.Total);\nend;\n",
     "procedure F;\nvar\n  sum: Integer;\nbegin\n  sum := 1;\n  G(sum, A.Total);\nend;\n"),
    ("pascal", "procedure F;\nvar\n  Total: Integer;\nbegin\n  with A do Total := 1;\nend;\n", None),
]


@pytest.mark.parametrize(("language", "code", "result"), RENAMED)
def test_a_local_name_gets_another(language: str, code: str, result: str | None) -> None:
    kind, before = tree_of(code, language).root.kind, code.encode()

    @rule("one", summary="one", kinds=(kind,), language=language)
    def one(node, code):
        if code.tree.source.data != before:
            return
        sigil = "$" if code.tree.language.name == "php" else ""
        old, new = sigil + "total", sigil + "sum"
        binding = next(b for b in code.facts.names.bindings if b.name == old and b.scope.kind != "class")
        yield code.finding(node, fixes=[fix("rename").rename(binding, new)])

    done = one.fix(code)
    assert done.code == (code if result is None else result)
    assert bool(done.refused) == (result is None)
