"""The module graph of a whole code base in Python, worked out in parallel, changed files only."""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from concurrent.futures import Executor, ProcessPoolExecutor
from pathlib import Path

from yellow_trellis.languages import DEFAULT
from yellow_trellis.project.cache.chunks import in_parts
from yellow_trellis.project.project_registry import BaseSpec, code_base
from yellow_trellis.semantics import ModuleGraph, Summary

_BATCH = 50


def module_graph(
    root: str | Path, *, workers: int | None = None, executor: Executor | None = None
) -> ModuleGraph:
    """Return the modules of Python under the folder `root`, every one read.

    Arguments: `workers` is how many processes read, as many as there are processors if left out;
    `executor` does it instead. What is known of unchanged files is kept from run to run.
    """
    spec = BaseSpec(str(Path(root).resolve()), frozenset(), os.urandom(16).hex())
    base = code_base(spec)
    names = sorted(base.modules(DEFAULT).files)
    batches = [tuple(part) for part in in_parts(names, _BATCH)]
    count = workers if workers is not None else os.cpu_count() or 1
    table: dict[str, Summary] = {}
    if executor is not None:
        _gather(executor, spec, batches, table)
    elif count < 2 or len(batches) < 2:
        for batch in batches:
            table.update(_read(spec, batch))
    else:
        with ProcessPoolExecutor(count) as pool:
            _gather(pool, spec, batches, table)
    return ModuleGraph(base.modules(DEFAULT).files, table.get)


def _gather(
    executor: Executor,
    spec: BaseSpec,
    batches: Iterable[tuple[str, ...]],
    table: dict[str, Summary],
) -> None:
    for future in [executor.submit(_read, spec, batch) for batch in batches]:
        table.update(future.result())


def _read(spec: BaseSpec, names: tuple[str, ...]) -> Mapping[str, Summary]:
    """Read some modules; runs in a worker process."""
    base = code_base(spec)
    graph = base.modules(DEFAULT).graph
    results = {name: summary for name in names if (summary := graph.summary(name)) is not None}
    base.keep()
    return results
