"""What importing a module runs, and whether one more import would close a circle.

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
    found: dict[str, str | None] = {}
    begun = [one for one in packages_of(module) if one not in around]
    todo: list[tuple[str, str | None]] = [(one, None) for one in (*begun, module)]
    while todo:
        one, by = todo.pop()
        if one == here:
            return f"`{module}` imports this module, {_way(found, by)}: they would wait in a circle"
        if one in found or not graph.holds(one):
            continue
        found[one] = by
        todo += ((other, one) for other in _loads(graph, one))
    return _by_order(graph, found)


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
    if known := _closed(graph, modules):
        names = " and ".join(f"`{name}`" for name in sorted(known)[:2])
        return f"{names} import each other, and which of them comes first may change"
    for one in sorted(modules):
        if lacking := next(lacks(graph, one), ""):
            return f"`{one}` uses `{lacking}` without importing it, and may come before it is there"
    return ""


def lacks(graph: ModuleGraph, module: str, itself: bool = False) -> Iterator[str]:
    """Yield the modules that `module` reaches as attributes, and leaves to others to import.

    Arguments: `itself` counts what it names in imports at its top only, not what those load.
    """
    summary = graph.summary(module)
    if summary is None:
        return
    loaded = _named(module, summary.loads)
    reached = {one for name in summary.reaches for one in beyond(name) if graph.holds(one)}
    missing = sorted(reached - loaded - {module})
    if missing and not itself:
        loaded |= ready_for(graph, module, loaded | {*summary.imports})
    yield from (one for one in missing if one not in loaded)


def beyond(name: str) -> Iterator[str]:
    """Yield what a name that code says leads to, beyond what its import loads: see `Summary`."""
    covered, _, rest = name.partition(":")
    for part in rest.split("."):
        covered = f"{covered}.{part}"
        yield covered


def _named(module: str, imports: Iterable[str]) -> set[str]:
    """Return what `imports` of a module name, with all packages around that and around it."""
    found = {*imports, *packages_of(module)}
    return found | {package for one in imports for package in packages_of(one)}


def rests_while_loading(graph: ModuleGraph, here: str, module: str) -> bool:
    """Return whether nothing that two modules import calls any of it while that is imported.

    Then what stands in a function is not run before all of it is there. Words are compared only, so
    that True is certain.
    """
    modules = loaded_with(graph, (here, module))
    summaries = [one for name in modules if (one := graph.summary(name)) is not None]
    own: set[str] = set()
    for one in summaries:
        own.update(*(name.replace(".", " ").split() for name in one.names))
        own.update(*(entry.members for entry in one.names.values()))
    return not any(own.intersection(one.runs) for one in summaries)


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


def _way(found: dict[str, str | None], by: str | None) -> str:
    steps = []
    while by is not None:
        steps.append(f"`{by}`")
        by = found[by]
    return "through " + " and ".join(reversed(steps[:-1])) if len(steps) > 1 else "itself"


def _closed(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    """Return those of `modules` that import each other in a circle."""
    edges = {one: set(_loads(graph, one)) for one in modules}
    # what imports nothing of the rest cannot be in a circle, nor can what nothing imports
    while True:
        ends = {one for one, others in edges.items() if not others & edges.keys()}
        targets = {other for others in edges.values() for other in others}
        ends |= edges.keys() - targets
        if not ends:
            return set(edges)
        for one in ends:
            del edges[one]


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
    found = _reached(graph, modules, _imported, begun)
    edges = {one: {*_imported(graph, one), *packages_of(one)} for one in found}
    waiting = set(begun)
    while more := {one for one in edges if one not in waiting and edges[one] & waiting}:
        waiting |= more
    return _reached(graph, modules, _imported, waiting)


def _reached(
    graph: ModuleGraph,
    modules: Iterable[str],
    step: Callable[[ModuleGraph, str], Iterator[str]],
    without: Collection[str] = (),
) -> set[str]:
    found: set[str] = set()
    todo = list(modules)
    while todo:
        one = todo.pop()
        if one not in found and one not in without and graph.holds(one):
            found.add(one)
            todo += (*step(graph, one), *packages_of(one))
    return found
