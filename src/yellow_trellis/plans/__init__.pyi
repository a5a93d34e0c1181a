"""Plans: the fixes of one round composed, the conflicts among them, the proof, the rounds."""

from yellow_trellis.plans.code_result import CodeResult as CodeResult
from yellow_trellis.plans.conflict import Conflict as Conflict, ConflictSide as ConflictSide
from yellow_trellis.plans.containment import contained as contained
from yellow_trellis.plans.fixpoint import Rework as Rework, Round as Round, rework as rework
from yellow_trellis.plans.incremental import Partial as Partial, Within as Within
from yellow_trellis.plans.outcome import Outcome as Outcome, State as State
from yellow_trellis.plans.plan import Choose as Choose, Plan as Plan, make_plan as make_plan
from yellow_trellis.plans.proof.validation import prove as prove
from yellow_trellis.plans.separate import (
    SeparateFix as SeparateFix,
    separate_fixes as separate_fixes,
)
from yellow_trellis.plans.trial import Trial as Trial
