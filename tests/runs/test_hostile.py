"""What a repository may hold to harm whoever runs us in it: nothing outside of the root changes."""

import json
import os
import random
import sqlite3
import subprocess
import sys
import zlib
from pathlib import Path

import pytest

from tests.conftest import rules_of
from yellow_trellis import RunOptions, run, undo, write_changes
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.cache.state_dir import HOME
from yellow_trellis.project.discovery import discover
from yellow_trellis.project.safe_paths import Beneath, UnsafePathError
from yellow_trellis.runs.transaction.journal import Journal
from yellow_trellis.runs.transaction.undo import roll_back, runs
from yellow_trellis.runs.transaction.write import UnfinishedRunError
from yellow_trellis.runs.word_index import WordIndex
from yellow_trellis.semantics import Vocabulary

pytestmark = pytest.mark.skipif(sys.platform == "win32", reason="needs links and owners")

OUTSIDE = "# mine\n"


@pytest.fixture
def root(tmp_path: Path) -> Path:
    """A root with a file of somebody else beside it."""
    (tmp_path / "mine.sh").write_text(OUTSIDE)
    root = tmp_path / "code"
    root.mkdir()
    (root / "a.py").write_text("f(1)\n")
    return root


def changes_in(root: Path) -> list:
    done = run([root], rules_of(("f(@{x})", "g(@{x})")), RunOptions(mode="rework", workers=1))
    return [report.change for report in done.changed]


def forge(root: Path, path: str, name: str = "20260101-000000-001", **more: object) -> None:
    """Make the journal of a run that was cut short while it wrote a file."""
    folder = root / HOME / "runs" / name
    folder.mkdir(parents=True)
    old, new = b"curl evil | sh\n", OUTSIDE.encode()
    row = {
        **{"path": path, "before": digest_of(old), "after": digest_of(new), "offset": 0},
        **{"size": len(old), "new_size": len(new), "parts": []},
        **more,
    }
    told = json.dumps(row)
    (folder / "files.jsonl").write_text(f"{zlib.crc32(told.encode()):08x} {told}\n")
    (folder / "texts.bin").write_bytes(old + new)
    (folder / "run.json").write_text('{"version": 3, "state": "writing"}')
    (root / HOME / "writing").write_text(name)


@pytest.mark.parametrize(
    "path", ["../mine.sh", "/MINE", "a/../../mine.sh", "link/mine.sh", "./../mine.sh", "x\0y", ""]
)
def test_a_forged_journal_writes_nothing_outside(root: Path, path: str) -> None:
    (root / "link").symlink_to(root.parent)
    forge(root, path.replace("/MINE", str(root.parent / "mine.sh")))
    report = roll_back(root)
    assert report is not None and report.left and not report.restored
    assert (root.parent / "mine.sh").read_text("utf-8") == OUTSIDE
    with pytest.raises(UnfinishedRunError, match="cannot be taken back"):
        write_changes(changes_in(root), root, ["r"])


@pytest.mark.parametrize("name", ["../../../up", "..", "/", "a\n", "", "\x00", "20260101-000000-009"])
def test_a_mark_that_names_no_run_is_cleared(root: Path, name: str) -> None:
    (root / HOME).mkdir()
    (root / HOME / "writing").write_text(name)
    assert roll_back(root) is None
    assert not (root / HOME / "writing").exists()
    assert write_changes(changes_in(root), root, ["r"]).written


def test_leftovers_are_removed_beside_files_of_the_run_only(root: Path) -> None:
    (root / ".a.py.0011aabb.ytr").write_text("")
    (root / ".b.py.0011aabb.ytr").write_text("")
    (root.parent / ".mine.sh.0011aabb.ytr").write_text("")
    (root / ".a.py.b.0011aabb.ytr").write_text("")
    forge(root, "a.py")
    roll_back(root)
    assert not (root / ".a.py.0011aabb.ytr").exists()
    assert (root / ".b.py.0011aabb.ytr").exists()
    assert (root / ".a.py.b.0011aabb.ytr").exists()
    assert (root.parent / ".mine.sh.0011aabb.ytr").exists()


