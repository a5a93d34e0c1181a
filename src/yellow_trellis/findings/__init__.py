"""Findings: a rule, a place, a message, and the fixes that are offered there."""

from yellow_trellis.findings.failure import (
    RuleFailure as RuleFailure,
    is_contained as is_contained,
    reason_of as reason_of,
)
from yellow_trellis.findings.finding import (
    LEVELS as LEVELS,
    UNASKED as UNASKED,
    Finding as Finding,
    LazyFix as LazyFix,
    Level as Level,
    OfferedFix as OfferedFix,
    Unasked as Unasked,
)
