"""Findings: a rule, a place, a message, and the fixes that are offered there."""

from yellow_trellis.findings.failure import RuleFailure, is_contained, reason_of
from yellow_trellis.findings.finding import (
    LEVELS,
    UNASKED,
    Finding,
    LazyFix,
    Level,
    OfferedFix,
    Unasked,
)

__all__ = [
    "LEVELS",
    "UNASKED",
    "Finding",
    "LazyFix",
    "Level",
    "OfferedFix",
    "RuleFailure",
    "Unasked",
    "is_contained",
    "reason_of",
]
