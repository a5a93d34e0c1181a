"""The old way to log: the level comes first, as a word."""

import logging

_LOG = logging.getLogger("alder")


def say(level, text, *values):
    """Log `text` with `values` put into it."""
    _LOG.log(getattr(logging, level.upper()), text, *values)
