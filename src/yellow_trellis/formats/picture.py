"""Pictures, drawn with matplotlib, which is imported when one is asked for."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from yellow_trellis.mistake import Mistake


class NoPicture(Mistake, ValueError):
    """A picture was asked for that cannot be drawn: where, why, and what to do."""


_FORMATS = (".png", ".svg", ".pdf")


def draw_clashes(pairs: Mapping[tuple[str, str], int], path: Path) -> None:
    """Draw rules by rules with the conflicts of each pair, and write the picture to `path`.

    The ending of the path says the format: png, svg or pdf.
    Errors: `NoPicture`; `OSError` for a path that cannot be written.
    """
    if path.suffix not in _FORMATS:
        raise NoPicture(f"{path}: a picture is one of {', '.join(_FORMATS)}")
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
    told = f"{total:,} conflicts\n(on the diagonal: fixes that fail alone)"
    axes.set_title(told if total else "No conflicts")
    most = max((count for row in counts for count in row), default=0)
    for y, row in enumerate(counts):
        for x, count in enumerate(row):
            if count:
                colour = "white" if count > most * 0.6 else "black"
                axes.text(x, y, f"{count:,}", ha="center", va="center", color=colour)
    figure.savefig(path, dpi=130)
    plt.close(figure)


def _pyplot() -> Any:
    try:
        import matplotlib
    except ImportError:
        raise NoPicture(
            "pictures need matplotlib, which is not installed: pip install 'yellow-trellis[plots]'"
        ) from None
    matplotlib.use("Agg")
    from matplotlib import pyplot

    return pyplot
