"""Open files: what is found and fixed in them is what the command line finds and fixes."""

from __future__ import annotations

import os
import random
import sysconfig
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import trust_again
from yellow_trellis.editor.authoring.levels import with_level
from yellow_trellis.editor.document import Document
from yellow_trellis.editor.live.scan import LiveScan
from yellow_trellis.editor.positions import Position, Range, offset_of, position_of
from yellow_trellis.editor.session import Session
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.findings.timing import Watch
from yellow_trellis.languages import language
from yellow_trellis.runs.project_runs import Project
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.source import Source

ROOT = Path(__file__).parents[2]
FILES = 200 if "YTR_SHARE" in os.environ else 30
"""How many files of the standard library are fixed."""

CODE = ("*.py", "*.js", "*.ts", "*.java", "*.cs", "*.rs", "*.cpp", "*.go", "*.rb", "*.php", "*.swift", "*.pas")


@pytest.fixture
def demo(trams: Path, ytr, home: Path) -> Path:
    """Return the demo with a configuration that names all of its rules."""
    (trams / "trellis.toml").write_text(
        'rules = ["rules", "parts/rules"]\npaths = ["alder", "parts"]\n'
        'levels = { say-to-log = "error", one-none = "off", money-type = "off" }\nskip = ["alder/lines/"]\n'
        '[[parts]]\npaths = ["alder/depot/"]\nlevels = { one-none = "note" }\n',
        "utf-8",
    )
    trust_again(trams)
    return trams


def opened(folder: Path, session: Session) -> dict[str, str]:
    """Open all code below a folder; return the texts by path."""
    texts: dict[str, str] = {}
    for path in sorted(file for glob in CODE for file in folder.rglob(glob)):
        raw = path.read_bytes()
        document = Document(str(path), language("python"), "")
        data = document.read(raw) if path.suffix == ".py" else raw
        texts[str(path)] = data.decode("utf-8")
        session.open(str(path), texts[str(path)])
    return texts


def after(text: str, changes: list[TextChange]) -> str:
    """Apply changes as an editor does, all of them to the text before."""
    source = Source(text.encode("utf-8"))
    data, end = b"", 0
    for change in changes:
        assert change.range is not None
        start = offset_of(source, change.range.start, "utf-16")
        assert start >= end, "changes overlap, or are not in order"
        data += source.data[end:start] + change.text.encode("utf-8")
        end = offset_of(source, change.range.end, "utf-16")
    return (data + source.data[end:]).decode("utf-8")


def test_an_editor_shows_and_fixes_what_the_command_line_does(demo: Path, ytr) -> None:
    survey = ytr("survey", "--format", "json").json
    expected = sorted(
        (one["path"], one["rule"], one["level"], one["message"], one["start"]["line"])
        for one in survey["findings"]
    )
    session = Session()
    texts = opened(demo, session)
    shown = []
    for path in texts:
        answer = session.findings(path)
        assert not answer.problems
        name = os.path.relpath(path, demo)
        shown += [(name, f.rule, f.level, f.message, f.range.start.line + 1) for f in answer.findings]
    assert sorted(shown) == expected and len(expected) > 300
    fixed = {path: after(text, session.fix_all(path)) for path, text in texts.items()}
    ytr("apply")
    for path, text in fixed.items():
        document = Document(path, language("python"), text)
        raw = document.raw if path.endswith(".py") else text.encode("utf-8")
        assert raw == Path(path).read_bytes(), path


