"""The real server, in a process, spoken to as an editor does."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest

from tests.editor.client import Client
from yellow_trellis.visible_text import inert

RULES = """\
[[rule]]
name = "call-g"
summary = "f() is called g()."
find = "f(@{x})"
put = "g(@{x})"
message = "f(@{x}) is g(@{x})"
tags = ["deprecated"]

[[rule]]
name = "never-h"
summary = "h() goes."
find = "h(@{x})"
put = "k(@{x})"
safety = "review"
level = "error"
"""
TEXT = "f(1)\nh('ä🚋', f(2))\n"


@pytest.fixture
def folder(tmp_path: Path, home: Path) -> Path:
    (tmp_path / "rules.toml").write_text(RULES)
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\n')
    (tmp_path / "a.py").write_text("f(1)\nh(f(2))\n", "utf-8")
    return tmp_path


def edited(text: str, edit: dict[str, Any]) -> str:
    """Apply the edit of one file, all on single lines of it."""
    (document,) = edit["documentChanges"]
    lines = text.split("\n")
    for one in reversed(document["edits"]):
        start, end = one["range"]["start"], one["range"]["end"]
        assert start["line"] == end["line"]
        line = lines[start["line"]].encode("utf-16-le")
        before, behind = line[: 2 * start["character"]], line[2 * end["character"] :]
        line = before + one["newText"].encode("utf-16-le") + behind
        lines[start["line"]] = line.decode("utf-16-le")
    return "\n".join(lines)


def test_findings_come_with_each_change_and_go_when_a_file_is_closed(folder: Path) -> None:
    client = Client(folder)
    file = folder / "a.py"
    first, *others = client.open(file)
    assert (first["code"], first["severity"], first["message"]) == ("call-g", 2, "f(1) is g(1)")
    assert first["source"] == "yellow-trellis" and first["tags"] == [2]
    assert first["codeDescription"]["href"].endswith("rules.toml#L1")
    assert [one["code"] for one in others] == ["never-h", "call-g"]
    assert others[0]["severity"] == 1
    start = {"line": 0, "character": 0}
    found = client.change(file, {"range": {"start": start, "end": start}, "text": "'🚋'; f(0)\n"})
    assert [one["range"]["start"]["character"] for one in found] == [6, 0, 0, 2]
    assert client.change(file, {"text": "pass\n"}) == []
    client.change(file, {"text": "f(1)\n"})
    client.tell("textDocument/didClose", textDocument={"uri": file.as_uri()})
    gone = client.told("textDocument/publishDiagnostics", lambda p: not p["diagnostics"])
    assert gone["uri"] == file.as_uri()
    assert client.stop() == ""


def test_actions_fix_one_all_of_a_rule_and_the_file(folder: Path) -> None:
    client = Client(folder)
    file, text = folder / "a.py", "f(1)\nh(f(2))\n"
    first, review, inner = client.open(file)
    by_title = {one["title"]: one for one in client.actions(file, first["range"])}
    fix, *_ = by_title.values()
    of_rule = by_title["Apply all safe fixes of call-g in this file"]
    leave = by_title["Leave call-g alone here, with a reason"]
    off = by_title["Turn call-g off in the configuration"]
    whole = by_title["Apply all safe fixes in this file"]
    assert fix["isPreferred"] and fix["diagnostics"][0]["code"] == "call-g"
    assert edited(text, client.ask("codeAction/resolve", **fix)["edit"]) == "g(1)\nh(f(2))\n"
    for action in (of_rule, whole):
        done = client.ask("codeAction/resolve", **action)["edit"]
        assert edited(text, done) == "g(1)\nh(g(2))\n"
        assert len(done["documentChanges"][0]["edits"]) == 2  # and not the whole document
    done = client.ask("codeAction/resolve", **leave)["edit"]
    assert edited(text, done) == "f(1)  # trellis: leave call-g because (say why)\nh(f(2))\n"
    config = client.ask("codeAction/resolve", **off)["edit"]
    assert edited('rules = ["rules.toml"]\n', config).endswith('\n[levels]\ncall-g = "off"\n')
    asks = next(one for one in client.actions(file, review["range"]) if "may change" in one["title"])
    assert "isPreferred" not in asks
    done = client.ask("codeAction/resolve", **asks)["edit"]
    assert all(note["needsConfirmation"] for note in done["changeAnnotations"].values())
    assert edited(text, done) == "f(1)\nk(f(2))\n"
    (only,) = client.actions(file, inner["range"], "source.fixAll")
    assert only["kind"].startswith("source.fixAll.")
    saved = client.ask(
        "textDocument/willSaveWaitUntil", textDocument={"uri": file.as_uri()}, reason=1
    )
    assert [one["newText"] for one in saved] == ["g", "g"]
    client.stop()


@pytest.mark.parametrize("knows_actions", [True, False])
def test_an_editor_that_cannot_ask_for_an_edit_gets_a_command(folder: Path, knows_actions: bool) -> None:
    literal = {"codeActionLiteralSupport": {"codeActionKind": {"valueSet": []}}}
    capabilities = {"textDocument": {"codeAction": literal}} if knows_actions else {}
    client = Client(folder, capabilities=capabilities, knows_usual=False)
    client.answers["workspace/applyEdit"] = {"applied": True}
    file = folder / "a.py"
    _, review, inner = client.open(file)
    for where, text, start in ((inner["range"], "g", 2), (review["range"], "k", 0)):
        title = "f() is called g()." if text == "g" else "h() goes. (may change behaviour)"
        action = next(one for one in client.actions(file, where) if one["title"] == title)
        command = action["command"] if knows_actions else action
        client.command(command["command"], *command["arguments"])
        edit = client.told("workspace/applyEdit")["edit"]
        (change,) = edit["changes"][file.as_uri()]  # and no documents with versions, nor questions
        assert list(edit) == ["changes"] and change["newText"] == text
        assert change["range"]["start"] == {"line": 1, "character": start}
    client.stop()


@pytest.mark.parametrize("reports", [True, False])
def test_rules_are_read_again_when_they_change(folder: Path, reports: bool) -> None:
    """Also where the editor reports no changes on the disk: then the server sees them itself."""
    watches = {"workspace": {"didChangeWatchedFiles": {"dynamicRegistration": reports}}}
    client = Client(folder, capabilities=watches)
    file = folder / "a.py"
    assert len(client.open(file)) == 3

    def write(text: str) -> None:
        (folder / "rules.toml").write_text(text)
        if reports:
            changes = [{"uri": (folder / "rules.toml").as_uri(), "type": 2}]
            client.tell("workspace/didChangeWatchedFiles", changes=changes)

    write(RULES.replace('"f(@{x})"', '"f(@{x: string})"', 1))
    client.told("textDocument/publishDiagnostics", lambda params: len(params["diagnostics"]) == 1)
    write("[[rule]\n")
    told = client.told("window/showMessage")
    assert "rules.toml: invalid TOML" in told["message"]
    client.stop()


def test_a_first_configuration_counts_from_the_next_save_on(folder: Path) -> None:
    text = (folder / "trellis.toml").read_text("utf-8")
    (folder / "trellis.toml").unlink()
    client = Client(folder)
    file = folder / "a.py"
    assert client.open(file) == []
    (folder / "trellis.toml").write_text(text)
    client.tell("textDocument/didSave", textDocument={"uri": file.as_uri()})
    client.told("textDocument/publishDiagnostics", lambda params: len(params["diagnostics"]) == 3)
    client.stop()


def test_a_worker_that_dies_is_started_anew(folder: Path) -> None:
    (folder / "r.py").write_text(
        "import os\nfrom yellow_trellis import rule\n"
        "@rule('dies', summary='s', kinds=['call'])\n"
        "def dies(node, code):\n"
        "    if 'die' in node.text: os._exit(9)\n    return ()\n"
    )
    (folder / "trellis.toml").write_text('rules = ["rules.toml", "r.py"]\n')
    client = Client(folder, "--trust")
    file = folder / "a.py"
    assert len(client.open(file)) == 3
    client.tell(
        "textDocument/didChange",
        textDocument={"uri": file.as_uri(), "version": 2},
        contentChanges=[{"text": "die(1)\n"}],
    )
    assert "died" in client.told("window/showMessage")["message"]
    client._versions[file.as_uri()] = 2
    assert [one["code"] for one in client.change(file, {"text": "f(1)\n"})] == ["call-g"]
    client.stop()


def test_an_editor_that_asks_is_answered_and_not_sent(folder: Path) -> None:
    client = Client(folder, capabilities={"textDocument": {"diagnostic": {}}})
    file = folder / "a.py"
    item = {"uri": file.as_uri(), "languageId": "x", "version": 1, "text": TEXT}
    client.tell("textDocument/didOpen", textDocument=item)
    report = client.ask("textDocument/diagnostic", textDocument={"uri": file.as_uri()})
    assert report["kind"] == "full"
    assert [one["range"]["start"]["character"] for one in report["items"]] == [0, 9]
    client.stop()
    assert not [m for m in client.notes if m.get("method") == "textDocument/publishDiagnostics"]


def test_wrong_addresses_are_told(ytr) -> None:
    told = ytr("lsp", "--tcp", "depot")
    assert told.status == 2 and "--tcp takes [HOST:]PORT" in told.err


NOTE = b'{"jsonrpc":"2.0","method":"initialized","params":{}}'


@pytest.mark.parametrize("header", [
    b"Content-Length: 99999999999999\r\n\r\n{}\r\n", b"Content-Length: " + b"9" * 5000 + b"\r\n\r\n",
    b"Content-Length: 52\n\n" + NOTE, b"content-length: 52\r\n\r\n" + NOTE,
    b"Content-Length: -1\r\n\r\n", b"\r\n\r\n",
])
def test_a_message_that_claims_any_size_ends_no_server(folder: Path, header: bytes) -> None:
    client = Client(folder)
    file = folder / "a.py"
    client.open(file)
    assert client.process.stdin is not None
    client.process.stdin.write(header)
    client.process.stdin.flush()
    assert [one["code"] for one in client.change(file, {"text": "f(1)\n"})] == ["call-g"]
    assert "Traceback" not in client.stop()


@pytest.mark.parametrize(("message", "code"), [
    ({"id": None, "method": "shutdown"}, -32600), ({"id": 1.5, "method": "shutdown"}, -32600),
    ({"id": True, "method": "shutdown"}, -32600), ({"id": "a", "method": 5}, -32600),
    ({"id": "b", "method": "textDocument/hover", "params": {"position": 3}}, -32602),
])
def test_a_message_that_is_none_is_answered_with_an_error(folder: Path, message, code: int) -> None:
    client = Client(folder)
    number = message["id"] if isinstance(message["id"], str) else None
    client._send(message)
    answer = client._next(lambda told: "id" in told and told["id"] == number)
    assert answer["error"]["code"] == code
    assert [one["code"] for one in client.open(folder / "a.py")][:1] == ["call-g"]
    number = client.begin("shutdown")
    assert client.answer(number)["result"] is None
    late = client.begin("shutdown")
    assert client.answer(late)["error"]["code"] == -32600


def test_what_an_editor_shows_of_a_rule_leads_nowhere() -> None:
    text = "![x](https://a.example/p) [y][z] <img src=x> `[a](b)` www.b.example\n\n[z]: file:///etc"
    shown = inert(text)
    assert "`[a](b)`" in shown
    bare = re.sub("`[^`]*`", "", shown)
    assert "<" not in bare
    assert "://" not in bare
    assert "www" not in bare
    assert not re.search(r"(?<!\\)\[", bare)
