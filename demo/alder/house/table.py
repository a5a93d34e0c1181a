"""Tables on disk, from the time before the database."""

import os

_TABLES = {}


class Table(dict):
    """A dict that still answers to has_key."""

    def has_key(self, key):
        return key in self


def import_table(name):
    """Read a table file into memory. Does nothing if the file is gone."""
    if not os.path.exists(name):
        return
    table = Table()
    with open(name) as lines:
        for line in lines:
            if not "\t" in line:
                continue
            key, value = line.rstrip("\n").split("\t", 1)
            table[key] = value
    _TABLES[name] = table


def lookup(name, key, default=None):
    if not _TABLES.has_key(name):
        return default
    table = _TABLES[name]
    if table.has_key(key) and not table[key] == "":
        return table[key]
    return default