def test_fixes_of_real_files_are_those_of_the_command_line(tmp_path: Path, home: Path) -> None:
    rules = str(ROOT / "benchmarks/rules_forty.py")
    (tmp_path / "trellis.toml").write_text(f"rules = [{rules!r}]\n", "utf-8")
    (tmp_path / ".git").mkdir()
    library = Path(sysconfig.get_paths()["stdlib"])
    files = sorted(file for file in library.rglob("*.py") if 500 < file.stat().st_size < 40_000)
    session = Session(trusted=True)
    texts: dict[str, str] = {}
    for number, file in enumerate(random.Random(22).sample(files, FILES)):
        try:
            text = file.read_text("utf-8")
        except UnicodeDecodeError:
            continue
        text = "# größe 🚋\n" + text if number % 4 == 1 else text
        text = text.replace("\n", "\r\n") if number % 3 == 1 else text
        path = tmp_path / f"{number}_{file.name}"
        path.write_bytes(text.encode("utf-8"))
        texts[str(path)] = text
        session.open(str(path), text)
    fixed = {path: after(text, session.fix_all(path)) for path, text in texts.items()}
    Project(tmp_path).apply(rules)
    changed = 0
    for path, text in fixed.items():
        assert text.encode("utf-8") == Path(path).read_bytes(), path
        changed += text != texts[path]
    assert changed > FILES // 10


def test_a_fix_of_one_place_and_a_comment_that_leaves_it(demo: Path) -> None:
    path = str(demo / "alder/depot/yard.py")
    text = "# größe 🚋\nx = 'ä🚋', y == None\n" + Path(path).read_text("utf-8")
    session = Session()
    session.open(path, text)
    first, *others = session.findings(path).findings
    assert (first.rule, *first.range.start) == ("one-none", 1, 11)  # a tram counts twice
    assert session.findings_at(path, first.range) == [first] and len(first.fixes) == 1
    changes = session.one_fix(path, "one-none", first.range, 0)
    assert not isinstance(changes, str)
    assert after(text, changes) == text.replace("y == None", "y is None", 1)
    changes = session.leave(path, "one-none", first.range, "line")
    assert not isinstance(changes, str)
    left = after(text, changes)
    assert "y == None  # trellis: leave one-none because (say why)\n" in left
    session.change(path, changes)
    kept = session.findings(path).findings
    assert [(f.rule, f.message) for f in kept] == [(f.rule, f.message) for f in others]


def test_names_follow_what_is_not_saved(demo: Path) -> None:
    session = Session()
    user, used = str(demo / "alder/more.py"), str(demo / "alder/front.py")
    session.open(user, "from alder.front import stamp\nx = stamp(1)\n")
    assert not session.findings(user).findings
    session.open(used, "from alder.house.clock import stamp\n")
    found = session.findings(user).findings
    assert "stamp-to-tick" in {one.rule for one in found}
    session.change(used, [TextChange(None, "def stamp(zone): ...\n")])
    assert not session.findings(user).findings


def test_a_finding_leads_to_the_definition_of_what_it_names(demo: Path) -> None:
    session, path = Session(), str(demo / "alder/more.py")
    session.open(path, "from alder.house.clock import stamp\nx = stamp(1)\n")
    (place,) = [one for one in session.related(path) if one.rule == "stamp-to-tick"]
    defined = Path(place.other.path).read_text("utf-8").splitlines()[place.other.range.start.line]
    assert place.other.path == str(demo / "alder/house/clock.py") and defined.startswith("def stamp(")


def test_rules_that_hang_or_raise_cost_only_themselves(tmp_path: Path, home: Path) -> None:
    (tmp_path / "r.py").write_text(
        "from yellow_trellis import rule, Rule\n"
        "@rule('hangs', summary='s', kinds=['call'])\n"
        "def hangs(node, code):\n    while True: pass\n"
        "@rule('raises', summary='s', kinds=['call'])\n"
        "def raises(node, code):\n    raise ValueError('no tram')\n"
        "plain = Rule('plain', summary='s', find='f(@{x})')\n"
    )
    (tmp_path / "trellis.toml").write_text('rules = ["r.py"]\n')
    trust_again(tmp_path)
    path = str(tmp_path / "a.py")
    session = Session()
    session.open(path, "f(1)\n")
    answer = session.findings(path)
    assert [one.rule for one in answer.findings] == ["plain"]
    assert any("hangs: stopped after 2 s" in told for told in answer.problems)
    assert any("raises: ValueError: no tram" in told for told in answer.problems)
    session.change(path, [TextChange(None, "f(1)\nf(2)\n")])
    assert len(session.findings(path).findings) == 2


