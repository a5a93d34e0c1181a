"""What patterns and templates do in each language, as code before and after.

Keys are a language and what is shown; the page docs/languages.md tells of which languages which is
shown. A value is a pattern, its template, code, and what becomes of it.
"""

from __future__ import annotations

from typing import NamedTuple

ASPECTS = {
    "calls": "arguments change places, any number of them is taken along",
    "equal names": "a name twice is the same code twice",
    "statements": "several statements in a row, and any number of them in a body",
    "statement holes": "a hole that is a statement, on a line with other code",
    "bodies": "bodies are indented anew",
    "one statement": "a block comes where several statements take the place of one alone",
    "else if": "a chain of conditions",
    "members": "members of a class, interface or struct",
    "cases": "cases of a choice",
    "imports": "imports as they stand",
    "modifiers": "modifiers, annotations, attributes",
    "types": "type arguments and declared types",
    "spelling": "brackets, comments, last separators, spellings of a number do not count",
    "brackets": "brackets come where the new place asks for them",
    "comments": "comments stay where they are",
}


class Case(NamedTuple):
    """A rule, and what it makes of code."""

    find: str
    put: str
    code: str
    becomes: str
    part: str | None = None


CASES: dict[tuple[str, str], Case] = {}


def case(language: str, aspect: str, *texts: str, part: str | None = None) -> None:
    CASES[language, aspect] = Case(*texts, part=part)


def braces(language: str, before: str, after: str, *, variable: str = "") -> None:
    """Add what is written alike in all languages with braces, in a function's body."""

    def inside(code: str) -> str:
        lines = "\n".join("    " + line if line else line for line in code.splitlines())
        return f"{before}\n{lines}\n{after}\n".replace("$", variable)

    def add(aspect: str, find: str, put: str, code: str, becomes: str) -> None:
        case(language, aspect, find, put, inside(code), inside(becomes))

    add(
        "statement holes",
        "if (ready()) { @{s}; }",
        "while (ready()) { @{s}; }",
        "if (ready()) { go(1); }\nif (ready()) { }",
        "while (ready()) { go(1); }\nif (ready()) { }",
    )
    add(
        "calls",
        "signal(@{track}, @{state}, @{rest*})",
        "set_signal(@{state}, @{track}, @{rest*})",
        "signal($a, stop($b), 1, 2);\nsignal(3, 4);",
        "set_signal(stop($b), $a, 1, 2);\nset_signal(4, 3);",
    )
    add(
        "equal names",
        "join(@{x}, @{x})",
        "twice(@{x})",
        "join(f($a), f( $a ));\njoin($a, $b);",
        "twice(f($a));\njoin($a, $b);",
    )
    add(
        "statements",
        "enter(@{x});\n@{y*}\nleave(@{x});",
        "board(@{x});\n@{y*}",
        "enter($a);\nride(1);\nride(2);\nleave($a);\nenter($b);",
        "board($a);\nride(1);\nride(2);\nenter($b);",
    )
    add(
        "bodies",
        "if (late(@{c})) { @{a*} }",
        "if (is_late(@{c})) {\n    while (ready()) {\n        @{a*}\n    }\n}",
        "if (late($a)) {\n    ring(1);\n    // twice\n    ring(2);\n}",
        "if (is_late($a)) {\n    while (ready()) {\n        ring(1);\n        // twice\n"
        "        ring(2);\n    }\n}",
    )
    add(
        "one statement",
        "ring(@{x});",
        "sound(@{x});\nlog(@{x});",
        "if (late($a))\n    ring(1);\nelse ring(2);",
        "if (late($a)) {\n    sound(1);\n    log(1);\n}\nelse { sound(2);\nlog(2); }",
    )
    add(
        "else if",
        "if (@{a}) { one(@{x}); } else if (@{b}) { two(@{y}); }",
        "if (@{b}) { two(@{y}); } else if (@{a}) { one(@{x}); }",
        "if (late($a)) {\n    one(1);\n} else if (full($a)) {\n    two(2);\n}",
        "if (full($a)) {\n    two(2);\n} else if (late($a)) {\n    one(1);\n}",
    )
    add(
        "spelling",
        "fare(16, @{x})",
        "fare(@{x})",
        "fare(0x10, (($a)));\nfare(17, $a);",
        "fare((($a)));\nfare(17, $a);",
    )
    add("brackets", "add(@{a}, @{b})", "@{a} * @{b}", "f(add(1 + 2, 3), -add(4, 5));",
        "f((1 + 2) * 3, -(4 * 5));")
    add(
        "comments",
        "ride(@{a}, @{b})",
        "travel(@{b}, @{a})",
        "ride($a, // where\n     $b); // when",
        "travel($b,\n     $a  // where\n); // when",
    )