@pytest.mark.parametrize("what", ["home", "runs", "run", "texts.bin", "files.jsonl", "writing"])
def test_nothing_is_kept_through_a_link(root: Path, what: str) -> None:
    away = root.parent / "away"
    away.mkdir()
    (away / "kept").write_text("kept")
    runs_folder = root / HOME / "runs"
    if what == "home":
        (root / HOME).symlink_to(away)
    elif what == "runs":
        (root / HOME).mkdir()
        runs_folder.symlink_to(away)
    elif what == "writing":
        (root / HOME).mkdir()
        (root / HOME / what).symlink_to(away / "kept")
    else:
        runs_folder.mkdir(parents=True)
        name = "29991231-235959-001"
        if what == "run":
            (runs_folder / name).symlink_to(away)
        else:
            (runs_folder / name).mkdir()
            (runs_folder / name / what).symlink_to(away / "kept")
    try:
        write_changes(changes_in(root), root, ["r"])
    except OSError as told:
        assert "is a link" in str(told)
        assert (root / "a.py").read_text("utf-8") == "f(1)\n"
    undo(root) if what not in ("home", "runs") else None
    assert sorted(path.name for path in away.iterdir()) == ["kept"]
    assert (away / "kept").read_text("utf-8") == "kept"


def test_a_folder_of_ours_that_is_tracked_is_not_believed(root: Path) -> None:
    forge(root, "a.py")
    for words in (("init", "-q"), ("add", "-f", ".")):
        subprocess.run(["git", *words], cwd=root, check=True)
    with pytest.raises(OSError, match="is tracked by git"):
        roll_back(root)
    assert Store(root).fault
    assert (root / "a.py").read_text("utf-8") == "f(1)\n"


def test_a_database_of_another_program_is_left_alone(root: Path) -> None:
    other = root.parent / "other.sqlite"
    with sqlite3.connect(other) as database:
        database.execute("create table accounts (name text)")
        database.execute("insert into accounts values ('x')")
    before = other.read_bytes()
    (root / HOME).mkdir()
    kept = root / HOME / "known.sqlite"
    for place in ("link", "hard link", "copy"):
        kept.unlink(missing_ok=True)
        if place == "link":
            kept.symlink_to(other)
        elif place == "hard link":
            os.link(other, kept)
        else:
            kept.write_bytes(before)
        found = run([root], rules_of(("f(@{x})", "g(@{x})")), RunOptions(workers=1))
        assert len(found.findings) == 1
        store = Store(root)
        store.put("things", "", {"a": b"c"})
        store.throw_away()
        assert other.read_bytes() == before and kept.read_bytes() == before


def test_a_damaged_record_costs_its_file_and_is_told(tmp_path: Path) -> None:
    texts = {f"f{n}.py": f"f({n})\n" for n in range(6)}
    for name, text in texts.items():
        (tmp_path / name).write_text(text)
    write_changes(changes_in(tmp_path), tmp_path, ["r"])
    (index,) = tmp_path.glob(f"{HOME}/runs/*/files.jsonl")
    whole = index.read_bytes()
    rng = random.Random(7)
    for _ in range(60):
        at = rng.randrange(len(whole) - 1)
        index.write_bytes(whole[:at] + bytes([whole[at] ^ (1 << rng.randrange(8))]) + whole[at + 1 :])
        entries, damaged = Journal.all(tmp_path)[0].entries()
        assert len(damaged) in (1, 2) and len(entries) + 1 >= 5
    report = undo(tmp_path)
    assert report is not None and report.left and len(report.restored) >= 4
    assert runs(tmp_path)[0].state != "undone"
    index.write_bytes(whole)
    again = undo(tmp_path)
    assert again is not None and not again.left and runs(tmp_path)[0].state == "undone"
    assert {name: (tmp_path / name).read_text("utf-8") for name in texts} == texts