def test_a_folder_that_is_not_trusted_gets_rules_that_are_data(tmp_path: Path, monkeypatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "home"))
    (tmp_path / "rules").mkdir()
    (tmp_path / "rules/a.toml").write_text('[[rule]]\nname = "a"\nsummary = "s"\nfind = "f(@{x})"\n')
    (tmp_path / "rules/b.py").write_text(f"import os; os.mkdir({str(tmp_path / 'ran')!r})\n")
    (tmp_path / "trellis.toml").write_text('rules = ["rules"]\n')
    path = str(tmp_path / "a.py")
    session = Session()
    session.open(path, "f(1)\n")
    answer = session.findings(path)
    assert [one.rule for one in answer.findings] == ["a"]
    (problem,) = answer.problems
    assert "b.py: rules in Python are left out: you have not trusted" in problem
    assert not (tmp_path / "ran").exists()
    Session(trusted=True).open(path, "f(1)\n")
    assert (tmp_path / "ran").exists()


def test_mistakes_in_rule_files_are_marked_as_they_are_typed(tmp_path: Path, home: Path) -> None:
    path, session = str(tmp_path / "r.toml"), Session()
    rule = '[[rule]]\nname = "a"\nsummary = "s"\nfind = "f(@{x})"\n'

    def marks(text: str) -> list[tuple[tuple[int, int], str]]:
        session.change(path, [TextChange(None, text)])
        return [(one.range.start, one.message) for one in session.findings(path).findings]

    session.open(path, "")
    assert marks("x = 1\n") == [] and marks(rule) == []
    ((place, told),) = marks(rule.replace("@{x}", "@{x"))
    assert place == (3, 13) and "a hole cannot hold" in told
    ((place, told),) = marks(rule + 'put = "g(@{yes})"\n')
    assert place == (4, 9) and "the hole `yes`, which the pattern does not have" in told
    ((place, told),) = marks(rule + "level = 3\n")
    assert place == (4, 0) and "level" in told
    assert marks(rule + "level = \n")[0][0] == (4, 0)
    ((place, told),) = marks(rule + 'put = "g(@{x})"\n[[rule.examples]]\ncode = "f(1)"\nbecomes = "g(2)"\n')
    assert place == (5, 0) and "example 1 of a fails" in told and "g(1)" in told


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("lan", {"language", "level", "find"}),
        ('level = "', {"error", "warning", "note", "off"}),
        ('language = "', {"python", "rust", "pascal"}),
        ('put = "g(@{', {"zone", "rest"}),
        ('find = "f(@{x: ', {"expression", "string", "binary_expression"}),
        ("[[rule.where]]\n", {"hole", "count", "within", "any_of", "least", "one_of"}),
        ("[[rule.examples]]\n", {"code", "becomes", "stays"}),
        ("[rule.options.most]\n", {"default", "least"}),
    ],
)
def test_rule_files_are_completed(tmp_path: Path, home: Path, typed: str, words: set[str]) -> None:
    path, session = str(tmp_path / "r.toml"), Session()
    other = '[[rule]]\nfind = "@{other}"\n'
    rule = '[[rule]]\nlanguage = "javascript"\nfind = "f(@{zone}, @{rest*})"\n'
    session.open(path, other + rule + typed + "\n" + other)
    line, column = 5 + typed.count("\n"), len(typed.rpartition("\n")[2])
    found = {one.word for one in session.completions(path, Position(line, column))}
    assert words <= found and "other" not in found
    assert ("find" in found) == (typed == "lan")
    session.open(path, "x = 1\n" + typed)
    assert not session.completions(path, Position(1, len(typed)))


def test_a_page_on_hover_and_the_other_end_of_a_conflict(demo: Path) -> None:
    session, path = Session(), str(demo / "alder/fares/kiosk.py")
    session.open(path, Path(path).read_text("utf-8"))
    related = session.related(path)
    assert {one.rule for one in related} >= {"name-the-fare", "fare-by-card"}
    first = related[0]
    shown = session.hover(path, first.range.start)
    assert shown is not None and "trellis: leave" in shown[1] and "becomes" in shown[1]
    assert session.hover(path, Position(0, 0)) is None


