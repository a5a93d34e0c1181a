"""Pictures, drawn with matplotlib, which is imported when one is asked for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from yellow_trellis.errors import TrellisError
from yellow_trellis.reports.history import Totals


class PlotError(TrellisError, ValueError):
    """A picture was asked for that cannot be drawn: where, why, and what to do."""


_FORMATS = (".png", ".svg", ".pdf")


def draw_clashes(pairs: Mapping[tuple[str, str], int], path: Path) -> None:
    """Draw rules by rules with the conflicts of each pair, and write the picture to `path`.

    The ending of the path says the format: png, svg or pdf.
    Errors: `PlotError`; `OSError` for a path that cannot be written.
    """
    _check(path)
    plt = _pyplot()
    rules = sorted({rule for pair in pairs for rule in pair})
    size = max(4.0, 0.45 * len(rules) + 3)
    figure, axes = plt.subplots(figsize=(size + 2, size), layout="constrained")
    counts = [[pairs.get((row, column), 0) for column in rules] for row in rules]
    if rules:
        shown = axes.imshow(counts, cmap="YlOrBr", vmin=0)
        figure.colorbar(shown, ax=axes, shrink=0.7, label="conflicts")
    axes.set_xticks(range(len(rules)), rules, rotation=45, ha="right")
    axes.set_yticks(range(len(rules)), rules)
    axes.set_xlabel("yields")
    axes.set_ylabel("goes first")
    total = sum(pairs.values())
    message = f"{total:,} conflicts\n(on the diagonal: fixes that fail alone)"
    axes.set_title(message if total else "No conflicts")
    limit = max((count for row in counts for count in row), default=0)
    for y, row in enumerate(counts):
        for x, count in enumerate(row):
            if count:
                colour = "white" if count > limit * 0.6 else "black"
                axes.text(x, y, f"{count:,}", ha="center", va="center", color=colour)
    figure.savefig(path, dpi=130)
    plt.close(figure)


_LEVEL_COLOURS = {"error": "#b3261e", "warning": "#d9a400", "note": "#3b6ea5"}
_WORST = 8


def draw_history(surveys: Sequence[Totals], path: Path) -> None:
    """Draw the findings of surveys over time by level, and the folders with the most of the last.

    Arguments: `surveys` are in order, one at least; the ending of `path` says the format.
    Errors: `PlotError`; `OSError` for a path that cannot be written.
    """
    _check(path)
    plt = _pyplot()
    figure, (left, right) = plt.subplots(
        1, 2, figsize=(12, 5.5), layout="constrained", width_ratios=(3, 2)
    )
    times = [survey.time for survey in surveys]
    counts = [survey.by_level() for survey in surveys]
    levels = [level for level in _LEVEL_COLOURS if any(count[level] for count in counts)]
    rows = [[count[level] for count in counts] for level in levels]
    colours = [_LEVEL_COLOURS[level] for level in levels]
    if len(surveys) > 1 and levels:
        left.stackplot(times, rows, labels=levels, colors=colours, alpha=0.85)
        left.plot(times, [survey.count for survey in surveys], "k.", markersize=5)
        locator = _dates().AutoDateLocator(maxticks=7)
        left.xaxis.set_major_locator(locator)
        left.xaxis.set_major_formatter(_dates().ConciseDateFormatter(locator))
    else:
        for level, row, colour in zip(levels, rows, colours, strict=True):
            left.bar(level, row[-1], color=colour, label=level)
    left.set_ylim(0, 1.2 * max(survey.count for survey in surveys) or 1)
    left.set_ylabel("findings")
    left.set_title(f"{surveys[-1].count:,} findings on {surveys[-1].day} UTC")
    if levels:
        left.legend(loc="upper right")
    result = surveys[-1].by_folder()
    lines = surveys[-1].lines
    rates = {f: 1000 * n / lines[f] for f, n in result.items() if lines.get(f)}
    worst = sorted(rates, key=lambda folder: (rates[folder], folder))[-_WORST:]
    bars = right.barh(range(len(worst)), [rates[folder] for folder in worst], color="#d9a400")
    right.set_yticks(range(len(worst)), [_label(folder) for folder in worst])
    right.bar_label(bars, [f"{result[folder]:,}" for folder in worst], padding=3)
    right.margins(x=0.12)
    right.set_xlabel("findings per 1,000 lines; how many at the bar")
    right.set_title("Worst folders")
    for axes in (left, right):
        axes.spines[["top", "right"]].set_visible(False)
    try:
        figure.savefig(path, dpi=110)
    except (ValueError, OverflowError) as wrong:  # such as years that no axis has
        raise PlotError(f"{path}: these surveys cannot be drawn: {wrong}") from None
    plt.close(figure)


def _label(name: str) -> str:
    """Return a name as matplotlib draws it: dollars would make it a formula."""
    return "".join(c if c.isprintable() else "\ufffd" for c in name).replace("$", r"\$")


def _dates() -> Any:
    """Return what draws dates; matplotlib is there already when it is asked for."""
    from matplotlib import dates

    return dates


def _check(path: Path) -> None:
    if path.suffix not in _FORMATS:
        raise PlotError(f"{path}: a picture is one of {', '.join(_FORMATS)}")


def _pyplot() -> Any:
    try:
        import matplotlib
    except ImportError:
        raise PlotError(
            "pictures need matplotlib, which is not installed: pip install 'yellow-trellis[plots]'"
        ) from None
    matplotlib.use("Agg")
    from matplotlib import pyplot

    return pyplot
