"""A trace of decisions for those who debug: off unless the variable ``YTR_TRACE`` names topics.

`YTR_TRACE=scan,plan ytr survey ...` writes to standard error why a span is parsed, a rule is no
candidate, or a fix is refused. A topic that is off costs one comparison.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import cache

from yellow_trellis.errors import TrellisError

TOPICS = {
    "scan": "which bytes of a file are parsed, and why",
    "rules": "which rules the words of a file leave as candidates",
    "plan": "what became of fixes that were not applied, and why",
}


@cache
def tracer(topic: str) -> Callable[[str], None] | None:
    """Return what takes a line about `topic`; None where that is not traced."""
    if topic not in os.environ.get("YTR_TRACE", "").split(","):
        return None
    import logging  # only for those who trace

    logger = logging.getLogger(f"yellow_trellis.{topic}")
    handler = logging.StreamHandler()
    handler.setFormatter(logging.Formatter(f"{topic}: %(message)s"))
    logger.addHandler(handler)
    logger.setLevel(logging.DEBUG)
    logger.propagate = False
    return logger.debug


def refuse_unknown_topics() -> None:
    """Refuse a name in ``YTR_TRACE`` that is no topic. Errors: `TrellisError`."""
    for topic in filter(None, os.environ.get("YTR_TRACE", "").split(",")):
        if topic not in TOPICS:
            raise TrellisError(
                f"YTR_TRACE: there is no topic {topic!r}; there are {', '.join(TOPICS)}"
            )
