"""Import order: what importing a module runs, and whether one more import closes a circle.

Only imports that run with their module count: one in a function is done when that is called, which
is how circles are broken by hand. What functions import while modules are imported is not seen.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator

from yellow_trellis.semantics.graph import ModuleGraph, packages_of


def circle_of(graph: ModuleGraph, here: str, module: str) -> str:
    """Return why `module` cannot be imported at the top of the module `here`; empty if it can.

    A circle is not the only reason: where modules import each other, or leave it to others to
    import what they use, the order in which they are loaded must not change.
    """
    around = {here, *packages_of(here)}
    table: dict[str, str | None] = {}
    begun = [item for item in packages_of(module) if item not in around]
    todo: list[tuple[str, str | None]] = [(item, None) for item in (*begun, module)]
    while todo:
        item, by = todo.pop()
        if item == here:
            return f"`{module}` imports this module, {_way(table, by)}: they would wait in a circle"
        if item in table or not graph.holds(item):
            continue
        table[item] = by
        todo += ((load, item) for load in _loads(graph, item))
    return _by_order(graph, table)


def holds_order(graph: ModuleGraph, here: str, module: str) -> bool:
    """Return whether modules may come in another order if `here` does not import `module`.

    What `here` has begun to load by then, itself and the packages around it, is not loaded later.
    """
    return bool(_by_order(graph, _reached(graph, (module,), _loads, (here, *packages_of(here)))))


def order_of(graph: ModuleGraph, here: str, module: str) -> str:
    """Return why `module` cannot be imported by a function of `here`; empty if it can.

    Then `here` is loaded, with all that it imports.
    """
    loaded = surely_loaded_with(graph, (here,))
    return _by_order(graph, loaded_with(graph, (module,)) - loaded)


def _by_order(graph: ModuleGraph, modules: Collection[str]) -> str:
    """Return why `modules` may only be loaded in a certain order; empty for any order."""
    if entry := _closed(graph, modules):
        names = " and ".join(f"`{name}`" for name in sorted(entry)[:2])
        return f"{names} import each other, and which of them comes first may change"
    for module in sorted(modules):
        if lacking := next(lacks(graph, module), ""):
            use = f"`{module}` uses `{lacking}` without importing it"
            return f"{use}, and may come before it is there"
    return ""


def lacks(graph: ModuleGraph, module: str, itself: bool = False) -> Iterator[str]:
    """Yield the modules that `module` reaches as attributes, and leaves to others to import.

    Arguments: `itself` counts what it names in imports at its top only, not what those load.
    """
    summary = graph.summary(module)
    if summary is None:
        return
    loaded = _module_names(module, summary.loads)
    reached = {item for name in summary.reaches for item in beyond(name) if graph.holds(item)}
    missing = sorted(reached - loaded - {module})
    if missing and not itself:
        loaded |= ready_for(graph, module, loaded | {*summary.imports})
    yield from (item for item in missing if item not in loaded)


def beyond(name: str) -> Iterator[str]:
    """Yield what a name that code says leads to, beyond what its import loads: see `Summary`."""
    covered, _, tail = name.partition(":")
    for part in tail.split("."):
        covered = f"{covered}.{part}"
        yield covered


def _module_names(module: str, imports: Iterable[str]) -> set[str]:
    """Return what `imports` of a module name, with all packages around that and around it."""
    results = {*imports, *packages_of(module)}
    return results | {package for item in imports for package in packages_of(item)}


def rests_while_loading(graph: ModuleGraph, here: str, module: str) -> bool:
    """Return whether nothing that two modules import calls any of it while that is imported.

    Then what stands in a function is not run before all of it is there. Words are compared only, so
    that True is certain.
    """
    modules = loaded_with(graph, (here, module))
    summaries = [summary for name in modules if (summary := graph.summary(name)) is not None]
    own: set[str] = set()
    for summary in summaries:
        own.update(*(name.replace(".", " ").split() for name in summary.names))
        own.update(*(entry.members for entry in summary.names.values()))
    return not any(own.intersection(summary.runs) for summary in summaries)


def _loads(graph: ModuleGraph, module: str) -> Iterator[str]:
    """Yield what a module imports as it is imported, or needs to have been imported by then."""
    yield from _imported(graph, module)
    summary = graph.summary(module)
    for name in summary.touches if summary is not None else ():
        wholes = packages_of(name.replace(":", "."))
        yield from (whole for whole in wholes if graph.holds(whole) and whole != module)


def _imported(graph: ModuleGraph, module: str) -> Iterator[str]:
    """Yield what a module imports as it is imported, with the packages around that.

    The packages around the module itself were begun before it.
    """
    summary = graph.summary(module)
    if summary is None:
        return
    begun = {module, *packages_of(module)}
    for name in summary.loads:
        if graph.holds(name) and name != module:
            yield name
        yield from (p for p in packages_of(name) if graph.holds(p) and p not in begun)


def _way(parents: dict[str, str | None], by: str | None) -> str:
    steps = []
    while by is not None:
        steps.append(f"`{by}`")
        by = parents[by]
    return "through " + " and ".join(reversed(steps[:-1])) if len(steps) > 1 else "itself"


def _closed(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    """Return those of `modules` that import each other in a circle."""
    edges = {module: set(_loads(graph, module)) for module in modules}
    # what imports nothing of the rest cannot be in a circle, nor can what nothing imports
    while True:
        ends = {item for item, others in edges.items() if not others & edges.keys()}
        targets = {second for others in edges.values() for second in others}
        ends |= edges.keys() - targets
        if not ends:
            return set(edges)
        for end in ends:
            del edges[end]


def loaded_with(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    """Return the modules of the code base that may be loaded when `modules` are imported."""
    return _reached(graph, modules, _loads)


def surely_loaded_with(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    """Return the modules of the code base that are loaded once imports of `modules` are done."""
    return _reached(graph, modules, _imported)


def ready_for(graph: ModuleGraph, here: str, modules: Iterable[str]) -> set[str]:
    """Return the modules that are surely loaded when `here` has imported `modules`.

    What imports `here` itself may have been begun before, and wait for it: what that loads may
    come later.
    """
    begun = {here, *packages_of(here)}
    result = _reached(graph, modules, _imported, begun)
    edges = {item: {*_imported(graph, item), *packages_of(item)} for item in result}
    waiting = set(begun)
    while extras := {edge for edge in edges if edge not in waiting and edges[edge] & waiting}:
        waiting |= extras
    return _reached(graph, modules, _imported, waiting)


def _reached(
    graph: ModuleGraph,
    modules: Iterable[str],
    step: Callable[[ModuleGraph, str], Iterator[str]],
    without: Collection[str] = (),
) -> set[str]:
    results: set[str] = set()
    todo = list(modules)
    while todo:
        item = todo.pop()
        if item not in results and item not in without and graph.holds(item):
            results.add(item)
            todo += (*step(graph, item), *packages_of(item))
    return results