braces("c", "void f(void)\n{", "}")
braces("cpp", "void f()\n{", "}")
braces("csharp", "class Tram\n{\n    void F()\n    {", "    }\n}")
braces("java", "class Tram {\n    void f() {", "    }\n}")
braces("javascript", "function f(a, b) {", "}")
braces("typescript", "function f(a: Tram, b: Tram) {", "}")
braces("tsx", "function f(a: Tram, b: Tram) {", "}")
braces("php", "<?php\nfunction f($a, $b)\n{", "}", variable="$")

# What is written in a way of its own.
case("c", "members", "int @{n};", "long @{n};", "struct s {\n    int a;\n    char b;\n};\n",
     "struct s {\n    long a;\n    char b;\n};\n")
case("c", "cases", "case @{x}: stop();", "case @{x}: halt();",
     "void f(void)\n{\n    switch (a) {\n    case 1: stop();\n    default: stop();\n    }\n}\n",
     "void f(void)\n{\n    switch (a) {\n    case 1: halt();\n    default: stop();\n    }\n}\n")
case("c", "imports", "#include <rail.h>", "#include <tram.h>", "#include <rail.h>\n#include <a.h>\n",
     "#include <tram.h>\n#include <a.h>\n")
case("c", "modifiers", "static int @{n} = @{v};", "static const int @{n} = @{v};",
     "static int a = 1;\nint b = 2;\n", "static const int a = 1;\nint b = 2;\n")
case("c", "types", "struct @{t} *@{p} = malloc(sizeof(struct @{t}));", "struct @{t} *@{p} = make();",
     "void f(void) { struct s *a = malloc(sizeof(struct s)); int *b = malloc(sizeof(int)); }\n",
     "void f(void) { struct s *a = make(); int *b = malloc(sizeof(int)); }\n")
case("cpp", "members", "virtual void @{n}(@{a*});", "void @{n}(@{a*}) override;",
     "class Tram {\n    virtual void ring(int a, int b);\n    void stop();\n};\n",
     "class Tram {\n    void ring(int a, int b) override;\n    void stop();\n};\n", part="member")
case("cpp", "types", "std::vector<@{t}> @{v};", "Row<@{t}> @{v};",
     "void f() { std::vector<std::vector<int>> a; std::list<int> b; }\n",
     "void f() { Row<std::vector<int>> a; std::list<int> b; }\n")
case("cpp", "modifiers", "typedef @{t} @{n};", "using @{n} = @{t};",
     "typedef unsigned int Fare;\nint x;\n", "using Fare = unsigned int;\nint x;\n")
case("csharp", "members", "public @{t} @{n} { get; set; }", "public @{t} @{n} { get; }",
     "class Tram\n{\n    public int Line { get; set; }\n    public int Stop;\n}\n",
     "class Tram\n{\n    public int Line { get; }\n    public int Stop;\n}\n")
case("csharp", "modifiers", "[Obsolete(@{x})] public void @{m}(@{p*}) { @{b*} }",
     "[Old(@{x})] public void @{m}(@{p*}) { @{b*} }",
     'class Tram\n{\n    [Obsolete("x")]\n    public void Ring(int a, int b) { go(a); }\n}\n',
     'class Tram\n{\n    [Old("x")]\n    public void Ring(int a, int b) { go(a); }\n}\n')
case("csharp", "types", "List<@{t}> @{x} = new List<@{t}>();", "var @{x} = new List<@{t}>();",
     "class T { void F() { List<int> a = new List<int>(); List<object> b = new List<int>(); } }\n",
     "class T { void F() { var a = new List<int>(); List<object> b = new List<int>(); } }\n")
case("csharp", "imports", "using @{a}.Rail;", "using @{a}.Tram;", "using Alder.Rail;\nusing B;\n",
     "using Alder.Tram;\nusing B;\n")
case("csharp", "cases", "case @{x}: stop(); break;", "case @{x}: halt(); break;",
     "class T { void F() { switch (a) { case 1: stop(); break; default: break; } } }\n",
     "class T { void F() { switch (a) { case 1: halt(); break; default: break; } } }\n")
