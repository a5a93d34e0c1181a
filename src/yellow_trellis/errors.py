"""What a user got wrong, told apart from what went wrong inside."""

from __future__ import annotations


class TrellisError(Exception):
    """Something that only the user can put right; the message says where, why and what to do."""
