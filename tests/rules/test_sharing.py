"""Rulesets that build on others, and packs: what they change, and what is refused."""

import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from yellow_trellis import Rule, RuleError, load_rules
from yellow_trellis.rules import names_of_packs, pack_called

RULE = '[[rule]]\nname = "{}"\nsummary = "s"\nfind = "{}(@{{x}})"\n'
OPTION = "options = { most = { default = 3, least = 1 } }\n"
PYTHON = "from yellow_trellis import Rule\nr = Rule('coded', summary='s', find='f(@{x})')\n"


def write(folder: Path, **files: str) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    for name, text in files.items():
        stem, _, suffix = name.rpartition("_")
        (folder / f"{stem}.{suffix}").write_text(text)


def levels(*paths: object) -> dict[str, str]:
    return {one.name: one.level for one in load_rules(map(str, paths))}


def refused(*paths: object) -> str:
    with pytest.raises(RuleError) as wrong:
        load_rules(map(str, paths))
    return str(wrong.value)


@pytest.fixture
def house(tmp_path: Path) -> Path:
    """A folder with rules `a` and `b`, and a ruleset on top of them."""
    write(
        tmp_path / "house",
        a_toml=RULE.format("a", "f") + OPTION,
        b_toml=RULE.format("b", "g"),
        strict_toml="""
[ruleset]
builds-on = ["a.toml", "b.toml"]
levels = { a = "error" }
options = { a = { most = 5 } }
unasked-of = { b = "nothing" }
"""
        + RULE.format("own", "h"),
    )
    return tmp_path / "house"


def test_a_ruleset_changes_what_it_builds_on_and_says_where(house: Path) -> None:
    rules = {one.name: one for one in load_rules([house / "strict.toml"])}
    assert list(rules) == ["a", "b", "own"]
    assert (rules["a"].level, rules["a"].values["most"], rules["b"].unasked) == (
        "error",
        5,
        "nothing",
    )
    assert rules["a"].governed_by() == f"{house / 'strict.toml'}:4:12"
    assert rules["a"].governed_by("most") == f"{house / 'strict.toml'}:5:19"
    assert rules["b"].governed_by().startswith(f"{house / 'b.toml'}:")


def test_a_folder_stands_for_its_rules_without_rulesets(house: Path) -> None:
    assert levels(house) == {"a": "warning", "b": "warning"}
    for file in (house / "a.toml", house / "b.toml"):
        file.unlink()
    assert "only rulesets, to be named one by one: strict.toml" in refused(house)


def test_rulesets_build_on_rulesets_and_the_last_word_counts(house: Path) -> None:
    more = '[ruleset]\nbuilds-on = ["strict.toml", "a.toml"]\nwithout = ["b"]\n'
    write(house, more_toml=more, less_toml='[ruleset]\nbuilds-on = ["."]\nonly = ["b"]\n')
    assert levels(house / "more.toml") == {"a": "warning", "own": "warning"}
    assert levels(house / "less.toml") == {"b": "warning"}


@pytest.mark.parametrize(
    ("ruleset", "told"),
    [
        ('builds-on = ["x.toml"]', "3:1: the ruleset builds on itself: x.toml -> x.toml"),
        (
            'builds-on = ["y.toml"]',
            "x.toml:3:1: the ruleset builds on itself: x.toml -> y.toml -> x.toml",
        ),
        ('build-on = ["a.toml"]', "3:1: a ruleset has no key `build-on`: did you mean `builds-on`"),
        ('builds-on = ["a.toml"]\nonly = ["aa"]', "4:1: no rule that it builds on is called `aa`"),
        ('builds-on = ["a.toml"]\nlevels = { b = "off" }', "4:12: no rule is called `b`: there"),
        ('builds-on = ["a.toml"]\nlevels = { a = "of" }', "4:12: the level of `a` is one of"),
        (
            'builds-on = ["a.toml"]\n[ruleset.options.a]\nmost = 0',
            "x.toml:5:1: of the rule `a` the option `most` must be at least 1, not 0",
        ),
        (
            'builds-on = ["a.toml"]\n[ruleset.options.a]\nmast = 2',
            "x.toml:5:1: the rule `a` has no option `mast`: did you mean `most`?",
        ),
        ('builds-on = ["c.toml"]', "c.toml: there is no such rule file, folder or pack"),
    ],
)
def test_a_wrong_ruleset_is_told_at_its_place(house: Path, ruleset: str, told: str) -> None:
    write(
        house,
        x_toml=f"\n[ruleset]\n{ruleset}\n",
        y_toml='\n[ruleset]\nbuilds-on = ["x.toml"]\n',
    )
    assert told in refused(house / "x.toml")


def test_a_file_is_the_same_by_whatever_way_it_is_named(house: Path) -> None:
    other = '[ruleset]\nbuilds-on = ["../house/a.toml"]\nlevels = { a = "note" }\n'
    write(house.parent / "depot", mild_toml=other)
    assert levels(house, house.parent / "depot/mild.toml") == {"a": "note", "b": "warning"}


