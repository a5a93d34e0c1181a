"""What star exports bring, held to JavaScript itself: modules export all of each other at random."""

import json
import os
import shutil
import subprocess
from pathlib import Path
from random import Random

import pytest

from yellow_trellis.project.project import CodeBase

MODULES = ("a", "b", "c", "d")
NAMES = ("toll", "bell", "sum")
BASES = int(os.environ.get("YTR_EXAMPLES", "60"))


def written(random: Random) -> dict[str, str]:
    """Return the text of each module; each thing is a text that says where it is from."""
    texts = {}
    for module in MODULES:
        stars = random.sample(MODULES, random.randint(0, 3))
        lines = [f'export * from "./{star}.mjs";' for star in stars]
        for name in random.sample(NAMES, random.randint(0, 2)):
            second = random.choice(MODULES)
            lines.append(
                f'export const {name} = "{module}.{name}";'
                if random.random() < 0.85
                else f'export {{ {name} }} from "./{second}.mjs";'
            )
        texts[module] = "\n".join(lines) + "\n"
    return texts


MAIN = """\
const all = {};
for (const base of process.argv.slice(2)) for (const one of ["a", "b", "c", "d"]) {
  try { all[`${base}/${one}`] = { ...(await import(`./${base}/${one}.mjs`)) }; }
  catch { /* a module that cannot be linked, or one of those with it */ }
}
console.log(JSON.stringify(all));
"""


@pytest.mark.skipif(shutil.which("node") is None, reason="needs node")
def test_a_name_comes_down_to_what_node_finds(tmp_path: Path) -> None:
    random = Random(7)
    bases = [f"base{number}" for number in range(BASES)]
    for base in bases:
        (tmp_path / base).mkdir()
        for module, text in written(random).items():
            (tmp_path / base / f"{module}.mjs").write_text(text)
    (tmp_path / "main.mjs").write_text(MAIN)
    done = subprocess.run(
        ["node", "main.mjs", *bases], cwd=tmp_path, capture_output=True, text=True, check=True
    )
    graph = CodeBase(tmp_path, languages=("javascript",), use_cache=False).modules("javascript").graph
    modules = json.loads(done.stdout)
    assert len(modules) > BASES  # of four in each
    right = unknown = 0
    for module, things in modules.items():
        for name in NAMES:
            meaning = graph.resolve(f"{module}:{name}")
            if name in things and meaning is None:
                unknown += 1  # a name that leads back to itself on one of two ways
            elif name in things:
                right += 1
                assert meaning == f"{module.partition('/')[0]}/{things[name]}", (module, name)
            else:  # nothing, or what several bring: it is nothing of another module
                assert meaning in (None, f"{module}.{name}"), (module, name)
    assert unknown * 25 < right
