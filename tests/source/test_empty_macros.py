"""Macros that stand for nothing are comments to everything that reads code."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from yellow_trellis.editor.document import Document
from yellow_trellis.editor.positions import Position, Range
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.languages import language
from yellow_trellis.source import Source
from yellow_trellis.source.empty_macros import LINKAGE, hidden
from yellow_trellis.syntax import Tree

NAMES = ("ALDER_API", "ALDER_USES()", "ALDER_BEGIN", LINKAGE)
PIECES = [
    "ALDER_API", "ALDER_API2", "xALDER_API", "ALDER_BEGIN\n", 'ALDER_USES("a)", f(1))', "ALDER_USES",
    "ALDER_USES(\n1)", "// ALDER_API\n", "/* ALDER_API */", '"ALDER_API"', "'\"'", "1'000", "\n",
    "\n#define ALDER_API x\n", "\n#ifdef __cplusplus\n", "#if defined(__cplusplus) // x\n",
    'extern "C" {\n', "}\n", "#endif\n", "#endif /* x */\n", "#else\n", "int a;", "(", ")", '"', "'", "/*", "*/", " ", "é",
]
RULES = """
[[rule]]
name = "count-total"
language = "cpp"
summary = "x"
find = "class @{N} final { @{m*} };"
put = "class @{N} { @{m*} };"
[[rule]]
name = "no-ends"
language = "cpp"
summary = "x"
find = "int ends(int a) { @{b*} }"
put = ""
"""


def test_hidden_code_has_the_same_places() -> None:
    chance = random.Random(5)
    for _ in range(3000):
        data = "".join(chance.choices(PIECES, k=chance.randrange(12))).encode()
        code = hidden(data, NAMES)
        assert len(code) == len(data) and code.count(b"\n") == data.count(b"\n")
        assert hidden(code, NAMES) == code, data
        for at, (new, old) in enumerate(zip(code, data, strict=True)):
            assert new == old or chr(new) in "/* ", (data, at)


@pytest.mark.parametrize("data", [b'"ALDER_API"', b"/* ALDER_API */", b"#define ALDER_API x", b"ALDER_API2"])
def test_what_only_says_a_name_stays(data: bytes) -> None:
    assert hidden(data, NAMES) == data


def test_a_fix_keeps_macros_or_is_refused(ytr, tmp_path: Path, home: Path) -> None:
    (tmp_path / "r.toml").write_text(RULES)
    (tmp_path / "a.hpp").write_text("class ALDER_API Tram final {\n  ALDER_API int a();\n};\n")
    (tmp_path / "b.hpp").write_text("ALDER_BEGIN\nint ends(int a) { return a; }\n\nint ALDER_API ends(int a) { return 1; }\n")
    (tmp_path / "trellis.toml").write_text('rules = ["r.toml"]\n')
    told = ytr("survey", where=tmp_path)
    assert 'say `empty-macros = ["ALDER_API"]`' in told.err
    (tmp_path / "trellis.toml").write_text(f'rules = ["r.toml"]\nempty-macros = {list(NAMES[:3])}\n')
    told = ytr("apply", where=tmp_path)
    assert "a.hpp" in told.out and "`ALDER_API`" in told.out, told
    assert (tmp_path / "a.hpp").read_text("utf-8") == "class ALDER_API Tram {\n  ALDER_API int a();\n};\n"
    assert (tmp_path / "b.hpp").read_text("utf-8") == "ALDER_BEGIN\n\nint ALDER_API ends(int a) { return 1; }\n"


def test_an_open_file_hides_what_is_typed() -> None:
    spoken = language("cpp")
    document = Document("a.hpp", spoken, "class ALDER_AP Tram final {};\n", NAMES)
    assert document.tree().broken
    document.change([TextChange(Range(Position(0, 14), Position(0, 14)), "I")], "utf-8")
    fresh = Tree(Source(document.source.data, empty_macros=NAMES), spoken)
    assert not document.tree().broken and str(document.tree().root) == str(fresh.root)


@pytest.mark.parametrize(("start", "end"), [
    ('#ifdef __cplusplus\nextern "C" {\n#endif\n', "#ifdef __cplusplus\n}\n#endif\n"),
    ('#if defined(__cplusplus)\nextern "C"\n{\n#endif // x\n',
     "#if defined __cplusplus\n\n} // extern\n\n#endif /* __cplusplus */\n"),
])  # fmt: rows
@pytest.mark.parametrize("name", ["c", "cpp"])
def test_what_makes_a_header_of_c_one_of_cpp_is_read_past_and_kept(
    ytr, tmp_path: Path, name: str, start: str, end: str
) -> None:
    header = tmp_path / "tram.h"
    first = "class Tram;\n" if name == "cpp" else ""
    header.write_text(f"{first}{start}int ends(int a);\n\nvoid go();\nint fare(int a);\n{end}")
    (tmp_path / "r.toml").write_text(
        f'[[rule]]\nname = "x"\nlanguage = "{name}"\nsummary = "x"\n'
        'find = "int @{f}(int a);"\nput = ""\n'
    )
    told = ytr("apply", "--rules", "r.toml", "tram.h", where=tmp_path)
    assert "cannot read" not in told.err, told
    assert header.read_text("utf-8") == f"{first}{start}\nvoid go();\n{end}"