case("java", "members", "private @{t} @{n};", "private final @{t} @{n};",
     "class Tram {\n    private int line;\n    int stop;\n}\n",
     "class Tram {\n    private final int line;\n    int stop;\n}\n")
case("java", "modifiers", "@Late(@{x}) void @{m}(@{p*}) { @{b*} }",
     "@Delayed(@{x}) void @{m}(@{p*}) { @{b*} }",
     "class Tram {\n    @Late(3)\n    void ring(int a, int b) { go(a); }\n}\n",
     "class Tram {\n    @Delayed(3)\n    void ring(int a, int b) { go(a); }\n}\n")
case("java", "types", "@{c}<@{t}> @{x} = new @{d}<@{t}>(@{a*});",
     "@{c}<@{t}> @{x} = new @{d}<>(@{a*});",
     "class T { void f() { List<String> a = new ArrayList<String>(3); List<Object> b = new A<B>(); } }\n",
     "class T { void f() { List<String> a = new ArrayList<>(3); List<Object> b = new A<B>(); } }\n")
case("java", "imports", "import alder.rail.@{n};", "import alder.tram.@{n};",
     "import alder.rail.Stop;\nimport b.C;\n", "import alder.tram.Stop;\nimport b.C;\n")
case("java", "cases", "case @{x}: stop();", "case @{x}: halt();",
     "class T { void f() { switch (a) { case 1: stop(); default: stop(); } } }\n",
     "class T { void f() { switch (a) { case 1: halt(); default: stop(); } } }\n", part="case")
case("javascript", "imports", "import { @{n*} } from 'rail';", "import { @{n*} } from 'tram';",
     "import { a, b as c } from \"rail\";\nimport d from 'rail';\n",
     "import { a, b as c } from 'tram';\nimport d from 'rail';\n")
case("javascript", "members", "class @{n} {\n  @{a*}\n  ring() { @{b*} }\n  @{c*}\n}",
     "class @{n} {\n  @{a*}\n  bell() { @{b*} }\n  @{c*}\n}",
     "class Tram {\n  stop() {}\n  ring() {\n    go(1);\n  }\n}\n",
     "class Tram {\n  stop() {}\n  bell() {\n    go(1);\n  }\n}\n")
case("javascript", "modifiers", "<Stop name={@{x}} @{a*} />", "<Halt @{a*} name={@{x}} />",
     "const a = <Stop name={b} late big={c} />;\n", "const a = <Halt late big={c} name={b} />;\n")
case("javascript", "cases", "case @{x}: stop();", "case @{x}: halt();",
     "switch (a) {\n  case 1: stop();\n  default: stop();\n}\n",
     "switch (a) {\n  case 1: halt();\n  default: stop();\n}\n")
case("typescript", "members", "@{n}?: @{t};", "@{n}: @{t} | undefined;",
     "interface Tram {\n  line?: number;\n  stop: string;\n}\n",
     "interface Tram {\n  line: number | undefined;\n  stop: string;\n}\n", part="property")
case("typescript", "types", "Array<@{t}>", "@{t}[]",
     "let a: Array<string>;\nlet b: Map<string, Array<number>>;\n",
     "let a: string[];\nlet b: Map<string, number[]>;\n", part="type")
case("typescript", "modifiers", "private @{n}: @{t};", "private readonly @{n}: @{t};",
     "class Tram {\n  private line: number;\n  stop: string;\n}\n",
     "class Tram {\n  private readonly line: number;\n  stop: string;\n}\n")
case("typescript", "imports", "import type { @{n*} } from 'rail';",
     "import type { @{n*} } from 'tram';",
     "import type { A, B } from 'rail';\nimport { C } from 'rail';\n",
     "import type { A, B } from 'tram';\nimport { C } from 'rail';\n")
case("tsx", "modifiers", "<Stop @{a*}>@{c*}</Stop>", "<Halt @{a*}>@{c*}</Halt>",
     "const a = <Stop big={c}><b/></Stop>;\n", "const a = <Halt big={c}><b/></Halt>;\n")
case("php", "members", "private @{n};", "private readonly @{n};",
     "<?php\nclass Tram\n{\n    private $line;\n    public $stop;\n}\n",
     "<?php\nclass Tram\n{\n    private readonly $line;\n    public $stop;\n}\n")
