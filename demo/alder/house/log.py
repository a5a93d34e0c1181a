"""The new way to log: one function a level."""

import logging

_LOG = logging.getLogger("alder")

info = _LOG.info
warning = _LOG.warning
error = _LOG.error
