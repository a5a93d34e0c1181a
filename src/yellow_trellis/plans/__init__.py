"""Plans: the fixes of one round composed, the conflicts among them, the proof, the rounds."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.plans.again import Partial, Within
    from yellow_trellis.plans.conflict import Conflict, Party
    from yellow_trellis.plans.containment import contained
    from yellow_trellis.plans.outcome import Outcome, State
    from yellow_trellis.plans.plan import Choose, Plan, make_plan
    from yellow_trellis.plans.rounds import Rework, Round, rework
    from yellow_trellis.plans.trials import Trial

_HOMES = {
    "again": ("Partial", "Within"),
    "containment": ("contained",),
    "trials": ("Trial",),
    "conflict": (
        "Conflict",
        "Party",
    ),
    "outcome": (
        "Outcome",
        "State",
    ),
    "plan": ("Choose", "Plan", "make_plan"),
    "rounds": (
        "Rework",
        "Round",
        "rework",
    ),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Choose",
    "Conflict",
    "Outcome",
    "Partial",
    "Party",
    "Plan",
    "Rework",
    "Round",
    "State",
    "Trial",
    "Within",
    "contained",
    "make_plan",
    "rework",
]