case("php", "imports", "use Alder\\Rail;", "use Alder\\Tram;",
     "<?php\nuse Alder\\Rail;\nuse B\\C;\n", "<?php\nuse Alder\\Tram;\nuse B\\C;\n")
case("php", "types", "function @{f}(@{p*}): int { @{b*} }", "function @{f}(@{p*}): float { @{b*} }",
     "<?php\nfunction a($b, $c): int { return 1; }\nfunction d() { }\n",
     "<?php\nfunction a($b, $c): float { return 1; }\nfunction d() { }\n")
case("php", "cases", "case @{x}: stop();", "case @{x}: halt();",
     "<?php\nswitch ($a) {\n    case 1: stop();\n    default: stop();\n}\n",
     "<?php\nswitch ($a) {\n    case 1: halt();\n    default: stop();\n}\n")


def lines(language: str, before: str, after: str, put: dict[str, tuple[str, str, str, str]]) -> None:
    """Add cases of a language whose lines or words end statements, in a function's body."""

    def inside(code: str) -> str:
        body = "\n".join("  " + line if line else line for line in code.splitlines())
        return f"{before}\n{body}\n{after}\n"

    for aspect, (find, template, code, becomes) in put.items():
        case(language, aspect, find, template, inside(code), inside(becomes))


CALLS = {
    "calls": (
        "signal(@{track}, @{state}, @{rest*})",
        "set_signal(@{state}, @{track}, @{rest*})",
        "signal(a, stop(b), 1, 2)",
        "set_signal(stop(b), a, 1, 2)",
    ),
    "equal names": ("join(@{x}, @{x})", "twice(@{x})", "both(join(f(a), f( a )), join(a, b))",
                    "both(twice(f(a)), join(a, b))"),
    "spelling": ("fare(16, @{x})", "fare(@{x})", "fare(0x10, ((a)))", "fare(((a)))"),
    "brackets": ("add(@{a}, @{b})", "@{a} * @{b}", "f(add(1 + 2, 3), -add(4, 5))",
                 "f((1 + 2) * 3, -(4 * 5))"),
    "comments": ("ride(@{a}, @{b})", "travel(@{b}, @{a})", "ride(a, b) # when",
                 "travel(b, a) # when"),
}
SLASHED = CALLS | {
    "comments": tuple(text.replace("#", "//") for text in CALLS["comments"]),
}
lines("ruby", "def f(a, b)", "end", CALLS | {
    "statements": ("enter(@{x})\n@{y*}\nleave(@{x})", "board(@{x})\n@{y*}",
                   "enter(a)\nride(1)\nride(2)\nleave(a)", "board(a)\nride(1)\nride(2)"),
    "bodies": ("if late(@{c})\n  @{a+}\nend", "if late?(@{c})\n  loop do\n    @{a+}\n  end\nend",
               "if late(a)\n  ring(1)\n  # twice\n  ring(2)\nend",
               "if late?(a)\n  loop do\n    ring(1)\n    # twice\n    ring(2)\n  end\nend"),
    "else if": ("if @{a}\n  one(@{x})\nelsif @{b}\n  two(@{y})\nend",
                "if @{b}\n  two(@{y})\nelsif @{a}\n  one(@{x})\nend",
                "if late(a)\n  one(1)\nelsif full(a)\n  two(2)\nend",
                "if full(a)\n  two(2)\nelsif late(a)\n  one(1)\nend"),
    "cases": ("case @{x}\nwhen @{y} then stop\nend", "case @{x}\nwhen @{y} then halt\nend",
              "case a\nwhen 1 then stop\nend", "case a\nwhen 1 then halt\nend"),
})
lines("go", "package a\n\nfunc f(a, b int) {", "}", SLASHED | {
    "statements": ("enter(@{x})\n@{y*}\nleave(@{x})", "board(@{x})\n@{y*}",
                   "enter(a)\nride(1)\nride(2)\nleave(a)", "board(a)\nride(1)\nride(2)"),
    "bodies": ("if late(@{c}) { @{a*} }", "if isLate(@{c}) {\n  for ready() {\n    @{a*}\n  }\n}",
               "if late(a) {\n  ring(1)\n  // twice\n  ring(2)\n}",
               "if isLate(a) {\n  for ready() {\n    ring(1)\n    // twice\n    ring(2)\n  }\n}"),
    "else if": ("if @{a} { one(@{x}) } else if @{b} { two(@{y}) }",
                "if @{b} {\n  two(@{y})\n} else if @{a} {\n  one(@{x})\n}",
                "if late(a) {\n  one(1)\n} else if full(a) {\n  two(2)\n}",
                "if full(a) {\n  two(2)\n} else if late(a) {\n  one(1)\n}"),
    "types": ("var @{x} map[@{k}]@{v} = make(map[@{k}]@{v})", "@{x} := make(map[@{k}]@{v})",
              "var m map[string][]int = make(map[string][]int)", "m := make(map[string][]int)"),
})
case("go", "imports", 'import "alder/rail"', 'import "alder/tram"',
     'package a\n\nimport "alder/rail"\nimport "b"\n', 'package a\n\nimport "alder/tram"\nimport "b"\n')
