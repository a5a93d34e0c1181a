"""Forty rules as a company would have them: the ten mixed ones, and thirty more of all kinds."""

from pathlib import Path

from yellow_trellis import Rule, all_of, fix, holds, load_rules, none_of, rule, taken, within

_MIXED = {one.name: one for one in load_rules([Path(__file__).with_name("rules_mixed.py")])}
globals().update({name.replace("-", "_"): one for name, one in _MIXED.items()})

_DECLARED = (
    ("join-path", "os.path.join(@{head}, @{tail*})", "Path(@{head}).joinpath(@{tail*})"),
    ("path-exists", "os.path.exists(@{path})", "Path(@{path}).exists()"),
    ("path-base", "os.path.basename(@{path})", "Path(@{path}).name"),
    ("getcwd", "os.getcwd()", "Path.cwd()"),
    ("utcnow", "datetime.utcnow()", "datetime.now(UTC)"),
    ("sleep", "time.sleep(@{seconds})", "pause(@{seconds})"),
    ("log-warn", "logging.warn(@{rest*})", "logging.warning(@{rest*})"),
    ("equals-true", "@{value} == True", "@{value}"),
    ("equals-false", "@{value} == False", "not @{value}"),
    ("not-none", "@{value} != None", "@{value} is not None"),
    ("not-is", "not @{value} is @{other}", "@{value} is not @{other}"),
    ("list-of-list", "list([@{items*}])", "[@{items*}]"),
    ("dict-keys", "@{key} in @{table}.keys()", "@{key} in @{table}"),
    ("assert-equals", "self.assertEquals(@{one}, @{two})", "self.assertEqual(@{one}, @{two})"),
    ("assert-true-in", "self.assertTrue(@{item} in @{group})", "self.assertIn(@{item}, @{group})"),
    ("assert-is-none", "self.assertEqual(@{value}, None)", "self.assertIsNone(@{value})"),
    ("format-call", "'@{_*}'.format(@{rest*})", None),
    ("super-args", "super(@{cls}, self)", "super()"),
    ("object-base", "class @{name}(object): @{body*}", "class @{name}: @{body*}"),
    ("raise-from", "raise @{error}() from None", "raise @{error} from None"),
    ("return-none", "return None", "return"),
    ("pass-only", "while @{test}: pass", None),
    ("len-range", "for @{at} in range(len(@{group})): @{body*}", None),
    ("open-mode", "open(@{name}, 'r')", "open(@{name})"),
    ("subprocess-shell", "subprocess.call(@{_*}, shell=True)", None),
)
for _name, _find, _put in _DECLARED:
    if _name == "format-call":
        _find = "@{text: string}.format(@{rest*})"
    globals()[_name.replace("-", "_")] = Rule(_name, summary=_name, find=_find, put=_put)

nested_print = Rule(
    "nested-print",
    summary="Functions do not print.",
    find="print(@{_*})",
    where=[within("def @{_}(@{_*}): @{_*}"), none_of(within("class @{_}: @{_*}"))],
)
short_name = Rule(
    "short-name",
    summary="Names say what they are.",
    find="@{name} = @{value}",
    where=[all_of(taken("name", text="[lIO]"), taken("value", kind="integer"))],
)
silent = Rule(
    "silent",
    summary="What fails is told.",
    find="try: @{body*}\nexcept @{error}: pass",
    where=[holds("close()")],
)


@rule("mutable-default", summary="A default is made once.", kinds=["default_parameter"])
def mutable_default(node, code):
    if node.children[-1].kind in ("list", "dictionary"):
        yield code.finding(node)


@rule("global-there", summary="Globals are few.", kinds=["global_statement"])
def global_there(node, code):
    yield code.finding(node, fixes=[fix("Take it out", safety="review").remove(node)])