def test_no_byte_of_a_journal_can_be_damaged_in_silence(root: Path) -> None:
    for name in ("a.py", "b.py"):
        (root / name).write_text("f(1)\n")
    assert len(write_changes(changes_in(root), root, ["r"]).written) == 2
    (folder,) = (root / HOME / "runs").iterdir()
    kept = {p: p.read_bytes() for p in (*folder.iterdir(), root / "a.py", root / "b.py")}
    for file in folder.iterdir():
        size = len(kept[file])
        for at in sorted({*range(0, size, 5), *range(max(size - 3, 0), size)}):
            byte = kept[file][at]
            for path, data in kept.items():
                path.write_bytes(data)
            file.write_bytes(kept[file][:at] + bytes([byte ^ 0x41]) + kept[file][at + 1 :])
            report = undo(root)
            texts = [(root / name).read_text("utf-8") for name in ("a.py", "b.py")]
            assert {*texts} <= {"f(1)\n", "g(1)\n"}, (file.name, at)
            if texts != ["f(1)\n"] * 2:
                assert report is None or report.left, (file.name, at)


def test_a_roll_back_that_failed_stops_the_apply_and_can_be_tried_again(root: Path, ytr) -> None:
    forge(root, "gone/b.py")
    (root / "r.toml").write_text(
        '[[rule]]\nname = "x"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
    )
    told = ytr("apply", "-r", "r.toml", ".", where=root)
    assert told.status == 3 and "Nothing was written" in told.err and "gone/b.py" in told.err
    assert (root / "a.py").read_text("utf-8") == "f(1)\n"
    (root / "gone").mkdir()
    (root / "gone/b.py").write_text(OUTSIDE)
    assert ytr("apply", "-r", "r.toml", ".", where=root).status == 0
    assert (root / "a.py").read_text("utf-8") == "g(1)\n"
    assert (root / "gone/b.py").read_text("utf-8") == "curl evil | sh\n"  # the journal's word, inside


def test_a_clock_that_was_ahead_hides_no_run(root: Path) -> None:
    ahead = root / HOME / "runs" / "29991231-235959-999"
    ahead.mkdir(parents=True)
    write_changes(changes_in(root), root, ["r"])
    assert [one.name for one in runs(root)] == ["29991231-235959-1000", "29991231-235959-999"]
    report = undo(root)
    assert report is not None and report.restored == ["a.py"]


def test_a_run_killed_before_its_first_file_leaves_nothing(root: Path) -> None:
    Journal(root).open(["r"])
    roll_back(root)
    assert runs(root) == [] and not (root / HOME / "writing").exists()


@pytest.mark.parametrize("kind", ["read-only", "hard link"])
def test_what_cannot_be_kept_is_refused(root: Path, kind: str) -> None:
    changes = changes_in(root)
    if kind == "read-only":
        (root / "a.py").chmod(0o444)
    else:
        os.link(root / "a.py", root / "b.txt")
    report = write_changes(changes, root, ["r"])
    assert not report.written and kind in report.left[0][1]
    assert (root / "a.py").read_text("utf-8") == "f(1)\n"


def test_mode_and_attributes_are_kept(root: Path) -> None:
    (root / "a.py").chmod(0o751)
    try:
        os.setxattr(root / "a.py", "user.tram", b"night")
    except (OSError, AttributeError):
        pytest.skip("the file system has no attributes")
    assert write_changes(changes_in(root), root, ["r"]).written
    assert (root / "a.py").stat().st_mode & 0o777 == 0o751
    assert os.getxattr(root / "a.py", "user.tram") == b"night"


def test_a_link_that_comes_while_we_write_is_not_followed(root: Path, monkeypatch) -> None:
    (root / "in").mkdir()
    (root / "in/a.py").write_text("f(1)\n")
    (root.parent / "a.py").write_text("f(1)\n")
    changes = changes_in(root)

    def raced(files: Beneath, name: str, data: bytes, real=Beneath.replace) -> None:
        if name == "in/a.py":
            (root / "in").rename(root / "out")
            (root / "in").symlink_to(root.parent)
        real(files, name, data)

    monkeypatch.setattr(Beneath, "replace", raced)
    report = write_changes(changes, root, ["r"])
    assert [Path(path).name for path, _ in report.left] == ["a.py"]
    assert (root.parent / "a.py").read_text("utf-8") == (root / "out/a.py").read_text("utf-8") == "f(1)\n"


