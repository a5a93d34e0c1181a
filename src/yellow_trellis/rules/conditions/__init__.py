"""When a match counts: conditions on its holes and on the code around it, nested at will.

A condition is plain data; it makes a check for one language. Checks are run cheapest first: what a
hole took, then where the match stands, then what else is in the code.
"""

from yellow_trellis.rules.conditions.combined import (
    CombinedCondition as CombinedCondition,
    all_of as all_of,
    any_of as any_of,
    none_of as none_of,
)
from yellow_trellis.rules.conditions.condition import (
    Check as Check,
    Condition as Condition,
    DeclaredCondition as DeclaredCondition,
    Predicate as Predicate,
    compiled as compiled,
    contained_patterns as contained_patterns,
    hole_constraints as hole_constraints,
    leaves as leaves,
)
from yellow_trellis.rules.conditions.on_holes import (
    CountCondition as CountCondition,
    HoleCondition as HoleCondition,
    count as count,
    taken as taken,
)
from yellow_trellis.rules.conditions.relations import (
    RelationCondition as RelationCondition,
    after as after,
    before as before,
    directly_within as directly_within,
    first as first,
    holds as holds,
    last as last,
    within as within,
)

KINDS: tuple[type[DeclaredCondition], ...] = (
    CombinedCondition,
    RelationCondition,
    HoleCondition,
    CountCondition,
)
"""All kinds of conditions that can be written in a rule file."""
