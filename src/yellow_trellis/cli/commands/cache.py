"""`ytr cache`: what is kept from run to run, shown, filled or cleared."""

from __future__ import annotations

from yellow_trellis.cli.arguments import Takes, flag
from yellow_trellis.cli.console import console, counted, shown_path
from yellow_trellis.cli.options import FOLDER, format_option
from yellow_trellis.cli.output import write
from yellow_trellis.errors import TrellisError
from yellow_trellis.languages import names
from yellow_trellis.project.cache.chunks import in_parts
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.discovery import discover, root_of
from yellow_trellis.reports.json import VERSION, dumped
from yellow_trellis.runs.word_index import WordIndex

_AT_A_TIME = 200
"""Files whose words are held before they are written."""


EXAMPLE = "ytr cache    ytr cache --index    ytr cache --clear alder/"
TAKES: Takes = (
    FOLDER,
    flag("--index", help="Index the words of all files: `seek` then opens few of them."),
    flag("--clear", help="Forget all that is kept; the runs to undo stay."),
    format_option("text", "json"),
)


def command(folder: str, index: bool, clear: bool, form: str) -> None:
    """Show what is kept of the code base of FOLDER (the current one by default).

    What is kept is a help and never the truth: it is compared with the files, and what cannot be
    believed is thrown away. The journal of `ytr undo` is no part of it.
    """
    out = console()
    store = Store(root_of([folder]))
    if fault := store.fault:
        raise TrellisError(fault)
    if clear:
        there = store.path.is_file()
        store.throw_away()
        out.print("Cleared." if there else "Nothing was kept.")
        return
    if index:
        words = WordIndex(store)
        files = words.missing(discover([folder], frozenset(names())))
        count = sum(words.add(part) for part in in_parts(files, _AT_A_TIME))
        done = f"Indexed {counted(len(files), 'file')}, {counted(count, 'word')}."
        out.print(done if files else "The index is up to date.")
        return
    message = _counts(store)
    if form == "json":
        write(dumped({"version": VERSION, **message}))
        return
    if not message["bytes"]:
        out.print(f"Nothing is kept of `{folder}`.")
        return
    for name, label in _WHAT.items():
        out.print(f"  {message[name]:>9,}  {label}")
    out.print(f"{message['bytes'] / 1e6:,.1f} MB in {shown_path(str(store.path))}")


_WHAT = {
    "files": "files whose content is known by size, time and number",
    "runs": "cached combinations of rules, mode and version",
    "reports": "reports of files in these runs",
    "modules": "modules whose names are known",
    "scans": "scans of all files for imports and other names",
    "words": "files in the word index",
}


def _counts(store: Store) -> dict[str, int]:
    results = {name: store.count(name) for name in _WHAT}
    results["runs"] = store.parts("reports")
    results["bytes"] = store.path.stat().st_size if store.path.is_file() else 0
    return results