lines("rust", "fn f(a: Tram, b: Tram) {", "}", {
    **{aspect: (find, put, code + ";", becomes + ";")
       for aspect, (find, put, code, becomes) in SLASHED.items() if aspect != "comments"},
    "statements": ("enter(@{x});\n@{y*}\nleave(@{x});", "board(@{x});\n@{y*}",
                   "enter(a);\nride(1);\nride(2);\nleave(a);", "board(a);\nride(1);\nride(2);"),
    "bodies": ("if late(@{c}) { @{a*} }", "if is_late(@{c}) {\n  while ready() {\n    @{a*}\n  }\n}",
               "if late(a) {\n  ring(1);\n  // twice\n  ring(2);\n}",
               "if is_late(a) {\n  while ready() {\n    ring(1);\n    // twice\n    ring(2);\n  }\n}"),
    "cases": ("match @{x} { Some(@{y}) => @{a}, None => @{b} }",
              "match @{x} { None => @{b}, Some(@{y}) => @{a} }",
              "match a { Some(v) => v, None => 1 };", "match a { None => 1, Some(v) => v, };"),
})
case("rust", "imports", "use alder::rail::@{n};", "use alder::tram::@{n};",
     "use alder::rail::Stop;\nuse b::C;\n", "use alder::tram::Stop;\nuse b::C;\n")
case("rust", "types", "Vec<@{t}>", "Row<@{t}>", "fn f(a: Vec<Vec<i32>>) -> Option<i32> { g() }\n",
     "fn f(a: Row<Row<i32>>) -> Option<i32> { g() }\n", part="type")
lines("swift", "func f(a: Tram, b: Tram) {", "}", {
    **SLASHED,
    "spelling": ("fare(16, @{x})", "fare(@{x})", "fare(0x10, a)", "fare(a)"),
    "brackets": ("add(@{a}, @{b})", "@{a} * @{b}", "f(add(1 + 2, 3), [add(4, 5)])",
                 "f((1 + 2) * 3, [4 * 5])"),
    "statements": ("enter(@{x})\n@{y*}\nleave(@{x})", "board(@{x})\n@{y*}",
                   "enter(a)\nride(1)\nride(2)\nleave(a)", "board(a)\nride(1)\nride(2)"),
    "bodies": ("if late(@{c}) { @{a*} }", "if isLate(@{c}) {\n  while ready() {\n    @{a*}\n  }\n}",
               "if late(a) {\n  ring(1)\n  // twice\n  ring(2)\n}",
               "if isLate(a) {\n  while ready() {\n    ring(1)\n    // twice\n    ring(2)\n  }\n}"),
})
lines("pascal", "program p;\nbegin", "end.", {
    **{aspect: (find, put, code + ";", becomes + ";")
       for aspect, (find, put, code, becomes) in SLASHED.items()
       if aspect not in ("spelling", "comments")},
    "spelling": ("fare(16, @{x})", "Fare(@{x})", "FARE(16, ((a)));", "FARE(((a)));"),
    "statements": ("enter(@{x});\n@{y*}\nleave(@{x});", "board(@{x});\n@{y*}",
                   "enter(a);\nride(1);\nride(2);\nleave(a);", "board(a);\nride(1);\nride(2);"),
    "one statement": ("ring(@{x})", "sound(@{x}); log(@{x})", "if late(a) then ring(1);",
                      "if late(a) then begin sound(1); log(1); end"),
})
case("pascal", "imports", "uses @{a*}, rail, @{b*};", "uses @{a*}, tram, @{b*};",
     "unit u;\ninterface\nuses a, Rail, b;\nimplementation\nend.\n",
     "unit u;\ninterface\nuses a, tram, b;\nimplementation\nend.\n")
