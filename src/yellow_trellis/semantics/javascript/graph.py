"""The modules of a code base in JavaScript or TypeScript, and what their names come down to."""

from __future__ import annotations

from yellow_trellis.semantics.graph import ModuleGraph, Referent
from yellow_trellis.semantics.module_interface import Summary
from yellow_trellis.semantics.star_imports import StarImports

WHOLE = "export="
"""The name under which a module keeps what ``module.exports`` or ``export =`` makes of it."""


class StarExports(StarImports):
    """The star exports of modules: they bring all but a default."""

    def _exports(self, summary: Summary, name: str) -> bool:
        return name != "default" and name in (summary.exported or ())

    def _passes_on(self, summary: Summary, name: str) -> bool:
        return name != "default"


class JavaScriptGraph(ModuleGraph):
    """Modules as ECMA-262 links them: what two star exports bring is brought by neither."""

    star_imports = StarExports

    def _of_module(self, module: str, name: str, depth: int) -> Referent | None:
        result = super()._of_module(module, name, depth)
        summary = self.summary(module)
        if result is not None and result.kind == "unknown" and summary is not None:
            if any(self.brings(star, name) for star in summary.stars):
                return None  # more than one of them brings it
        return result

    def _of_stars(self, module: str, name: str, depth: int) -> Referent | None:
        summary = self.summary(module)
        results: dict[str, Referent | None] = {}
        for exporter in self._stars.exporters(summary.stars if summary is not None else (), name):
            result = self._of_module(exporter, name, depth + 1)
            results[result.name if result is not None else ""] = result
        return next(iter(results.values())) if len(results) == 1 else None

    def _start(self, module: str, steps: list[str], depth: int) -> tuple[int, Referent | None]:
        summary = self.summary(module)
        whole = summary.names.get(WHOLE) if summary is not None else None
        if whole is None:
            return super()._start(module, steps, depth)
        symbol = self._entered(f"{module}.{WHOLE}", whole, depth)
        if not steps or steps[0] == "default":
            return len(steps[:1]), symbol
        is_bound = summary is not None and steps[0] in summary.names
        if is_bound:
            return super()._start(module, steps, depth)
        return 1, self._member(symbol, steps[0], depth) if symbol is not None else None
