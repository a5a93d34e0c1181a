"""Code that fixes write at random places of JavaScript does what it does with all its brackets.

Node runs both. YTR_CASES=10000 is the long run.
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

CASES = int(os.environ.get("YTR_CASES", "400"))
_PLACES = (
    *("x = HOLE", "HOLE;", "return (() => HOLE)()", "return HOLE.p", "return HOLE(1)"),
    *("return new HOLE(1)", "return trams[HOLE]", "return -HOLE", "return HOLE ** 2"),
    *("return typeof HOLE", "return HOLE ? 1 : 2", "return [...HOLE]", "return `${HOLE}`"),
    *("return HOLE || 1", "return late ?? HOLE", "return (HOLE, 1)", "return 2 ** HOLE"),
    *("return {q: HOLE}", "return HOLE in trams", "HOLE.p = 1", "return () => HOLE.p"),
    *("return HOLE?.p", "if (late) HOLE; return 1", "return tell`${HOLE}`", "HOLE = 1; return x"),
    *("let [q = HOLE] = []; return q", "return HOLE - 1 - 2", "return 1 - HOLE", "return HOLE`t`"),
)
_TAKEN = (
    *("{c: 1}", "function(){ return 1 }", "class {}", "late?.b", "late?.b.c", "late?.()", "tram.b"),
    *("() => 1", "1", "-1", "late ?? tram", "async () => 1", "new Tram", "new Tram()", "tell(2)"),
    *("x = 2", "tram", "[1, 2]", "`t`", "/t/", "'t'", "1 + 2", "late ? 1 : 2", "typeof late"),
    *("tell()()", "tram.tell()", "async function(){}", "function*(){}", "x++"),
)
_PUT = (
    *("@{v}", "@{v}.z", "@{v}()", "@{v}[0]", "new @{v}()", "@{v} + 1", "@{v} ** 2", "!@{v}"),
    *("({q: @{v}}).q", "@{v} ? 1 : 2", "@{v} || 3", "@{v} ?? 3", "@{v}`t`", "(@{v})", "-@{v}"),
    *("@{v}?.z", "[@{v}]", "() => @{v}", "tell(@{v})", "await_(@{v}).q", "@{v} - 1"),
)
_RUN = """
const util = require('util');
Function.prototype.toString = () => 'f';  // the texts differ by brackets
const head = 'class Tram {}; var x = 0, late, tram = {b: 5, tell() { return this.b }}, trams = [7];'
  + 'function tell(...a) { return a.length > 1 ? a.join() : () => 3 }'
  + 'function await_(v) { return {q: v} };';
function told(text) {
  let run;
  try { run = new Function(head + text) } catch (wrong) { return 'no program' }
  try { return util.inspect(run()).replace(/\\[(Async|Generator)?Function.*?\\]|\\[class.*?\\]/g, 'f') }
  catch (wrong) { return wrong.name }
}
let input = '';
process.stdin.on('data', part => input += part);
process.stdin.on('end', () => {
  const pairs = JSON.parse(input);
  console.log(JSON.stringify(pairs.map(([one, two]) => [told(one), told(two)])));
});
"""


@pytest.mark.skipif(shutil.which("node") is None, reason="needs node")
def test_what_is_written_does_what_it_does_in_brackets() -> None:
    pairs: list[tuple[str, str]] = []
    refused = 0
    for seed in range(CASES):
        random = Random(f"javascript {seed}")
        place, taken = random.choice(_PLACES), random.choice(_TAKEN)
        put = random.choice(_PUT)
        tree = parse(place.replace("HOLE", f"old({taken})") + "\n", "javascript")
        rule = Rule("r", summary="s", find="old(@{v})", put=put, language="javascript")
        (definition,) = Ruleset.of([rule]).rules
        plan = make_plan(tree, definition.compiled.look(tree))
        proven = prove(plan)
        wanted = place.replace("HOLE", "(" + put.replace("@{v}", f"({taken})") + ")")
        if not plan.accepted:
            refused += 1
            continue
        pairs.append((proven.tree.source.data.decode(), wanted))
    answer = subprocess.run(
        ["node", "-e", _RUN], input=json.dumps(pairs), capture_output=True, text=True, check=True
    )
    for (text, wanted), (done, due) in zip(pairs, json.loads(answer.stdout), strict=True):
        assert done == due or due == "no program", (text, wanted, done, due)
    assert refused < CASES / 5
