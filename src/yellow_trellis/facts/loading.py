"""What importing a module runs, and whether one more import would close a circle.

Only imports that run with their module count: one in a function is done when that is called, which
is how circles are broken by hand. What functions import while modules are imported is not seen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from yellow_trellis.facts.graph import ModuleGraph


def circle_of(graph: ModuleGraph, here: str, module: str, loaded: Iterable[str] = ()) -> str:
    """Return why `module` cannot be imported at the top of the module `here`; empty if it can.

    Arguments: `loaded` are the modules that `here` imports already.
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
        todo += ((other, one) for other in _loads(graph, one, around - {here}))
    if (known := _closed(graph, found)) and not known <= _all_loaded(graph, loaded):
        names = " and ".join(f"`{name}`" for name in sorted(known)[:2])
        return f"{names} import each other, and which of them comes first may change"
    return ""


def rests_while_loading(graph: ModuleGraph, here: str, module: str) -> bool:
    """Tell whether nothing that `here` or `module` imports calls any of it while that is imported.

    Then what stands in a function is not run before all of it is there. Words are compared only, so
    that True is certain.
    """
    modules = _all_loaded(graph, (here, module))
    summaries = [one for name in modules if (one := graph.summary(name)) is not None]
    own: set[str] = set()
    for one in summaries:
        own.update(*(name.replace(".", " ").split() for name in one.names))
        own.update(*(entry.members for entry in one.names.values()))
    return not any(own.intersection(one.runs) for one in summaries)


def packages_of(module: str) -> Iterator[str]:
    """Yield the packages around a module, the innermost first."""
    while (module := module.rpartition(".")[0]) != "":
        yield module


def _loads(graph: ModuleGraph, module: str, around: set[str]) -> Iterator[str]:
    """Yield what a module imports as it is imported, with the packages around that.

    Packages that are `around` the place are begun already: they count where they are named.
    """
    summary = graph.summary(module)
    for name in summary.loads if summary is not None else ():
        if graph.holds(name):
            yield name
        for package in packages_of(name):
            if graph.holds(package) and package not in around and package != module:
                yield package


def _way(found: dict[str, str | None], by: str | None) -> str:
    steps = []
    while by is not None:
        steps.append(f"`{by}`")
        by = found[by]
    return "through " + " and ".join(reversed(steps[:-1])) if len(steps) > 1 else "itself"


def _closed(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    """Return those of `modules` that import each other in a circle."""
    edges = {
        one: {other for other in _loads(graph, one, {one, *packages_of(one)})} for one in modules
    }
    # what imports nothing of the rest cannot be in a circle, nor can what nothing imports
    while True:
        ends = {one for one, others in edges.items() if not others & edges.keys()}
        targets = {other for others in edges.values() for other in others}
        ends |= edges.keys() - targets
        if not ends:
            return set(edges)
        for one in ends:
            del edges[one]


def _all_loaded(graph: ModuleGraph, modules: Iterable[str]) -> set[str]:
    found: set[str] = set()
    todo = list(modules)
    while todo:
        one = todo.pop()
        if one not in found and graph.holds(one):
            found.add(one)
            todo += _loads(graph, one, set())
    return found
