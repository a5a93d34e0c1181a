"""The pytest plugin: every example of the configured rules is a test of its own.

It is loaded by every run of pytest where the library is installed, so it imports the library only
when it has examples to collect.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pytest

if TYPE_CHECKING:
    from yellow_trellis.authoring.example_runner import Verdict
    from yellow_trellis.rules import Rule


def pytest_addoption(parser: pytest.Parser) -> None:
    """Add the option and the two keys for the file of pytest's settings."""
    group = parser.getgroup("yellow-trellis", "examples of syntax-tree rules")
    group.addoption(
        "--trellis-examples",
        action="store_true",
        help="Run the examples of rules as tests: of those that `trellis_rules` names, or else "
        "of those of the configuration (trellis.toml).",
    )
    parser.addini("trellis_examples", "Run the examples of rules as tests.", "bool", False)
    parser.addini("trellis_rules", "Rule files and folders whose examples are run.", "args", [])


def pytest_configure(config: pytest.Config) -> None:
    """Find out which rule files there are, and have them collected where nothing is named."""
    if not (config.getoption("--trellis-examples") or config.getini("trellis_examples")):
        return
    files = _rule_files(config)
    config.stash[_FILES] = files
    if config.args_source is not pytest.Config.ArgsSource.ARGS:
        beside = [str(f) for f in files if not any(_inside(f, a) for a in config.args)]
        config.args.extend(beside)


_FILES = pytest.StashKey[list[Path]]()


def pytest_collect_file(file_path: Path, parent: pytest.Collector) -> pytest.Collector | None:
    """Collect the examples of a rule file."""
    if file_path.resolve() in parent.config.stash.get(_FILES, ()):
        collector: pytest.Collector = _RuleFile.from_parent(parent, path=file_path)
        return collector
    return None


def _rule_files(config: pytest.Config) -> list[Path]:
    """Return the rule files whose examples are to run. Errors: `pytest.UsageError`."""
    from yellow_trellis.errors import TrellisError
    from yellow_trellis.project.settings import settings_for
    from yellow_trellis.project.trust import WAY_OUT, why_not_trusted
    from yellow_trellis.rules import loaded

    folder = config.rootpath
    try:
        rules: Iterable[str] = config.getini("trellis_rules")
        no_code = ""
        if not rules:
            settings = settings_for(folder)
            rules, folder = settings.rules, settings.folder
            reason = why_not_trusted(settings)
            no_code = reason and (
                f"this is Python, and the configuration names it; {reason}: {WAY_OUT}, or name it "
                "by `trellis_rules`"
            )
        if not rules:
            raise pytest.UsageError(
                "no rules are configured: set `trellis_rules`, or make trellis.toml by `ytr init`"
            )
        here = [str(folder / name) if (folder / name).exists() else name for name in rules]
        return [Path(rule.path).resolve() for rule in loaded(here, no_code).rules]
    except TrellisError as wrong:
        raise pytest.UsageError(str(wrong)) from None


def _inside(file: Path, argument: str) -> bool:
    return file.is_relative_to(Path(argument.partition("::")[0]).resolve())


class _RuleFile(pytest.File):
    """A file with rules."""

    def collect(self) -> Iterator[pytest.Item]:
        """Yield the examples of its rules."""
        from yellow_trellis.rules import load_rules

        for rule in load_rules([self.path]):
            if Path(rule.path).resolve() != self.path.resolve():
                continue  # a ruleset builds on it
            for number, example in enumerate(rule.examples, 1):
                does = "stays" if example.stays else "becomes" if example.becomes else "found"
                name = f"{rule.name}[{number}-{does}]"
                yield _Example.from_parent(self, name=name, rule=rule, number=number)


class _Example(pytest.Item):
    """One example of a rule."""

    def __init__(self, *, rule: Rule, number: int, **value: Any) -> None:
        super().__init__(**value)
        self.rule = rule
        self.number = number
        for tag in rule.tags:
            self.keywords[tag] = True

    def runtest(self) -> None:
        """Run the example."""
        from yellow_trellis.authoring.example_runner import verdict_on

        verdict = verdict_on(self.rule, self.rule.examples[self.number - 1], self.number)
        if not verdict.passed:
            raise _Failed(verdict)

    def repr_failure(self, excinfo: pytest.ExceptionInfo[BaseException], style: Any = None) -> Any:
        """Return what is shown of a failure: what differs, and no traceback."""
        if isinstance(excinfo.value, _Failed):
            return str(excinfo.value)
        return super().repr_failure(excinfo, style)

    def reportinfo(self) -> tuple[Path, int, str]:
        """Return where the rule stands, lines from 0."""
        return self.path, self.rule.line - 1, self.name


class _Failed(Exception):
    """An example that did not go as it says."""

    def __init__(self, verdict: Verdict) -> None:
        from yellow_trellis.testing.authors import report

        super().__init__(report(verdict))