def test_two_rules_of_one_name_are_refused_with_both_places(house: Path) -> None:
    write(house.parent / "other", a_toml="\n" + RULE.format("a", "k"))
    told = refused(house, house.parent / "other")
    assert f"{house.parent / 'other' / 'a.toml'}:2: the rule 'a' has the name of another" in told
    assert f"{house / 'a.toml'}:1; rename one of them, or leave one out by a ruleset" in told


# ---------------------------------------------------------------- packs

Install = Callable[..., None]


@pytest.fixture
def install(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Install:
    """Install packs as packages are: a folder, and metadata with an entry point."""
    site = tmp_path / "site"
    site.mkdir()
    monkeypatch.syspath_prepend(str(site))

    def install(name: str, card: str = "", package: str = "", **files: str) -> None:
        package = package or name.replace("-", "_")
        write(site / package, pack_toml=card, **files)
        info = site / f"{package}-1.0.dist-info"
        info.mkdir()
        (info / "METADATA").write_text(f"Metadata-Version: 2.1\nName: {package}\nVersion: 1.0\n")
        (info / "entry_points.txt").write_text(f"[yellow_trellis.packs]\n{name} = {package}\n")

    return install


def test_a_pack_is_found_without_importing_it(install: Install) -> None:
    bomb = "raise RuntimeError('imported')"
    strict = '[ruleset]\nbuilds-on = ["rules.toml"]\nlevels = { p = "error" }\n'
    install(
        "tram-rules",
        'summary = "Trams."\nneeds = ">=0.1"\n',
        **{"__init___py": bomb, "rules_toml": RULE.format("p", "f"), "strict_toml": strict},
    )
    assert levels("tram-rules") == {"p": "warning"}
    assert levels("tram-rules/strict") == {"p": "error"}
    assert "tram_rules" not in sys.modules
    assert "tram-rules" in names_of_packs()
    pack = pack_called("tram-rules")
    assert pack is not None
    assert (pack.summary, pack.package, pack.code) == ("Trams.", "tram_rules 1.0", False)
    assert "the pack 'tram-rules' has no 'strickt': did you mean `strict`?" in refused(
        "tram-rules/strickt"
    )
    assert "did you mean the pack `tram-rules`?" in refused("tram-rule")


def test_a_pack_of_data_never_runs_code(install: Install, tmp_path: Path) -> None:
    bomb = f"import pathlib\npathlib.Path({str(tmp_path / 'ran')!r}).touch()\n" + PYTHON
    install("data-rules", rules_py=bomb)
    install("code-rules", "code = true\n", coded_py=bomb)
    install("sly-rules", sly_toml=f'[ruleset]\nbuilds-on = ["{tmp_path}/bomb.py"]\n')
    install("kind-rules", kind_toml='[ruleset]\nbuilds-on = ["code-rules"]\n')
    (tmp_path / "bomb.py").write_text(bomb)
    assert "a pack of data never runs code, and this is Python: say `code = true`" in refused(
        "data-rules"
    )
    assert "bomb.py: a pack of data never runs code" in refused("sly-rules/sly")
    told = refused("kind-rules/kind")
    assert "the pack 'kind-rules' is data, and builds on 'code-rules', which runs code" in told
    assert not (tmp_path / "ran").exists()
    assert levels("kind-rules/kind", "code-rules") == {"coded": "warning"}
    assert (tmp_path / "ran").exists()


def test_packs_that_cannot_be_used_have_one_clear_message(install: Install) -> None:
    install("old-rules", 'needs = "<0.1"\n', old_toml=RULE.format("x", "f"))
    install("odd-rules", 'needs = "new"\n', odd_toml=RULE.format("x", "f"))
    install("raising-rules", "code = true\n", raising_py="import no_such_tram\n")
    install("one-rules", one_toml=RULE.format("same", "f"))
    install("two-rules", two_toml=RULE.format("same", "g"))
    install("one-rules", package="others", one_toml=RULE.format("x", "f"))
    assert "pack.toml:1:1: the pack 'old-rules' of old_rules 1.0 needs yellow-trellis <0.1" in (
        refused("old-rules")
    )
    assert "`needs` is no version specifier" in refused("odd-rules")
    assert "raising.py:1: the rule file fails when it is read: ModuleNotFoundError" in refused(
        "raising-rules"
    )
    assert "is offered by one_rules 1.0 and others 1.0: uninstall one" in refused("one-rules")


def test_two_packs_with_the_same_rule(install: Install, tmp_path: Path) -> None:
    install("one-rules", one_toml=RULE.format("same", "f"))
    install("two-rules", two_toml=RULE.format("same", "g") + RULE.format("more", "h"))
    told = refused("one-rules", "two-rules")
    assert "the rule 'same' has the name of another of the pack 'one-rules'" in told
    both = '[ruleset]\nbuilds-on = ["{}", "{}"]\n'
    (tmp_path / "less.toml").write_text('[ruleset]\nbuilds-on = ["two-rules"]\nonly = ["more"]\n')
    (tmp_path / "both.toml").write_text(both.format("one-rules", "less.toml"))
    assert levels(tmp_path / "both.toml") == {"same": "warning", "more": "warning"}


def test_a_path_and_a_pack_of_one_name(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    write(tmp_path / "python-names", a_toml=RULE.format("a", "f"))
    assert "is both a pack" in refused("python-names")
    assert isinstance(load_rules(["./python-names"])[0], Rule)
