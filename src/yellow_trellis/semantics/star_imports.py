"""Star imports of modules, followed from one to the next; they may lead back to each other."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from yellow_trellis.semantics.module_interface import Summary


class StarImports:
    """The star imports of a code base in Python: they bring all that a module offers.

    Where modules import all of each other in a circle, one of them sees another before all of that
    has run. Which one does depends on the module that is loaded first.
    Arguments: `summary` gives what a module offers, None if it is not of the code base;
    `is_module` tells whether a dotted name is that of a module: a package has those in it as soon
    as somebody has loaded them.
    """

    def __init__(
        self, summary: Callable[[str], Summary | None], is_module: Callable[[str], bool]
    ) -> None:
        self.summary = summary
        self._is_module = is_module
        self._behind: dict[str, frozenset[str]] = {}

    def behind(self, module: str) -> frozenset[str]:
        """Return the modules that star imports of `module` lead to, through others too."""
        if module not in self._behind:
            todo, visited = [module], set[str]()
            while todo:
                summary = self.summary(todo.pop())
                fresh = set(summary.stars if summary is not None else ()) - visited
                visited |= fresh
                todo += fresh
            self._behind[module] = frozenset(visited)
        return self._behind[module]

    def is_circular(self, module: str) -> bool:
        """Return whether star imports of `module` lead into a circle."""
        modules = (module, *self.behind(module))
        return any(name in self.behind(name) for name in modules)

    def brings(self, module: str, name: str) -> bool:
        """Return whether a star import of `module` brings `name`, through others too."""
        return next(self.exporters([module], name), None) is not None

    def exporters(self, modules: Iterable[str], name: str) -> Iterator[str]:
        """Yield those of `modules` that export `name`; for another one, those behind its stars."""
        for module, summary in self._reached(modules, name):
            if summary is not None and self._exports(summary, name):
                yield module

    def is_hidden(self, module: str, name: str) -> bool:
        """Return whether it is not known if a star import of `module` brings `name`."""
        return any(self._is_dark(reached, name) for reached, _ in self._reached([module], name))

    def _is_dark(self, module: str, name: str) -> bool:
        """Return whether it is not known if `module` has `name`, as a package has its modules."""
        summary = self.summary(module)
        if summary is None or summary.is_open:
            return True
        is_other = self._is_module(f"{module}.{name}") and not self._exports(summary, name)
        return is_other and self._passes_on(summary, name)

    def _reached(self, modules: Iterable[str], name: str) -> Iterator[tuple[str, Summary | None]]:
        """Yield the modules that may give `name` away, each once, with what they offer."""
        todo = list(modules)
        visited = set(todo)
        while todo:
            module = todo.pop()
            summary = self.summary(module)
            yield module, summary
            if summary is None or self._exports(summary, name):
                continue
            if self._passes_on(summary, name):
                todo += (star for star in summary.stars if star not in visited)
                visited.update(summary.stars)

    def holders(self, module: str, name: str) -> list[str] | None:
        """Return the modules behind `module` that may ever give `name`; None if that is unknown."""
        behind = self.behind(module)
        if any(self._is_dark(star, name) for star in behind):
            return None
        return [star for star in behind if self._may_give(star, name)]

    def may_bring(self, module: str, name: str) -> bool:
        """Return whether star imports of `module` may bring `name`, in any order of loading."""
        summary = self.summary(module)
        if summary is None:
            return True
        if self.is_circular(module):
            return self.holders(module, name) != []
        return any(
            self._is_dark(reached, name) or (offered is not None and self._exports(offered, name))
            for reached, offered in self._reached(summary.stars, name)
        )

    def _may_give(self, module: str, name: str) -> bool:
        """Return whether it has `name` itself, and brings it now or while it is being loaded."""
        summary = self.summary(module)
        if summary is None:
            return False
        is_bound = name in summary.names and not name.startswith("_")
        return is_bound or self._exports(summary, name)

    def _exports(self, summary: Summary, name: str) -> bool:
        """Return whether a module has `name` itself, and a star import of it brings that."""
        return summary.exports(name)

    def _passes_on(self, summary: Summary, name: str) -> bool:
        """Return whether it brings `name` where a star import of its own does."""
        return summary.exported is None and not name.startswith("_")
