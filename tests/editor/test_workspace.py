"""What the real server does over a whole workspace, as an editor sees it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from tests.editor.client import Client
from tests.editor.test_protocol import RULES, edited

MARK = "textDocument/publishDiagnostics"
SHOWS = {"window": {"showDocument": {"support": True}, "workDoneProgress": True}}


@pytest.fixture
def folder(tmp_path: Path, home: Path) -> Path:
    (tmp_path / "rules.toml").write_text(RULES)
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\nskip = ["old/"]\n')
    for name, text in {"a.py": "f(1)\nh(f(2))\n", "lines/b.py": "f('ä🚋'), f(3)\n", "c.py": "g(1)\n"}.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text, "utf-8")
    return tmp_path


def files_of(edit: dict[str, Any]) -> dict[str, dict[str, Any]]:
    """Return the changes of each file of an edit by its name, as an edit of its own."""
    return {
        one["textDocument"]["uri"].rpartition("/")[2]: {"documentChanges": [one]}
        for one in edit["documentChanges"]
    }


def pulled(client: Client, known: dict[str, str]) -> dict[str, Any]:
    """Return the reports on all files by name; `known` are ids of earlier ones by URI."""
    ids = [{"uri": uri, "value": value} for uri, value in known.items()]
    report = client.ask("workspace/diagnostic", previousResultIds=ids)
    return {one["uri"].rpartition("/")[2]: one for one in report["items"]}


def test_findings_of_the_workspace_are_pulled_and_only_news_told(folder: Path) -> None:
    client = Client(folder, capabilities={"textDocument": {"diagnostic": {}}})
    first = pulled(client, {})
    assert {name: len(one["items"]) for name, one in first.items()} == {"a.py": 3, "b.py": 2}
    starts = [one["range"]["start"]["character"] for one in first["b.py"]["items"]]
    assert starts == [0, 10]  # a tram counts twice
    item = {"uri": (folder / "a.py").as_uri(), "languageId": "x", "version": 1, "text": "g(1)\n"}
    client.tell("textDocument/didOpen", textDocument=item)  # unsaved text goes first
    again = pulled(client, {one["uri"]: one["resultId"] for one in first.values()})
    assert again["b.py"]["kind"] == "unchanged" and again["a.py"]["items"] == []
    client.stop()


def test_findings_of_the_workspace_are_shown_on_demand_with_progress(folder: Path) -> None:
    client = Client(folder, capabilities=SHOWS)
    assert client.command("yellow-trellis.survey") == 5
    shown = {client.told(MARK)["uri"].rpartition("/")[2] for _ in range(2)}
    assert shown == {"a.py", "b.py"}
    values = [m["params"]["value"] for m in client.notes if m.get("method") == "$/progress"]
    assert [one["kind"] for one in values][0] == "begin" and values[-1]["kind"] == "end"
    assert any(one.get("percentage") == 100 for one in values)
    (folder / "a.py").write_text("g(1)\n")
    assert client.command("yellow-trellis.survey") == 2
    assert client.told(MARK, lambda p: p["uri"].endswith("a.py"))["diagnostics"] == []
    client.stop()


def test_a_folder_and_the_workspace_are_fixed_as_one_edit(folder: Path) -> None:
    client = Client(folder)
    file = folder / "a.py"
    first, *_ = client.open(file, "f(0)\nf(1)\n")  # not as on the disk
    actions = {one["title"]: one for one in client.actions(file, first["range"])}
    everywhere = actions["Apply all safe fixes in this workspace"]
    assert not everywhere["kind"].startswith("source.fixAll")  # or it would run on save
    edit = client.ask("codeAction/resolve", **everywhere)["edit"]
    of_file = files_of(edit)
    assert edited("f(0)\nf(1)\n", of_file.pop("a.py")) == "g(0)\ng(1)\n"
    assert edited("f('ä🚋'), f(3)\n", of_file.pop("b.py")) == "g('ä🚋'), g(3)\n"
    assert not of_file
    here = actions["Apply all safe fixes of call-g in this folder"]
    assert set(files_of(client.ask("codeAction/resolve", **here)["edit"])) == {"a.py", "b.py"}
    client.stop()


def test_a_folder_with_a_configuration_of_its_own_is_looked_at_by_it(folder: Path) -> None:
    own = folder / "lines/own [x]"
    own.mkdir()
    (own / "trellis.toml").write_text('rules = ["r.toml"]\n')
    (own / "r.toml").write_text('[[rule]]\nname = "no-h"\nsummary = "No h."\nfind = "h(@{x})"\n')
    (own / "d.py").write_text("f(1)\nh(2)\n")
    client = Client(folder, capabilities={"textDocument": {"diagnostic": {}}})
    (closed,) = pulled(client, {})["d.py"]["items"]
    item = {"uri": (own / "d.py").as_uri(), "languageId": "x", "version": 1, "text": "f(1)\nh(2)\n"}
    client.tell("textDocument/didOpen", textDocument=item)
    (opened,) = client.ask("textDocument/diagnostic", textDocument={"uri": item["uri"]})["items"]
    assert closed["code"] == opened["code"] == "no-h" and closed["range"] == opened["range"]
    actions = {one["title"]: one for one in client.actions(folder / "a.py", opened["range"])}
    everywhere = actions["Apply all safe fixes in this workspace"]
    assert set(files_of(client.ask("codeAction/resolve", **everywhere)["edit"])) == {"a.py", "b.py"}
    message = client.told("window/showMessage")["message"]
    assert f"{own} has a configuration of its own" in message
    client.stop()


def test_a_level_is_chosen_and_its_place_opened(folder: Path) -> None:
    client = Client(folder, capabilities=SHOWS)
    client.answers["window/showMessageRequest"] = {"title": "note"}
    client.answers["workspace/applyEdit"] = {"applied": True}
    client.answers["window/showDocument"] = {"success": True}
    uri = (folder / "a.py").as_uri()
    client.command("yellow-trellis.level", uri, "call-g")
    edit = client.told("workspace/applyEdit")["edit"]
    assert edited((folder / "trellis.toml").read_text("utf-8"), edit).endswith('\n[levels]\ncall-g = "note"\n')
    shown = client.told("window/showDocument")
    assert shown["uri"].endswith("trellis.toml") and shown["selection"]["start"]["line"] == 4
    client.stop()


def test_a_rule_is_left_alone_in_a_definition_and_a_file(folder: Path) -> None:
    text = "import q\n\n\n@d\ndef k():\n    return f(1)\n\n\nf(2)\n"
    client = Client(folder, capabilities={"workspace": {"workspaceEdit": {"snippetEditSupport": True}}})
    file = folder / "a.py"
    first, last = client.open(file, text)
    actions = {one["title"]: one for one in client.actions(file, first["range"])}
    done = client.ask("codeAction/resolve", **actions["Leave call-g alone in this definition, with a reason"])
    (change,) = done["edit"]["documentChanges"][0]["edits"]
    assert change["snippet"]["value"] == "# trellis: leave call-g because ${1:(say why)}\n"
    assert change["range"]["start"] == {"line": 3, "character": 0}
    done = client.ask("codeAction/resolve", **actions["Leave call-g alone in this file, with a reason"])
    (change,) = done["edit"]["documentChanges"][0]["edits"]
    assert change["range"]["start"]["line"] == 0 and "in this file because" in change["snippet"]["value"]
    actions = {one["title"]: one for one in client.actions(file, last["range"])}
    done = client.ask("codeAction/resolve", **actions["Leave call-g alone in this definition, with a reason"])
    assert done["disabled"]["reason"] == "no definition is around it" and "edit" not in done
    client.stop()


def test_a_rule_is_built_with_its_matches_in_view(folder: Path) -> None:
    client = Client(folder, capabilities=SHOWS)
    client.answers["window/showDocument"] = {"success": True}
    rules, code = folder / "rules.toml", folder / "a.py"
    typed = RULES.replace('"f(@{x})"', '"f(@{x: string})"', 1)
    client.open(rules, typed)
    lenses = client.ask("textDocument/codeLens", textDocument={"uri": rules.as_uri()})
    assert [one["range"]["start"]["line"] for one in lenses] == [0] * 3 + [8] * 3
    counts = [client.ask("codeLens/resolve", **lens)["command"]["title"] for lens in (lenses[0], lenses[3])]
    assert counts == ["1 match in the workspace", "1 match in the workspace"]
    places = client.ask(
        "textDocument/references",
        textDocument={"uri": rules.as_uri()},
        position={"line": 3, "character": 0},
        context={"includeDeclaration": False},
    )
    assert [one["uri"] for one in places] == [(folder / "lines/b.py").as_uri()]

    def shown(lens: dict[str, Any]) -> str:
        client.command(lens["command"]["command"], *lens["command"]["arguments"])
        return Path(client.told("window/showDocument")["uri"].removeprefix("file://")).read_text("utf-8")

    assert f"{folder / 'lines/b.py'}:1:1: f('ä🚋') is g('ä🚋')\n" == shown(client.ask("codeLens/resolve", **lenses[0]))
    assert "-f('ä🚋'), f(3)\n+g('ä🚋'), f(3)\n" in shown(lenses[1])
    client.open(folder / "c.py", "class A(B):\n    pass\n")
    client.change(rules, {"text": typed.replace('"f(@{x: string})"', '"class @{x}: @{b*}"', 1)})
    lens = client.ask("textDocument/codeLens", textDocument={"uri": rules.as_uri()})[0]
    title = client.ask("codeLens/resolve", **lens)["command"]["title"]
    assert title == "0 matches in the workspace; 1 more place with more than the pattern says: class @{x}@{~}: @{b*}"
    client.change(rules, {"text": typed})
    why = lenses[2]["command"]
    client.command(why["command"], *why["arguments"])
    assert "put the cursor on the code" in client.told("window/showMessage")["message"]
    client.open(code)
    at = {"line": 0, "character": 1}
    client.ask("textDocument/hover", textDocument={"uri": code.as_uri()}, position=at)
    client.command(why["command"], *why["arguments"])
    told = client.told("window/showMessage")["message"]
    assert told.startswith("call-g does not fit at a.py:1:1: they part at 1:3")
    client.stop()


def test_files_that_are_moved_take_their_imports_along(folder: Path) -> None:
    (folder / "user.py").write_text("import a\na.f(1)\n")
    client = Client(folder)
    files = [{"oldUri": (folder / "a.py").as_uri(), "newUri": (folder / "lines/z.py").as_uri()}]
    edit = client.ask("workspace/willRenameFiles", files=files)
    assert edited("import a\na.f(1)\n", edit) == "import lines.z\nlines.z.f(1)\n"
    client.stop()


def test_work_over_the_workspace_can_be_cancelled(folder: Path) -> None:
    (folder / "slow.py").write_text(
        "import time\nfrom yellow_trellis import rule\n"
        "@rule('slow', summary='s', kinds=['module'])\n"
        "def slow(node, code):\n    time.sleep(8)\n    return ()\n"
    )
    (folder / "trellis.toml").write_text('rules = ["slow.py", "rules.toml"]\n')
    client = Client(folder, "--trust", capabilities=SHOWS)
    asked = client.begin("workspace/executeCommand", command="yellow-trellis.survey", arguments=[])
    token = client.told("$/progress", lambda p: p["value"]["kind"] == "begin")["token"]
    client.tell("window/workDoneProgress/cancel", token=token)
    assert client.answer(asked)["result"] == 0
    assert "was cancelled" in client.told("window/showMessage")["message"]
    asked = client.begin("workspace/diagnostic", previousResultIds=[])
    client.tell("$/cancelRequest", id=asked)
    assert client.answer(asked)["error"]["code"] == -32800
    client.stop()
