"""Plans: the fixes of one round composed, the conflicts among them, the proof, the rounds."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.plans.code_result import CodeResult
    from yellow_trellis.plans.conflict import Conflict, ConflictSide
    from yellow_trellis.plans.containment import contained
    from yellow_trellis.plans.fixpoint import Rework, Round, rework
    from yellow_trellis.plans.incremental import Partial, Within
    from yellow_trellis.plans.outcome import Outcome, State
    from yellow_trellis.plans.plan import Choose, Plan, make_plan
    from yellow_trellis.plans.proof.validation import prove
    from yellow_trellis.plans.separate import SeparateFix, separate_fixes
    from yellow_trellis.plans.trial import Trial

_HOMES = {
    "code_result": ("CodeResult",),
    "conflict": ("Conflict", "ConflictSide"),
    "containment": ("contained",),
    "fixpoint": ("Rework", "Round", "rework"),
    "incremental": ("Partial", "Within"),
    "outcome": ("Outcome", "State"),
    "plan": ("Choose", "Plan", "make_plan"),
    "proof.validation": ("prove",),
    "separate": ("SeparateFix", "separate_fixes"),
    "trial": ("Trial",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Choose",
    "CodeResult",
    "Conflict",
    "ConflictSide",
    "Outcome",
    "Partial",
    "Plan",
    "Rework",
    "Round",
    "SeparateFix",
    "State",
    "Trial",
    "Within",
    "contained",
    "make_plan",
    "prove",
    "rework",
    "separate_fixes",
]
