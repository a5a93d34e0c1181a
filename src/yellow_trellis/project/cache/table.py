"""Values of one type by key, kept from run to run: all that the library keeps is in such tables.

A table may have parts, such as one for each kind of run, of which only those that were written last
are kept. What a row says is sealed together with its place, so that none can stand elsewhere.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Generic, TypeVar

import msgspec

from yellow_trellis.project.cache.sqlite_cache import Store

T = TypeVar("T")


class Table(Generic[T]):
    """The values of one kind in a store.

    Arguments: `kind` names the table; `form` is the type of its values; `part` is the part of it
    that is meant, and `most` the number of parts that are kept, all if None.
    """

    def __init__(
        self, store: Store, kind: str, form: type[T], part: str = "", most: int | None = None
    ) -> None:
        self._store = store
        self._place = kind, part
        self._most = most
        self._decode = msgspec.msgpack.Decoder(form).decode

    def get(self, key: str) -> T | None:
        """Return the value of a key; None if none is kept that can be believed."""
        return self._read(key).get(key)

    def all(self) -> dict[str, T]:
        """Return the values by key; none if any of them cannot be believed."""
        return self._read(None)

    @property
    def exists(self) -> bool:
        """Return whether anything is kept."""
        return self._store.count(*self._place) > 0

    def put(self, values: Mapping[str, T]) -> None:
        """Keep values, each in the place of an earlier one of its key.

        Errors: `UnicodeEncodeError` for text that is no Unicode.
        """
        encode = msgspec.msgpack.encode
        self._store.put(*self._place, {k: encode(v) for k, v in values.items()}, self._most)

    def _read(self, key: str | None) -> dict[str, T]:
        try:
            rows = self._store.rows(*self._place, key)
            return {name: self._decode(body) for name, body in rows}
        except msgspec.MsgspecError:
            self._store.throw_away()
            return {}
