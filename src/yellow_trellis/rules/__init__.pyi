"""Rules: what to find, when it counts, what to put instead, and the findings they yield."""

from yellow_trellis.rules.conditions import (
    Condition as Condition,
    after as after,
    all_of as all_of,
    any_of as any_of,
    before as before,
    count as count,
    directly_within as directly_within,
    first as first,
    holds as holds,
    last as last,
    none_of as none_of,
    taken as taken,
    within as within,
)
from yellow_trellis.rules.decorator import rule as rule
from yellow_trellis.rules.definition import RuleDefinition as RuleDefinition
from yellow_trellis.rules.example import Example as Example, RuleError as RuleError
from yellow_trellis.rules.files.loader import (
    Loaded as Loaded,
    RuleFileError as RuleFileError,
    load_rules as load_rules,
    loaded as loaded,
)
from yellow_trellis.rules.files.packs import (
    Pack as Pack,
    names_of_packs as names_of_packs,
    pack_called as pack_called,
)
from yellow_trellis.rules.fingerprint import (
    Fingerprint as Fingerprint,
    Fingerprints as Fingerprints,
)
from yellow_trellis.rules.option import (
    Option as Option,
    OptionError as OptionError,
    chosen as chosen,
)
from yellow_trellis.rules.override import (
    Setting as Setting,
    settings_in as settings_in,
    unknown_in as unknown_in,
)
from yellow_trellis.rules.rule_context import Code as Code
from yellow_trellis.rules.ruleset import Ruleset as Ruleset
from yellow_trellis.rules.runnable import (
    Rule as Rule,
    check_code as check_code,
    fix_code as fix_code,
)
from yellow_trellis.rules.suppression_fixes import leave_rule as leave_rule
from yellow_trellis.rules.suppressions import UNNEEDED as UNNEEDED, doubts as doubts
