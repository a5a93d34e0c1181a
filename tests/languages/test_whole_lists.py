"""A hole for several that is all of a list, or of a body, takes it, whatever its items are."""

import re

import pytest

from tests.conftest import tree_of
from yellow_trellis import Rule, compile_pattern
from yellow_trellis.patterns import seek

WHOLE = [  # language, pattern, code in which it matches once
    ('java', 'enum @{N} { @{m*} }', 'enum A { X, Y }'),
    ('java', 'enum @{N} { @{m*} }', 'enum A { X(1), Y(2); int q; }'),
    ('csharp', 'enum @{N} { @{m*} }', 'enum A { X, Y = 2 }'),
    ('c', 'enum @{N} { @{m*} };', 'enum A { X, Y = 2 };'),
    ('cpp', 'enum class @{N} { @{m*} };', 'enum class A { X, Y = 2 };'),
    ('rust', 'enum @{N} { @{m*} }', 'enum A { X, Y(i32), Z { a: u8 } }'),
    ('typescript', 'enum @{N} { @{m*} }', 'enum A { X, Y = 2 }'),
    ('swift', 'enum @{N} { @{m*} }', 'enum A { case x, y }'),
    ('go', 'type @{N} struct { @{f*} }', 'package a\n\ntype A struct {\n\tX int\n\tY, Z string `t`\n\tE\n}\n'),
    ('go', 'type @{N} interface { @{f*} }', 'package a\n\ntype A interface {\n\tX(int)\n\tE\n}\n'),
    ('go', 'import ( @{f*} )', 'package a\n\nimport (\n\t"x"\n\ty "z"\n)\n'),
    ('rust', 'struct @{N} { @{f*} }', 'struct A { a: u8, pub b: C }'),
    ('rust', 'use a::{@{f*}};', 'use a::{b, c as d, e::*};'),
    ('rust', 'match @{x} { @{arms*} }', 'fn f() { match a { 1 => b, _ => c, } }'),
    ('c', 'struct @{N} { @{f*} };', 'struct A { int a; char *b; };'),
    ('cpp', 'class @{N} { @{f*} };', 'class A { int a; public: void f(); };'),
    ('java', 'class @{N} { @{f*} }', 'class A { int a; void f() {} }'),
    ('java', 'interface @{N} { @{f*} }', 'interface A { int a = 1; void f(); }'),
    ('java', 'switch (@{x}) { @{c*} }', 'class A { void f() { switch (a) { case 1: b(); default: c(); } } }'),
    ('csharp', 'class @{N} { @{f*} }', 'class A { int a; void F() {} }'),
    ('csharp', 'interface @{N} { @{f*} }', 'interface A { void F(); }'),
    ('csharp', 'switch (@{x}) { @{c*} }', 'class A { void F() { switch (a) { case 1: b(); break; default: c(); break; } } }'),
    ('csharp', 'new @{T} { @{i*} }', 'class A { void F() { x = new B { C = 1, D = 2 }; } }'),
    ('javascript', 'class @{N} { @{f*} }', 'class A { a = 1; f() {} }'),
    ('javascript', 'switch (@{x}) { @{c*} }', 'switch (a) { case 1: b(); default: c(); }'),
    ('javascript', 'import { @{n*} } from @{m}', "import { a, b as c } from 'm';"),
    ('javascript', 'const { @{n*} } = @{m}', 'const { a, b: c, ...d } = m;'),
    ('javascript', '({ @{n*} })', 'x = { a, b: c, ...d, e() {} };'),
    ('typescript', 'interface @{N} { @{f*} }', 'interface A { a: number; f(): void }'),
    ('typescript', 'class @{N} { @{f*} }', 'class A { a: number = 1; f() {} }'),
    ('typescript', 'type @{N} = { @{f*} }', 'type A = { a: number; f(): void }'),
    ('php', 'class @{N} { @{f*} }', '<?php class A { private $a; function f() {} }'),
    ('php', 'enum @{N} { @{f*} }', '<?php enum A { case X; case Y; }'),
    ('php', 'switch (@{x}) { @{c*} }', '<?php switch ($a) { case 1: b(); default: c(); }'),
    ('php', 'match (@{x}) { @{c*} }', '<?php $y = match ($a) { 1 => b(), default => c() };'),
    ('php', '[@{i*}]', "<?php $x = [1, 'a' => 2, ...$b];"),
    ('swift', 'struct @{N} { @{f*} }', 'struct A { var a: Int; func f() {} }'),
    ('swift', 'switch @{x} { @{c*} }', 'func f() { switch a { case 1: b()\n default: c() } }'),
    ('swift', 'class @{N} { @{f*} }', 'class A { var a: Int = 1; func f() {} }'),
    ('ruby', 'class @{N}\n  @{f*}\nend', 'class A\n  def f\n  end\n  attr_reader :a\nend\n'),
    ('ruby', 'case @{x}\n@{c*}\nend', 'case a\nwhen 1 then b\nwhen 2 then c\nend\n'),
    ('python', 'class @{N}:\n    @{f*}', 'class A:\n    a = 1\n    def f(self): pass\n'),
    ('python', 'match @{x}:\n    @{c*}', 'match a:\n    case 1: b()\n    case _: c()\n'),
    ('python', 'from @{m} import @{n*}', 'from a import b, c as d\n'),
    ('python', 'with @{i*}: @{b*}', 'with a as b, c: pass\n'),
    ('pascal', 'type @{N} = record @{f*} end;', 'type A = record x: Integer; y: string; end;'),
    ('pascal', 'uses @{u*};', 'uses A, B;'),
    ('go', 'switch @{x} { @{c*} }', 'package a\n\nfunc f() {\n\tswitch a {\n\tcase 1:\n\t\tb()\n\tdefault:\n\t\tc()\n\t}\n}\n'),
    ('go', 'map[@{k}]@{v}{@{i*}}', 'package a\n\nvar x = map[string]int{"a": 1, "b": 2}\n'),
    ('cpp', 'namespace @{N} { @{f*} }', 'namespace a { int b; void f(); }'),
    ('cpp', 'switch (@{x}) { @{c*} }', 'void f() { switch (a) { case 1: b(); break; default: c(); } }'),
    ('pascal', 'case @{x} of @{c*} end;', 'program P; begin case a of 1: b; 2: c; end; end.'),
]


@pytest.mark.parametrize(("language", "pattern", "code"), WHOLE)
def test_one_hole_takes_all_of_a_list(language: str, pattern: str, code: str) -> None:
    tree = tree_of(code, language)
    assert not tree.errors
    assert len([*seek(compile_pattern(pattern, tree.language), tree)]) == 1


@pytest.mark.parametrize(("language", "pattern", "code"), [row for row in WHOLE if "@{N}" in row[1]])
def test_what_it_took_stays_as_it_is(language: str, pattern: str, code: str) -> None:
    head = re.search(r"\b(?:class|enum|interface|namespace|struct|type) (?=[Aa]\b)", code).end()
    rule = Rule("r", summary="s", find=pattern, put=pattern.replace("@{N}", "Zone"), language=language)
    done = rule.fix(code)
    assert not done.refused
    assert done.code == code[:head] + "Zone" + code[head + 1 :]
