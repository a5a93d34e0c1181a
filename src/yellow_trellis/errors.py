"""The base class of user errors, as opposed to faults of the library."""

from __future__ import annotations


class TrellisError(Exception):
    """Something that only the user can put right; the message says where, why and what to do."""
