"""Code that fixes write at random places of Ruby and PHP gives what it gives with all its brackets.

The interpreters run both. Places and code stand on several lines too, where line ends matter.
YTR_CASES=10000 is the long run.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
from random import Random

import pytest

from yellow_trellis import Rule, Ruleset, parse
from yellow_trellis.plans.plan import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = int(os.environ.get("YTR_CASES", "300"))
_RUBY = """
require 'json'
def tell(*a) a.empty? ? 7 : a.sum { |one| one.is_a?(Integer) ? one : 1 } end
def given(text)
  late = nil; x = 5; trams = [4, 9]
  eval(text, binding)
end
def told(text)
  begin
    given(text).inspect.gsub(/#<Proc.*?>/, 'p')
  rescue SyntaxError
    'no program'
  rescue StandardError, LocalJumpError => wrong
    wrong.class.name
  end
end
$stderr.reopen(File::NULL)
puts JSON.dump(JSON.parse(STDIN.read).map { |pair| pair.map { |one| told(one) } })
"""
_PHP = """
function tell(...$a) { return $a ? array_sum(array_map(fn($o) => is_int($o) ? $o : 1, $a)) : 7; }
function told($text) {
  $late = null; $x = 5; $trams = [4, 9];
  try { return var_export(eval($text), true); }
  catch (ParseError | CompileError $wrong) { return 'no program'; }
  catch (Throwable $wrong) { return get_class($wrong); }
}
set_error_handler(fn() => true);
echo json_encode(array_map(
  fn($pair) => array_map('told', $pair), json_decode(file_get_contents('php://stdin'))
));
"""
_PLACES = {
    "ruby": (
        *("HOLE", "x = HOLE\nx", "-HOLE", "!HOLE", "not HOLE", "HOLE ** 2", "2 ** HOLE", "HOLE + 1"),
        *("1 -\n HOLE", "HOLE - 1 - 2", "1 - HOLE", "HOLE ? 1 : 2", "late || HOLE", "HOLE && 3"),
        *("[HOLE, 2]", "[*HOLE]", "trams[HOLE]", "{q: HOLE}", '"#{HOLE}"', "tell HOLE", "tell(HOLE)"),
        *("HOLE.to_s", "HOLE\n  .to_s", "3 if HOLE", "x += HOLE\nx", "case HOLE\nwhen 1 then 2\nend"),
        *("if HOLE\n  1\nelse\n  2\nend", "return HOLE", "tell(1,\n  HOLE)", "x = late ||\n  HOLE\nx"),
        *("HOLE == 3", "HOLE..9", "HOLE[0]", "HOLE\n7", "y = HOLE # why\ny", "tell HOLE do 1 end"),
    ),
    "php": (
        *("return HOLE;", "$x = HOLE; return $x;", "return -HOLE;", "return !HOLE;", "return HOLE ** 2;"),
        *("return 2 ** HOLE;", "return HOLE . 'a';", "return 1 -\n  HOLE;", "return HOLE - 1 - 2;"),
        *("return HOLE ? 1 : 2;", "return $late ?? HOLE;", "return HOLE && 3;", "return HOLE and 3;"),
        *("return [HOLE, 2];", "return $trams[HOLE] ?? 1;", "return tell(HOLE);", "return HOLE[0] ?? 1;"),
        *("if (HOLE) return 1; return 2;", "return (int) HOLE;", "return 1 . HOLE;", "return HOLE == 3;"),
        *("return fn() => HOLE;", "return match(HOLE) { 1 => 2, default => 3 };", "return @HOLE;"),
        *("$x += HOLE; return $x;", "return tell(1,\n  HOLE); // why", "return HOLE\n  + 1;"),
    ),
}
_TAKEN = {
    "ruby": (
        *("1", "-1", "x", "1 + 2", "x - 1", "late", "late || 2", "[1, 2]", "{c: 1}", "tell", "tell(2)"),
        *("x > 1 ? 2 : 3", "x = 2", "not(x)", "1..2", "'t'", "2 **\n  3", "tell(1,\n  2)", "!x", "x\n"),
        *("->{ 1 }", "trams[0]", "trams.first", "x == 5", "(1; 2)", "x && late"),
    ),
    "php": (
        *("1", "-1", "$x", "1 + 2", "$x - 1", "$late", "$late ?? 2", "[1, 2]", "tell()", "tell(2)"),
        *("$x > 1 ? 2 : 3", "$x = 2", "!$x", "'t'", "2 **\n  3", "tell(1,\n  2)", "$trams[0]", "1 . 2"),
        *("$x == 5", "$x && $late", "(string) 3", "fn() => 1", "$x++", "-$x", "$x and $late"),
    ),
}
_PUT = {
    "ruby": (
        *("@{v}", "@{v} + 1", "@{v} - 1", "@{v} ** 2", "-@{v}", "!@{v}", "@{v}.to_s", "[@{v}]", "(@{v})"),
        *("@{v} ? 1 : 2", "@{v} || 3", "tell(@{v})", "@{v} == 2", "{q: @{v}}", "@{v}..3", "not @{v}"),
        *("tell(@{v}) + 1", "trams[@{v}]", "x = @{v}", "late && @{v}"),
    ),
    "php": (
        *("@{v}", "@{v} + 1", "@{v} - 1", "@{v} ** 2", "-@{v}", "!@{v}", "@{v} . 'b'", "[@{v}]", "(@{v})"),
        *("@{v} ? 1 : 2", "@{v} ?? 3", "tell(@{v})", "@{v} == 2", "@{v} && 2", "(int) @{v}", "$x = @{v}"),
        *("tell(@{v}) + 1", "fn() => @{v}", "@{v} and 1"),
    ),
}
_RUN = {"ruby": ["ruby", "-e", _RUBY], "php": ["php", "-r", _PHP]}
_HEAD = {"ruby": "", "php": "<?php\n"}


@pytest.mark.parametrize("language", ["ruby", "php"])
def test_what_is_written_gives_what_it_gives_in_brackets(language: str) -> None:
    if shutil.which(language) is None:
        pytest.skip(f"needs {language}")
    pairs: list[tuple[str, str]] = []
    refused = 0
    for seed in range(CASES):
        random = Random(f"{language} {seed}")
        place, taken = random.choice(_PLACES[language]), random.choice(_TAKEN[language])
        put, head = random.choice(_PUT[language]), _HEAD[language]
        tree = parse(head + place.replace("HOLE", f"old({taken})") + "\n", language)
        rule = Rule("r", summary="s", find="old(@{v})", put=put, language=language)
        plan = make_plan(tree, Ruleset.of([rule]).look(tree)[0])
        proven = prove(plan)
        wanted = place.replace("HOLE", "(" + put.replace("@{v}", f"({taken})") + ")")
        if not plan.accepted:
            refused += 1
            continue
        pairs.append((proven.tree.source.data.decode().removeprefix(head), wanted))
    answer = subprocess.run(
        _RUN[language], input=json.dumps(pairs), capture_output=True, text=True, check=False
    )
    assert not answer.returncode, answer.stdout[-500:] + answer.stderr[-500:]
    wrong = [
        (text, wanted, done, due)
        for (text, wanted), (done, due) in zip(pairs, json.loads(answer.stdout), strict=True)
        if done != due and due != "no program"
    ]
    assert not wrong, "\n".join(map(str, wrong[:10]))
    assert refused < CASES / 4, refused