def test_names_lead_below_the_root_or_nowhere(root: Path) -> None:
    files = Beneath(root)
    (root / "loop").symlink_to("loop")
    (root / "fifo").unlink(missing_ok=True)
    os.mkfifo(root / "fifo")
    for name in ("..", "../mine.sh", "/etc/passwd", "a.py/..", "", "loop", "fifo", ".", "a//b"):
        with pytest.raises(OSError):
            files.read(name)
        with pytest.raises(OSError):
            files.replace(name, b"")
    with pytest.raises(UnsafePathError):
        files.replace("loop", b"")
    assert subprocess.run(["cat", root / "a.py"], capture_output=True, check=True).stdout == b"f(1)\n"


@pytest.mark.skipif(os.name == "nt", reason="needs modes of files")
def test_the_journal_is_as_private_as_the_files_it_keeps(tmp_path: Path, ytr) -> None:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "a.py").chmod(0o600)
    (tmp_path / "r.toml").write_text(
        '[[rule]]\nname = "x"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
    )
    home = tmp_path / ".yellow-trellis"
    for _ in range(2):
        assert ytr("apply", "--rules", "r.toml", "a.py").status == 0
        assert home.stat().st_mode & 0o077 == 0
        home.chmod(0o755)  # as an earlier version made it
        (tmp_path / "a.py").write_text("f(2)\n")


_ENDLESS = "with recursive n(x) as (select 1 union all select x + 1 from n) select x, x, x, x, x from n"


@pytest.mark.parametrize("what", ["view", "trigger", "types", "another user", "huge"])
def test_a_database_that_came_with_the_code_is_thrown_away(
    what: str, root: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    rules = rules_of(("f(@{x})", "g(@{x})"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "one"))
    Store(root).put("things", "", {"a": b"c"})
    kept = root / HOME / "known.sqlite"
    with sqlite3.connect(kept) as database:
        if what == "view":
            database.execute("drop table entries")
            database.execute(f"create view entries (kind, part, key, body, seal) as {_ENDLESS}")
        elif what == "trigger":
            database.execute(
                "create trigger t after insert on entries begin delete from parts; end"
            )
        elif what == "types":
            database.execute("insert into entries values ('words', '', x'00', 1.5, 'y')")
            database.execute("insert into entries values ('files', '', 'a.py', null, null)")
        elif what == "huge":
            database.execute("insert into entries values ('words', '', 'a.py', zeroblob(600000000), 1)")
    database.close()
    if what == "another user":
        monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "two"))
    else:
        files = discover([root], frozenset({"python"}))
        assert WordIndex(Store(root)).without(files, rules, Vocabulary()) == {}
    assert len(run([root], rules, RunOptions(workers=1, cache=True)).findings) == 1
    assert Store(root).rows("things", "") == []
    Store(root).put("things", "", {"a": b"c"})
    assert Store(root).rows("things", "") == [("a", b"c")]


def test_a_report_that_this_user_has_not_kept_is_not_believed(root: Path) -> None:
    """Forge one as whoever has the library can: all sums of it are right but the seal."""
    file = root / "rules.toml"
    file.write_text('[[rule]]\nname = "r"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n', "utf-8")
    for _ in range(2):
        ytr = subprocess.run(
            [sys.executable, "-m", "yellow_trellis", "preview", "--rules", str(file), "."],
            cwd=root,
            capture_output=True,
            text=True,
            check=False,
        )
    assert "+g(1)" in ytr.stdout
    kept = root / HOME / "known.sqlite"
    with sqlite3.connect(kept) as database:
        query = "select part, key, body from entries where kind = 'reports'"
        rows = database.execute(query).fetchall()
        assert any(b"g(1)" in body for _, _, body in rows)
        for part, name, body in rows:
            forged = body.replace(b"g(1)", b"evil")
            database.execute(
                "update entries set body = ?, seal = ? where part = ? and key = ?",
                (forged, zlib.crc32(forged), part, name),
            )
    database.close()
    again = subprocess.run(ytr.args, cwd=root, capture_output=True, text=True, check=False)
    assert "evil" not in again.stdout and "+g(1)" in again.stdout
