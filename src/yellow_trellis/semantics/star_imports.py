"""Star imports of modules, followed from one to the next; they may lead back to each other."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from yellow_trellis.semantics.module_interface import Summary


class StarImports:
    """The star imports of a code base in Python: they bring all that a module offers.

    Where modules import all of each other in a circle, one of them sees another before all of that
    has run. Which one does depends on the module that is loaded first.
    Arguments: `summary` gives what a module offers; None if it is not of the code base.
    """

    def __init__(self, summary: Callable[[str], Summary | None]) -> None:
        self.summary = summary
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

    def is_dark(self, module: str) -> bool:
        """Return whether it is not known what a star import of `module` brings."""
        summary = self.summary(module)
        return summary is None or summary.is_open

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
        return any(self.is_dark(reached) for reached, _ in self._reached([module], name))

    def _reached(
        self, modules: Iterable[str], name: str
    ) -> Iterator[tuple[str, Summary | None]]:
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

    def holders(self, module: str, name: str) -> list[str]:
        """Return the modules behind `module` of which a star import may ever bring `name`."""
        return [star for star in self.behind(module) if self._may_bring(star, name)]

    def may_bring(self, module: str, name: str) -> bool:
        """Return whether star imports of `module` may bring `name`, in any order of loading."""
        summary = self.summary(module)
        if summary is None:
            return True
        if self.is_circular(module):
            behind = self.behind(module)
            return any(map(self.is_dark, behind)) or bool(self.holders(module, name))
        return any(self.brings(s, name) or self.is_hidden(s, name) for s in summary.stars)

    def _may_bring(self, module: str, name: str) -> bool:
        """Return whether it brings `name` that it has itself, now or while it is being loaded."""
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
