"""Rules that come with the library; none is on unless it is named."""

from __future__ import annotations

from pathlib import Path

PACKS = {"python-names": Path(__file__).with_name("python_names.py")}
"""By name: the rule file."""
