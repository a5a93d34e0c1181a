"""The grammar that a package holds, without all that the package is for besides."""

from __future__ import annotations

from importlib import import_module
from importlib.machinery import EXTENSION_SUFFIXES, ExtensionFileLoader, ModuleSpec, PathFinder
from os.path import exists, join


def grammar(package: str, function: str = "language") -> object:
    """Return the grammar of `package`, as the parser library takes it.

    Grammar packages read query files, for editors, with a library that takes longer to import than
    the grammar itself; so its compiled part is loaded alone where it can be told from the rest.
    Arguments: `function` is the one that gives the grammar, where the package has several.
    Errors: `ModuleNotFoundError` if it is not installed.
    """
    spec = PathFinder.find_spec(package)
    for folder in (spec.submodule_search_locations or ()) if spec is not None else ():
        for suffix in EXTENSION_SUFFIXES:
            path = join(folder, f"_binding{suffix}")
            if exists(path):
                name = f"{package}._binding"
                loader = ExtensionFileLoader(name, path)
                module = loader.create_module(ModuleSpec(name, loader, origin=path))
                loader.exec_module(module)
                return getattr(module, function)()
    return getattr(import_module(package), function)()
