"""Plans: the fixes of one round composed, the conflicts among them, the proof, the rounds."""

from yellow_trellis.plans.conflict import Conflict, Party
from yellow_trellis.plans.outcome import Outcome, State
from yellow_trellis.plans.plan import Plan, make_plan
from yellow_trellis.plans.rounds import Rework, Round, rework

__all__ = [
    "Conflict",
    "Outcome",
    "Party",
    "Plan",
    "Rework",
    "Round",
    "State",
    "make_plan",
    "rework",
]
