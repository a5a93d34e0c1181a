"""Yellow Trellis: syntax-tree rules with fixes that compose, applied across large code bases."""

from yellow_trellis._version import __version__ as __version__
from yellow_trellis.data_frames import DataFrameError as DataFrameError
from yellow_trellis.edits.edit import Edit as Edit, New as New, Order as Order, Slice as Slice
from yellow_trellis.errors import TrellisError as TrellisError
from yellow_trellis.findings.failure import RuleFailure as RuleFailure
from yellow_trellis.findings.finding import Finding as Finding, Level as Level, Unasked as Unasked
from yellow_trellis.fixes.builder import (
    FixBuilder as FixBuilder,
    Reference as Reference,
    fix as fix,
    named as named,
)
from yellow_trellis.fixes.model import Fix as Fix, Safety as Safety
from yellow_trellis.languages.language import Language as Language
from yellow_trellis.languages.registry import (
    MissingLanguageError as MissingLanguageError,
    language as language,
)
from yellow_trellis.notebook_html import Diff as Diff
from yellow_trellis.patterns.compile import compile_pattern as compile_pattern
from yellow_trellis.patterns.match import Match as Match
from yellow_trellis.patterns.notation import Hole as Hole, PatternError as PatternError
from yellow_trellis.patterns.pattern import Pattern as Pattern
from yellow_trellis.plans.code_result import CodeResult as CodeResult
from yellow_trellis.plans.conflict import Conflict as Conflict, ConflictSide as ConflictSide
from yellow_trellis.plans.outcome import Outcome as Outcome, State as State
from yellow_trellis.plans.tree_edits import (
    EditError as EditError,
    apply_edits as apply_edits,
    parse as parse,
)
from yellow_trellis.plans.trial import Trial as Trial
from yellow_trellis.project.codeowners import CodeOwnersError as CodeOwnersError
from yellow_trellis.project.discovery import (
    MissingPathError as MissingPathError,
    SourceFile as SourceFile,
)
from yellow_trellis.project.file_options import FileFilter as FileFilter, SkippedFile as SkippedFile
from yellow_trellis.project.git import RevisionError as RevisionError
from yellow_trellis.rules.conditions import (
    CombinedCondition as CombinedCondition,
    Condition as Condition,
    CountCondition as CountCondition,
    DeclaredCondition as DeclaredCondition,
    HoleCondition as HoleCondition,
    RelationCondition as RelationCondition,
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
from yellow_trellis.rules.definition import Judge as Judge, RuleDefinition as RuleDefinition
from yellow_trellis.rules.draft import Draft as Draft
from yellow_trellis.rules.example import Example as Example, RuleError as RuleError
from yellow_trellis.rules.files.loader import load_rules as load_rules
from yellow_trellis.rules.option import (
    Option as Option,
    OptionError as OptionError,
    Value as Value,
    chosen as chosen,
)
from yellow_trellis.rules.override import Setting as Setting
from yellow_trellis.rules.rule_context import Code as Code, Subject as Subject
from yellow_trellis.rules.ruleset import Ruleset as Ruleset
from yellow_trellis.rules.runnable import (
    Rule as Rule,
    check_code as check_code,
    fix_code as fix_code,
)
from yellow_trellis.runs.file_report import (
    FileReport as FileReport,
    FindingRecord as FindingRecord,
    Run as Run,
)
from yellow_trellis.runs.fix_selection import Answer as Answer, Ask as Ask
from yellow_trellis.runs.project_runs import Project as Project
from yellow_trellis.runs.report_types import (
    Change as Change,
    OutcomeRecord as OutcomeRecord,
    Problem as Problem,
)
from yellow_trellis.runs.rule_source import (
    PatternSpec as PatternSpec,
    RulesLike as RulesLike,
    RulesSpec as RulesSpec,
)
from yellow_trellis.runs.run_options import (
    Limits as Limits,
    Mode as Mode,
    RunOptions as RunOptions,
    SyntaxChecks as SyntaxChecks,
)
from yellow_trellis.runs.runner import run as run
from yellow_trellis.runs.transaction.lock import BusyError as BusyError
from yellow_trellis.runs.transaction.undo import (
    MissingRunError as MissingRunError,
    UndoReport as UndoReport,
    undo as undo,
)
from yellow_trellis.runs.transaction.write import (
    UnfinishedRunError as UnfinishedRunError,
    WriteReport as WriteReport,
    write_changes as write_changes,
)
from yellow_trellis.semantics.imports import Import as Import
from yellow_trellis.semantics.required_import import ImportPlacement as ImportPlacement
from yellow_trellis.semantics.scope import (
    Binding as Binding,
    Occurrence as Occurrence,
    Scope as Scope,
)
from yellow_trellis.semantics.semantic_model import Facts as Facts, UnusedImport as UnusedImport
from yellow_trellis.source.diff import Hunk as Hunk
from yellow_trellis.source.encoding import UnreadableError as UnreadableError
from yellow_trellis.source.source import Source as Source
from yellow_trellis.source.span import Place as Place, Span as Span
from yellow_trellis.syntax.node import Node as Node
from yellow_trellis.syntax.tree import Tree as Tree
