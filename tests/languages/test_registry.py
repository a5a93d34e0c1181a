"""Languages are found by name and by file, also those of installed packages."""

import importlib.metadata

import pytest
from msgspec.structs import replace

from yellow_trellis import Rule, parse
from yellow_trellis.languages import MissingLanguageError, language, language_of, names, registry

SLATE = replace(language("python"), name="slate", suffixes=(".slate",))
BROKEN = "no language"


@pytest.fixture
def packages(monkeypatch: pytest.MonkeyPatch):
    def offered(*, group: str) -> list[importlib.metadata.EntryPoint]:
        home = "tests.languages.test_registry"
        pairs = {"slate": "SLATE", "broken": "BROKEN", "lost": "lost", "python": "SLATE"}
        return [
            importlib.metadata.EntryPoint(name, f"{home}:{value}", group)
            for name, value in pairs.items()
        ]

    monkeypatch.setattr(importlib.metadata, "entry_points", offered)
    for kept in (registry._installed, registry._installed_suffixes, registry.language):
        kept.cache_clear()
    yield
    for kept in (registry._installed, registry._installed_suffixes, registry.language):
        kept.cache_clear()


def test_a_package_adds_a_language(packages) -> None:
    assert "slate" in names() and language("slate").name == "slate"
    assert language("python").name == "python"  # ours goes first
    rule = Rule("f-to-g", summary="s", find="f(@{x})", put="g(@{x})", language="slate")
    assert rule.fix("f(1)\n").code == "g(1)\n"
    assert parse("f(1)\n", "slate").root.kind == "module"


def test_a_package_that_is_broken_is_told(packages) -> None:
    with pytest.raises(MissingLanguageError, match="'broken' is no `Language`"):
        language("broken")
    with pytest.raises(MissingLanguageError, match="'lost' cannot be loaded"):
        language("lost")
    assert language_of("a.md") is None and language_of("a.slate") == "slate"
    with pytest.raises(MissingLanguageError, match="there are broken, c, .*, lost, .*, slate, "):
        language("cobalt")


def test_files_are_known_by_their_ending(monkeypatch: pytest.MonkeyPatch) -> None:
    assert [language_of(name) for name in ("a.PY", "b.mjs", "c.md", "d")] == [
        "python",
        "javascript",
        None,
        None,
    ]
    with pytest.raises(MissingLanguageError, match="no language is called 'slate'"):
        language("slate")