@pytest.mark.parametrize(
    ("name", "text", "becomes"),
    [
        ("trellis.toml", "rules = []\n", 'rules = []\n\n[levels]\na = "off"\n'),
        ("trellis.toml", "[levels]\nb = 1\n", '[levels]\na = "off"\nb = 1\n'),
        ("trellis.toml", '[levels]\na = "error"\n', '[levels]\na = "off"\n'),
        ("trellis.toml", "levels = { b = 1 }\n", 'levels = { a = "off", b = 1 }\n'),
        ("trellis.toml", 'levels = { a = "note" }\n', 'levels = { a = "off" }\n'),
        ("pyproject.toml", "[x]", '[x]\n\n[tool.yellow-trellis.levels]\na = "off"\n'),
    ],
)
def test_a_level_is_written_where_the_configuration_has_levels(name, text, becomes) -> None:
    start, end, new = with_level(text, name, "a", "off")
    assert text[:start] + new + text[end:] == becomes


POSITIONS = st.text(alphabet="aä€🚋\r\n\t", max_size=30)


@given(POSITIONS, st.sampled_from(["utf-8", "utf-16", "utf-32"]))
def test_positions_lead_back_to_bytes(text: str, encoding) -> None:
    source = Source(text.encode("utf-8"))
    at = 0
    for char in text:
        if not (char == "\n" and source.data[at - 1 : at] == b"\r"):
            position = position_of(source, at, encoding)
            assert offset_of(source, position, encoding) == at
        at += len(char.encode("utf-8"))
    assert offset_of(source, Position(99, 99), encoding) == len(source.data)


PIECES = (
    *("x == None\n", "(", ")", '"', "'''", "#", "\n", "    ", " ", "e", ":", "\\"),
    *("if not a in b:\n    pass\n", "def f(a=[]):\n    return 1\n", "# trellis: leave one-none\n"),
)


def python_code(rng: random.Random) -> tuple[str, str]:
    """Return rules, and a file of the standard library, most of which are classes."""
    files = sorted(Path(sysconfig.get_paths()["stdlib"]).glob("*.py"))
    start = rng.choice((0, 0, 9_000))
    text = rng.choice(files).read_text("utf-8")[start : start + 12_000]
    return str(ROOT / "benchmarks/rules_forty.py"), text


def classes(name: str) -> tuple[str, str]:
    """Return a pack, and the code that it finds, in classes of a language."""
    pack = f"{name}-upkeep"
    examples = [one.code for rule in RulesSpec((pack,)).ruleset() for one in rule.examples]
    return pack, "\n".join(one for one in examples if "class " in one)


SEEDS = int(os.environ.get("YTR_SHARE", "1"))


@pytest.mark.parametrize(
    ("name", "seed"),
    [
        *(("python", seed) for seed in range(3 * SEEDS)),
        *((name, n) for name in ("java", "csharp", "php", "javascript", "ruby") for n in range(SEEDS)),
    ],
)
def test_findings_after_any_edits_are_those_of_a_fresh_look(name: str, seed: int) -> None:
    rng = random.Random(seed)
    rules, text = python_code(rng) if name == "python" else classes(name)
    ruleset, spoken = RulesSpec((rules,)).ruleset(), language(name)
    document = Document("a", spoken, text)
    live = LiveScan(ruleset, spoken)

    def look(document: Document, live: LiveScan) -> object:
        return live.look(document.tree(None, lambda d: ruleset.token_index(d, name)), Watch())

    for number in range(250 if name == "python" else 100):
        size = len(document.source.data)
        places = sorted(rng.randrange(size + 1) for _ in range(2))
        if places[1] - places[0] > 30:
            places[1] = places[0]
        where = Range(*(position_of(document.source, at, "utf-8") for at in places))
        piece = rng.choice(("", *PIECES)) if rng.random() < 0.7 else rng.choice("abc =(")
        before = document.text
        document.change([TextChange(where, piece)], "utf-8")
        found = look(document, live)
        if number % 5 == 0:
            fresh = look(Document("a", spoken, document.text), LiveScan(ruleset, spoken))
            assert found == fresh
        if document.tree().errors and rng.random() < 0.8:
            document.change([TextChange(None, before)], "utf-8")
