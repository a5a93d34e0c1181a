"""Random Python: all statements and expressions, laid out as nobody would lay them out."""

from __future__ import annotations

import random
import warnings
from pathlib import Path

_BINARY = ("+", "-", "*", "/", "//", "%", "@", "**", "|", "&", "^", "<<", ">>")
_COMPARED = ("<", ">", "==", "!=", "in", "not in", "is", "is not")


class Writer:
    """Writes random code; every name that it makes up is used once."""

    def __init__(self, rng: random.Random) -> None:
        self.rng = rng
        self.count = 0
        self.comments = 0
        self.unit = rng.choice(["    ", "    ", "  ", "\t"])
        self.noise = rng.choice([0.0, 0.1, 0.3])
        """How likely a comment or line break is where one may stand."""

    def name(self) -> str:
        self.count += 1
        return f"v{self.count}"

    def comment(self) -> str:
        self.comments += 1
        return f"# c{self.comments}"

    # ------------------------------------------------------------------ expressions

    def gap(self, inside: bool) -> str:
        """Space between two tokens; in brackets it may break the line."""
        if self.rng.random() >= self.noise:
            return ""
        if not inside:
            return self.rng.choice([" ", "  ", " \\\n" + " " * self.rng.randrange(8)])
        kind = self.rng.randrange(4)
        if kind == 0:
            return f"  {self.comment()}\n" + " " * self.rng.randrange(12)
        return "\n" + " " * self.rng.randrange(12) if kind < 3 else "  "

    def listed(self, items: list[str], opening: str, closing: str, comma: bool = False) -> str:
        out = opening + self.gap(True)
        for at, item in enumerate(items):
            out += item + self.gap(True)
            if at + 1 < len(items) or comma or (self.rng.random() < 0.2 and items):
                out += "," + (self.gap(True) or " ")
        return out.rstrip(" ") + closing

    def expression(self, depth: int = 3, inside: bool = False) -> str:
        """An expression that can stand anywhere an expression can."""
        kinds = ["name", "number", "string"]
        if depth > 0:
            kinds += [
                *("call", "call", "call", "method", "binary", "bool", "compare", "not", "unary"),
                *("subscript", "slice", "list", "tuple", "dict", "set", "conditional", "lambda"),
                *("attribute", "brackets", "comprehension", "generator", "fstring", "walrus", "f"),
                *("f", "f", "starred", "concatenated"),
            ]
        return getattr(self, "_" + self.rng.choice(kinds))(depth - 1, inside)

    def _name(self, depth: int, inside: bool) -> str:
        return self.name()

    def _number(self, depth: int, inside: bool) -> str:
        return self.rng.choice(["1", "0x1f", "2.5", "1_000", "3j"])

    def _string(self, depth: int, inside: bool) -> str:
        return self.rng.choice(["'a'", '"b c"', "b'x'", "r'\\d'", "'''t\n  u'''", "'#'"])

    def _concatenated(self, depth: int, inside: bool) -> str:
        return "'a'" + (self.gap(inside) or " ") + '"b"'

    def _fstring(self, depth: int, inside: bool) -> str:
        inner = self.rng.choice([self.name(), f"f({self.name()})", f"{self.name()}.m(1)"])
        return self.rng.choice([
            *(f'f"a{{{inner}}}b"', f"f'{{{inner}!r}}'", f'f"{{{inner}=}}"', f"f'''{{{inner}}}\n x'''"),
            *(f'f"{{{self.name()}:{{{inner}}}}}"', f"f'{{{inner}:>{{{self.name()}}}.2}}'"),
        ])

    def arguments(self, depth: int) -> list[str]:
        items = [self.expression(depth, True) for _ in range(self.rng.randrange(3))]
        if self.rng.random() < 0.2:
            items.append("*" + self.name())
        if self.rng.random() < 0.3:
            items.append(f"k{self.name()}={self.expression(depth, True)}")
        if self.rng.random() < 0.1:
            items.append("**" + self.name())
        return items

    def _call(self, depth: int, inside: bool) -> str:
        return self.name() + self.listed(self.arguments(depth), "(", ")")

    def _f(self, depth: int, inside: bool) -> str:
        name = self.rng.choice("fgh")
        if self.rng.random() < 0.15:
            return f"{name}({self.name()} for {self.name()} in {self.name()})"
        if self.rng.random() < 0.6:
            items = [self.expression(depth, True) for _ in range(self.rng.choice([1, 1, 2]))]
            return name + self.listed(items, "(", ")")
        return name + self.listed(self.arguments(depth), "(", ")")

    def primary(self, depth: int, inside: bool) -> str:
        kinds = [self._name, self._call, self._f, self._brackets, self._list, self._attribute]
        return self.rng.choice(kinds)(depth, inside)

    def _method(self, depth: int, inside: bool) -> str:
        return f"{self.primary(depth, inside)}.m" + self.listed(self.arguments(depth), "(", ")")

    def _attribute(self, depth: int, inside: bool) -> str:
        return f"{self.primary(depth, inside) if depth > 0 else self.name()}.{self.name()}"

    def _subscript(self, depth: int, inside: bool) -> str:
        return f"{self.primary(depth, inside)}[{self.gap(True)}{self.expression(depth, True)}]"

    def _slice(self, depth: int, inside: bool) -> str:
        parts = [self.operand(depth, True) for _ in range(2)]
        return f"{self.name()}[{':'.join(parts)}]"

    def operand(self, depth: int, inside: bool) -> str:
        """An expression that holds together, in brackets if need be."""
        kinds = [self._name, self._call, self._f, self._brackets, self._method, self._number]
        return self.rng.choice(kinds)(depth, inside)

    def _brackets(self, depth: int, inside: bool) -> str:
        return f"({self.gap(True)}{self.expression(depth, True)}{self.gap(True)})"

    def _binary(self, depth: int, inside: bool) -> str:
        operator = self.rng.choice(_BINARY)
        ahead, behind = self.gap(inside) or " ", self.gap(inside) or " "
        return f"{self.operand(depth, inside)}{ahead}{operator}{behind}{self.operand(depth, inside)}"

    def _bool(self, depth: int, inside: bool) -> str:
        word = self.rng.choice(["and", "or"])
        parts = [self.operand(depth, inside) for _ in range(self.rng.choice([2, 2, 3]))]
        return f" {word} ".join(parts)

    def _compare(self, depth: int, inside: bool) -> str:
        parts = [self.operand(depth, inside)]
        for _ in range(self.rng.choice([1, 1, 2])):
            parts += [self.rng.choice(_COMPARED), self.operand(depth, inside)]
        return " ".join(parts)

    def _not(self, depth: int, inside: bool) -> str:
        return f"not {self.operand(depth, inside)}"

    def _unary(self, depth: int, inside: bool) -> str:
        return self.rng.choice("-+~") + self.operand(depth, inside)

    def _list(self, depth: int, inside: bool) -> str:
        items = [self.expression(depth, True) for _ in range(self.rng.randrange(4))]
        return self.listed(items, "[", "]")

    def _tuple(self, depth: int, inside: bool) -> str:
        items = [self.expression(depth, True) for _ in range(self.rng.randrange(1, 4))]
        return self.listed(items, "(", ")", comma=len(items) == 1)

    def _starred(self, depth: int, inside: bool) -> str:
        return f"[*{self.name()}, {self.expression(depth, True)}]"

    def _set(self, depth: int, inside: bool) -> str:
        items = [self.operand(depth, True) for _ in range(self.rng.randrange(1, 3))]
        return self.listed(items, "{", "}")

    def _dict(self, depth: int, inside: bool) -> str:
        items = [
            f"{self.operand(depth, True)}: {self.expression(depth, True)}"
            for _ in range(self.rng.randrange(3))
        ]
        return self.listed(items, "{", "}")

    def _conditional(self, depth: int, inside: bool) -> str:
        parts = [self.operand(depth, inside) for _ in range(3)]
        return "({} if {} else {})".format(*parts)

    def _lambda(self, depth: int, inside: bool) -> str:
        head = self.rng.choice(["", " " + self.name(), f" {self.name()}=1, *{self.name()}"])
        return f"(lambda{head}: {self.expression(depth, True)})"

    def _comprehension(self, depth: int, inside: bool) -> str:
        condition = f" if {self.operand(depth, True)}" if self.rng.random() < 0.3 else ""
        opening, closing = self.rng.choice(["[]", "{}"])
        body = self.operand(depth, True)
        return (
            f"{opening}{body} for {self.name()} in {self.operand(depth, True)}{condition}{closing}"
        )

    def _generator(self, depth: int, inside: bool) -> str:
        return f"({self.operand(depth, True)} for {self.name()} in {self.operand(depth, True)})"

    def _walrus(self, depth: int, inside: bool) -> str:
        return f"({self.name()} := {self.expression(depth, True)})"

    # ------------------------------------------------------------------ statements

    def target(self) -> str:
        kinds = ["{}", "{}", "{}.{}", "{}[{}]", "{}, {}", "({}, *{})"]
        form = self.rng.choice(kinds)
        return form.format(*(self.name() for _ in range(form.count("{}"))))

    def simple(self, in_function: bool, in_loop: bool) -> str:
        rng = self.rng
        kinds = [
            *("expression", "expression", "expression", "assign", "assign", "chain", "augmented"),
            *("annotated", "assert", "delete", "raise", "pass", "import", "from", "bare_tuple"),
        ]
        if in_function:
            kinds += ["return", "return", "yield", "global"]
        if in_loop:
            kinds += ["break", "continue"]
        kind = rng.choice(kinds)
        value = self.expression(rng.randrange(1, 4))
        return {
            "expression": value,
            "assign": f"{self.target()}{self.gap(False)} = {self.gap(False)}{value}",
            "chain": f"{self.name()} = {self.name()} = {value}",
            "augmented": f"{self.name()} += {value}",
            "annotated": f"{self.name()}: {self.name()} = {value}",
            "assert": f"assert {value},{self.gap(False)} {self.name()}",
            "delete": f"del {self.name()}[{value}]",
            "raise": f"raise {value}",
            "pass": "pass",
            "import": f"import {self.name()}.{self.name()}",
            "from": f"from {self.name()} import {self.name()}, {self.name()} as {self.name()}",
            "bare_tuple": f"{value}, {self.name()}",
            "return": f"return {self.gap(False)}{value}",
            "yield": f"{self.name()} = yield {value}",
            "global": f"nonlocal_{self.name()}.x = {value}",
            "break": "break",
            "continue": "continue",
        }[kind]

    def header(self, text: str) -> str:
        return text

    def statement(self, depth: int, indent: str, in_function: bool, in_loop: bool) -> str:
        """One statement with its line ending, comments around it included."""
        rng = self.rng
        lead = ""
        while rng.random() < self.noise / 2:
            lead += rng.choice(["\n", f"{indent}{self.comment()}\n", "\x0c\n"])
        if depth <= 0 or rng.random() < 0.55:
            parts = [self.simple(in_function, in_loop)]
            while rng.random() < 0.12:
                parts.append(self.simple(in_function, in_loop))
            tail = ";" if rng.random() < 0.04 else ""
            tail += f"  {self.comment()}" if rng.random() < self.noise else ""
            return f"{lead}{indent}{'; '.join(parts)}{tail}\n"
        return lead + self.compound(depth, indent, in_function, in_loop)

    def behind(self) -> str:
        return f"  {self.comment()}" if self.rng.random() < self.noise else ""

    def body(self, depth: int, indent: str, in_function: bool, in_loop: bool) -> str:
        """What follows the colon of a header, with the line ending."""
        rng = self.rng
        if rng.random() < 0.15:
            parts = [self.simple(in_function, in_loop) for _ in range(rng.choice([1, 1, 2]))]
            return f" {'; '.join(parts)}\n"
        inner = indent + self.unit
        if rng.random() < 0.1:  # a rule may match all of the body
            several = [
                f"{inner}{self.name()} = {self.expression(1)}{self.behind()}\n" for _ in range(2)
            ]
            return "\n" + "".join(several)
        tail = f"  {self.comment()}" if rng.random() < self.noise else ""
        lines = [
            self.statement(depth - 1, inner, in_function, in_loop)
            for _ in range(rng.randrange(1, 4))
        ]
        return f"{tail}\n" + "".join(lines)

    def compound(self, depth: int, indent: str, in_function: bool, in_loop: bool) -> str:
        rng = self.rng
        test = self.expression(2)
        if rng.random() < 0.2:
            test = f"({self.expression(1, True)} and\n{indent}        {self.name()})"
        elif rng.random() < 0.1:
            test = self._tuple(1, False)

        def body(function: bool = in_function, loop: bool = in_loop) -> str:
            return self.body(depth, indent, function, loop)

        kind = rng.randrange(9)
        if kind == 0:
            out = f"{indent}if {test}:{body()}"
            while rng.random() < 0.25:
                out += f"{indent}elif {self.expression(1)}:{body()}"
            return out + (f"{indent}else:{body()}" if rng.random() < 0.4 else "")
        if kind == 1:
            return f"{indent}for {self.name()} in {test}:{body(loop=True)}"
        if kind == 2:
            return f"{indent}while {test}:{body(loop=True)}"
        if kind == 3:
            more = rng.choice(["", f" as {self.name()}", f" as {self.name()}, {self.name()}"])
            return f"{indent}with {self.expression(1)}{more}:{body()}"
        if kind == 4:
            out = f"{indent}try:{body()}"
            if rng.random() < 0.7:
                out += f"{indent}except {self.name()} as {self.name()}:{body()}"
                out += f"{indent}else:{body()}" if rng.random() < 0.2 else ""
                return out + (f"{indent}finally:{body()}" if rng.random() < 0.3 else "")
            return out + f"{indent}finally:{body()}"
        if kind == 5:
            decorators = f"{indent}@{self.name()}\n" if rng.random() < 0.3 else ""
            parameters = rng.choice(
                ["", "self", f"{self.name()}, {self.name()}=1", f"*{self.name()}, **{self.name()}"]
            )
            doc = f'\n{indent}{self.unit}"""Doc\n  text."""' if rng.random() < 0.3 else ""
            inner = self.body(depth, indent, True, False)
            if doc and not inner.lstrip(" ").startswith(("\n", "#")):
                doc = ""
            return f"{decorators}{indent}def {self.name()}({parameters}):{doc}{inner}"
        if kind == 6:
            bases = rng.choice(["", f"({self.name()})"])
            return f"{indent}class {self.name()}{bases}:{self.body(depth, indent, False, False)}"
        if kind == 7:
            case = self.rng.choice([self.name(), "1", f"[{self.name()}, *_]", f"A({self.name()})"])
            inner = self.body(depth, indent + self.unit, in_function, in_loop)
            return f"{indent}match {test}:\n{indent}{self.unit}case {case}:{inner}"
        return f"{indent}async def {self.name()}():{self.body(depth, indent, True, False)}"

    def module(self) -> str:
        rng = self.rng
        out = "".join(self.statement(2, "", False, False) for _ in range(rng.randrange(1, 5)))
        return out.replace("\n", "\r\n") if rng.random() < 0.1 else out


def compiles(text: str | bytes) -> bool:
    """Return whether Python compiles `text`."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            compile(text, "<case>", "exec", dont_inherit=True)
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            return False
    return True


def python_files(folder: Path, every: int) -> list[Path]:
    """Return every `every`th Python file of a folder, in order, without installed packages."""
    files = (p for p in folder.rglob("*.py") if not _INSTALLED & set(p.relative_to(folder).parts))
    return sorted(files)[::every]


_INSTALLED = {"site-packages", "__pycache__"}


def random_code(rng: random.Random) -> str:
    """Return random code that compiles."""
    while True:
        text = Writer(rng).module()
        if compiles(text):
            return text
