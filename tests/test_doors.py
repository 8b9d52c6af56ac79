"""The doors to the disk: what a job names stays in its folder, what is handed out takes no job's place, state is nobody else's to read."""

from __future__ import annotations

import ast
import json
import logging
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from builders import house
from msgspec.structs import replace

from robust_ledger.cli import main
from robust_ledger.desk.kit.store import JobStore
from robust_ledger.job.doors import DoorError, hand_out_text, inside, put_inside, read_inside
from robust_ledger.job.edits import add_circuit, with_part
from robust_ledger.job.files import job_text, read_job, write_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.whole import write_text
from robust_ledger.jobbook.disk import OnDisk
from robust_ledger.jobbook.home import close_to_others
from robust_ledger.jobbook.lock import JobLock
from robust_ledger.jobbook.log import _Wordless
from robust_ledger.jobbook.runs import Run

SRC = Path(__file__).parent.parent / "src" / "robust_ledger"
NEVER = (
    "../.bashrc", "../.config/autostart/x.desktop", "photos/../../x.png", "/etc/passwd.png", "~/x.png", "C:\\x.png", "..\\x.png", "c:x.png",
    ".bashrc", ".config/autostart/x.png", "photos/.hidden.png", "x.desktop", "bin/ls", "Makefile", "job.ledger.json", "run.sh", "a.png.desktop",
    "con.png", "photos/NUL.csv", "aux", "", ".", "..", "a\0.png", "a\n.png", "x" * 300 + ".png", "/".join("abcdefgh") + ".png", "photos/",
)  # fmt: skip
GOOD = ("photos/meter-0123456789.jpg", "clean-year.csv", "usage/2025/feed.xml", "./photos/a b (1).PNG", "r.TXT")


def with_photo(*names: str) -> Job:
    """A job of somebody else's, as it may come by mail."""
    return replace(house(1500), circuits=(Circuit(tag=1, feeds="pantry", photos=names),))


# --- names ------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("name", NEVER)
def test_a_name_that_leads_anywhere_else_is_refused_in_a_part_of_a_sentence(name, tmp_path):
    with pytest.raises(DoorError) as refused:
        inside(tmp_path, name)
    assert re.fullmatch(r"(its name|it) [a-z' ,]+", str(refused.value.strerror))


@pytest.mark.parametrize("name", GOOD)
def test_a_picture_or_a_recording_in_the_folder_is_not(name, tmp_path):
    put_inside(tmp_path, name, b"x")
    assert read_inside(tmp_path, name) == b"x" and inside(tmp_path, name).is_relative_to(tmp_path)


@pytest.mark.parametrize("name", [one for one in NEVER if one.isprintable() and len(one) < 200])
def test_a_job_that_names_it_opens_and_saved_elsewhere_writes_nothing_of_it(name, tmp_path):
    theirs, mine = tmp_path / "share" / "jobs", tmp_path / "me" / "jobs"
    theirs.mkdir(parents=True)
    mine.mkdir(parents=True)
    for place in (theirs.parent / ".bashrc", theirs.parent / ".config" / "autostart" / "x.desktop", theirs / ".bashrc"):
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text("theirs")
    path = theirs / "a.ledger.json"
    path.write_text(job_text(with_photo(name)))
    store, said = JobStore(tmp_path / "home"), []
    store.noticed.connect(lambda words, _serious: said.append(words))
    store.open_job(read_job(path), path, disk=OnDisk.of(path))
    assert all(store.beside.find(one) is None for one in store.job.attachments)
    store.save(mine / "b.ledger.json")
    outside = [p for p in (tmp_path / "me").rglob("*") if p.is_file() and p.parent != mine] + [
        p for p in mine.iterdir() if p.name not in ("b.ledger.json",)
    ]
    assert outside == [], "nothing but the job itself was written"
    assert read_job(mine / "b.ledger.json").circuits == store.job.circuits, "and the job still has what it had"
    assert len(said) == len(store.job.attachments) and all(
        one.endswith(".") and "could not be put beside it" in one for one in said
    )
    store.photos_wait = False
    store.close()


@pytest.mark.parametrize("linked", ["file", "folder"])
def test_a_link_on_the_way_is_not_followed_to_read_or_to_write(linked, tmp_path):
    secret, folder, other = tmp_path / "secret", tmp_path / "jobs", tmp_path / "other"
    for one in (secret, folder, other):
        one.mkdir()
    (secret / "a.png").write_text("the user's own")
    if linked == "file":
        (folder / "photos").mkdir()
        (folder / "photos" / "a.png").symlink_to(secret / "a.png")
    else:
        (folder / "photos").symlink_to(secret)
    for act in (
        lambda: inside(folder, "photos/a.png"),
        lambda: read_inside(folder, "photos/a.png"),
        lambda: put_inside(folder, "photos/a.png", b"theirs"),
    ):
        with pytest.raises(DoorError, match="a link is on the way"):
            act()
    assert (secret / "a.png").read_text() == "the user's own"
    (tmp_path / "by-a-link").symlink_to(other)
    put_inside(tmp_path / "by-a-link", "photos/a.png", b"x")
    assert (other / "photos" / "a.png").read_bytes() == b"x", "the folder itself may be reached by a link"


def test_unsaved_work_of_a_hostile_job_stays_in_the_journal(tmp_path):
    """The files of a job without a folder are kept in the journal: under their names, and only there."""
    store = JobStore(tmp_path / "home")
    (tmp_path / "a.png").write_bytes(b"x")
    store.edit("x", lambda _job: with_photo("../../escaped.png"))
    assert "leads out" in store.journal.keeps_file("../../escaped.png", tmp_path / "a.png", store.beside.found)
    assert not list(tmp_path.rglob("escaped.png"))
    store.close()


# --- handing out ------------------------------------------------------------------------------------------------------
OUT = (
    ("export", "circuits", "--out"), ("fieldbook", "--out"), ("export", "material", "--out"), ("export", "loads", "--out"),
)  # fmt: skip


@pytest.mark.parametrize("words", OUT)
@pytest.mark.parametrize("over", ["itself", "another job", "its link", "profile", "a device", "a folder", "a link"])
def test_an_output_takes_the_place_of_no_job_device_or_link(words, over, tmp_path, capsys):
    job, other, profile = tmp_path / "a.json", tmp_path / "b.csv", tmp_path / "p.csv"
    write_job(house(1500), job)
    other.write_text(job_text(house(1200)))
    profile.write_text('{"kind": "utility", "format": "robust-ledger-profile"}')
    (tmp_path / "l.csv").symlink_to(job)
    (tmp_path / "m.csv").symlink_to(tmp_path / "mine.txt")
    (tmp_path / "mine.txt").write_text("mine")
    target = {
        "itself": job,
        "another job": other,
        "its link": tmp_path / "l.csv",
        "profile": profile,
        "a device": Path("/dev/full"),
        "a folder": tmp_path,
        "a link": tmp_path / "m.csv",
    }[over]
    before = {one: one.read_bytes() for one in tmp_path.iterdir()}
    head, *rest = words
    assert main([head, str(job), *rest, str(target)]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and "could not be written: " in said
    assert {one: one.read_bytes() for one in tmp_path.iterdir()} == before and Path("/dev/full").is_char_device()


@pytest.mark.parametrize("there", ["a link", "a job", "a pipe"])
def test_no_sheet_of_a_packet_takes_the_place_of_a_job_or_goes_through_a_link(there, tmp_path, capsys):
    job, out = tmp_path / "a.ledger.json", tmp_path / "out"
    write_job(house(1500), job)
    out.mkdir()
    target, mine = out / "a-permit.pdf", tmp_path / "mine.txt"
    mine.write_text("mine")
    if there == "a link":
        target.symlink_to(mine)
    elif there == "a job":
        target.write_text(job_text(house(1200)))
    else:
        os.mkfifo(target)
    assert main(["papers", str(job), "--out", str(out), "--packet", "permit"]) == 2
    assert "a-permit.pdf could not be written: " in capsys.readouterr().err and mine.read_text() == "mine"
    assert there != "a job" or target.read_text() == job_text(house(1200))


def test_what_is_no_job_gives_way_as_before(tmp_path, capsys):
    """Twins of the above: a table over a table, a book over a book, a JSON that is somebody else's."""
    job = tmp_path / "a.ledger.json"
    write_job(house(1500), job)
    for words, name in ((("export", "circuits"), "t.csv"), (("fieldbook",), "f.html"), (("export", "loads"), "x.xlsx")):
        for _ in range(2):
            head, *rest = words
            assert main([head, str(job), *rest, "--out", str(tmp_path / name)]) == 0
    (tmp_path / "n.json").write_text('{"format": "another"}')
    assert hand_out_text(tmp_path / "n.json", "x").read_text() == "x"
    with pytest.raises(DoorError, match="the name of a job"):
        hand_out_text(tmp_path / "new.ledger.json", "x")


def test_no_writer_at_all_takes_the_place_of_a_device_or_a_link(tmp_path):
    (tmp_path / "a").symlink_to(tmp_path / "b")
    os.mkfifo(tmp_path / "c")
    for name, words in (("a", "is a link"), ("c", "is a pipe or a device")):
        with pytest.raises(OSError, match=words):
            write_text(tmp_path / name, "x")


# --- one writer -------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("command", ["import", "callout", "arrange", "profile"])
def test_no_command_writes_into_a_job_that_is_open_on_a_desk(command, tmp_path, capsys, monkeypatch):
    job, table = tmp_path / "a.ledger.json", tmp_path / "t.csv"
    write_job(add_circuit(house(1500), Circuit(tag=1, spaces=("1",), breaker_a=20, gauge="12", feeds="pantry")), job)
    table.write_text("tag,feeds\n1,den\n")
    monkeypatch.setattr("robust_ledger.cli.jobs.spoken_lines", lambda: ["3 20 12 hall"])
    assert main(["profile", "keep", str(job), "company", "mine"]) == 0
    words = {
        "import": ["import", str(job), "circuits", str(table)],
        "callout": ["callout", str(job)],
        "arrange": ["arrange", str(job), "--take", "1"],
        "profile": ["profile", "put", str(job), "company", "mine"],
    }[command]
    desk, before = JobLock(job), job.read_bytes()
    assert desk.take() is None
    capsys.readouterr()
    assert main(words) == 2 and "is open: " in capsys.readouterr().err and job.read_bytes() == before
    desk.release()
    assert main(words) == 0 and sorted(one.name for one in tmp_path.glob(".*.lock")) == []


def test_a_job_is_written_only_by_who_has_it(tmp_path):
    """Whoever calls for a job to be written has taken its lock: two places do, and whoever writes a new one uses `write_new_job`."""
    callers = [path.relative_to(SRC).as_posix() for path in SRC.rglob("*.py") if "write_job(" in path.read_text()]
    assert sorted(callers) == ["cli/alone.py", "desk/kit/store.py", "job/files.py"]
    path = tmp_path / "a.ledger.json"
    assert main(["new", str(path)]) == 0 and main(["new", str(path)]) == 2


# --- one way in and out -----------------------------------------------------------------------------------------------
FREE = {  # what each of these may do itself: it is the door, or holds a file of our own state by its descriptor
    "job/doors.py", "job/whole.py", "jobbook/lock.py", "jobbook/held.py", "jobbook/journal.py", "jobbook/runs.py", "jobbook/index.py",
    "jobbook/log.py", "practice/progress.py", "desk/kit/settings.py", "jobbook/home.py",
}  # fmt: skip
CALLS = {
    "open", "read_bytes", "read_text", "write_bytes", "write_text", "copyfile", "copy2", "copytree", "mkstemp", "fdopen",
    "NamedTemporaryFile", "symlink", "symlink_to", "hardlink_to", "from_path", "from_filelike",
}  # fmt: skip
PACKAGE = ("__file__", "files(", "FOLDER", "EDITION_DATA", "HELP", "page.read_text")  # what ships with the program
OWN_WAYS = {
    ("desk/shell/window.py", "self.find_panel.open"), ("exchange/apart.py", "CalamineWorkbook.from_filelike"),
}  # fmt: skip


def test_every_file_is_read_and_written_by_way_of_the_doors():
    found = []
    for path in sorted(SRC.rglob("*.py")):
        name = path.relative_to(SRC).as_posix()
        if name in FREE:
            continue
        text = path.read_text()
        for node in ast.walk(ast.parse(text)):
            if not isinstance(node, ast.Call):
                continue
            called = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
            if called not in CALLS:
                continue
            words = ast.unparse(node)
            if any(one in words for one in PACKAGE):
                continue
            if (name, ast.unparse(node.func)) in OWN_WAYS or ast.unparse(node.func) in (
                "gzip.open",
                "temporary.write_bytes",
            ):
                continue
            if called == "write_text" and isinstance(node.func, ast.Name):
                continue  # the door's own
            found.append(f"{name}:{node.lineno} {words[:60]}")
    assert found == []


# --- state ------------------------------------------------------------------------------------------------------------
def open_to_others(folder: Path) -> list[str]:
    every = [folder, *folder.rglob("*")]
    return [str(one) for one in every if not one.is_symlink() and one.stat().st_mode & 0o077]


def test_what_is_kept_of_a_job_is_nobody_elses_to_read(tmp_path):
    home, old = tmp_path / "state" / "home", os.umask(0)
    try:
        store, run = JobStore(home), Run(home / "runs")
        (tmp_path / "a.png").write_bytes(b"x")
        store.edit("x", lambda job: with_part(job, "heading", address="9 Alder Street"))
        store.attach(tmp_path / "a.png")
        store.journal.is_safe()
        store.save(tmp_path / "a.ledger.json")
        store.typing("call-out line", "7 twen", None, waits=True)
        run.note("an edit")
        assert main(["profile", "keep", str(tmp_path / "a.ledger.json"), "company", "mine", "--new-jobs"]) == 0
    finally:
        os.umask(old)
    assert open_to_others(home) == [] and len(list(home.rglob("*"))) > 8
    assert (tmp_path / "a.ledger.json").stat().st_mode & 0o777 == 0o644, "the job itself is the user's to share"
    store.close()
    run.end()


def test_older_state_is_closed_at_the_start_and_nothing_else_is(tmp_path):
    home = tmp_path / "home"
    for name in ("recovery/a/journal", "history/b/v.json.gz", "profiles/c.json", "desk.log.1", "notes/mine.txt"):
        (home / name).parent.mkdir(parents=True, exist_ok=True)
        (home / name).write_text("x")
    (tmp_path / "target").write_text("x")
    (home / "history" / "link").symlink_to(tmp_path / "target")
    for one in (home, *home.rglob("*")):
        if not one.is_symlink():
            one.chmod(0o755 if one.is_dir() else 0o644)
    assert close_to_others(home) > 8 and close_to_others(home) == 0
    assert {Path(one).name for one in open_to_others(home)} == {"notes", "mine.txt"}
    assert (tmp_path / "target").stat().st_mode & 0o777 == 0o644, "no link is followed"


@pytest.mark.parametrize("logger", ["robust_ledger.desk.kit.worker", "another.package"])
def test_neither_log_nor_report_has_a_word_of_the_job(logger, tmp_path):
    run = Run(tmp_path / "runs")
    try:
        raise ValueError("no such street: 9 Alder Street")
    except ValueError as problem:
        found = (ValueError, problem, problem.__traceback__)
        record = logging.LogRecord(logger, 40, __file__, 1, "work beside the window failed", ("9 Alder Street",), found)
        if logger == "another.package":
            record.msg = "cannot draw 9 Alder Street"
        text = _Wordless().format(record)
    assert "Alder" not in text and "ValueError" in text and "test_doors.py" in text
    run.end()


AUDIT = """
import json, os, sys
written = set()
def watch(event, arguments):
    if event == "open" and isinstance(arguments[0], (str, bytes)):
        mode, flags = arguments[1] or "", arguments[2] or 0
        if any(c in mode for c in "wax+") or flags & (os.O_WRONLY | os.O_RDWR | os.O_CREAT | os.O_TRUNC):
            written.add(os.path.abspath(os.fsdecode(arguments[0])))
    elif event in ("os.rename", "os.link", "os.symlink"):
        written.add(os.path.abspath(os.fsdecode(arguments[1])))
    elif event in ("os.remove", "os.mkdir", "os.rmdir", "os.chmod", "os.truncate", "sqlite3.connect"):
        below = len(arguments) > 1 and event in ("os.remove", "os.rmdir") and arguments[-1] != -1  # within a folder that is open
        name = os.fsdecode(arguments[0]) if isinstance(arguments[0], (str, bytes)) and not below else ""
        if name and name != ":memory:":
            written.add(os.path.abspath(name.removeprefix("file:").partition("?")[0]))
sys.addaudithook(watch)
sys.dont_write_bytecode = True
from robust_ledger.cli import main
codes = []
for words in json.loads(sys.argv[1]):
    codes.append(main(words))
print("\\n" + json.dumps({"codes": codes, "written": sorted(written)}))
"""


def test_no_command_writes_outside_the_jobs_folder_and_state(tmp_path):
    """Every command, on a job that names files anywhere, under a tracer that lists what was opened to be written, made or moved."""
    folder, home, out = tmp_path / "jobs", tmp_path / "home", tmp_path / "jobs" / "out"
    folder.mkdir()
    job = str(folder / "a.ledger.json")
    made = add_circuit(
        with_photo(*(name for name in NEVER if name.isprintable() and len(name) < 200)),
        Circuit(tag=3, spaces=("3",), breaker_a=20, gauge="12", feeds="den"),
    )
    write_job(made, Path(job))
    (folder / "t.csv").write_text("tag,feeds\n1,den\n")
    (folder / "r.csv").write_text(
        "start,kWh\n" + "".join(f"2025-07-01 {h:02}:{m:02},1\n" for h in range(24) for m in (0, 15, 30, 45))
    )
    commands = [
        ["plan", job], ["plan", job, "--json"], ["check", job], ["papers", job, "--out", str(out)],
        ["papers", job, "--out", str(out), "--packet", "permit"], ["export", job, "circuits", "--out", str(out / "c.csv")],
        ["export", job, "loads", "--out", str(out / "l.xlsx")], ["import", job, "circuits", str(folder / "t.csv")], ["fieldbook", job],
        ["new", str(folder / "n")], ["facts", job], ["arrange", job, "--take", "1"], ["day", job], ["record", job],
        ["book", str(folder), "den"], ["profile", "keep", job, "company", "mine"], ["profile", "list"], ["profile", "show", "company", "mine"],
        ["profile", "put", job, "company", "mine"], ["practice", "--level", "5", "--out", str(folder)], ["demand", str(folder / "r.csv")],
        ["simulate", job, "--years", "2"], ["doctor"],
    ]  # fmt: skip
    environment = {**os.environ, "ROBUST_LEDGER_HOME": str(home), "TMPDIR": str(tmp_path / "tmp")}
    (tmp_path / "tmp").mkdir()
    ran = subprocess.run(
        [sys.executable, "-c", AUDIT, json.dumps(commands)],
        capture_output=True,
        text=True,
        env=environment,
        timeout=170,
    )
    told = json.loads(ran.stdout.splitlines()[-1])
    assert len(told["codes"]) == len(commands) and 2 not in told["codes"][:-2], ran.stderr
    allowed = (str(folder), str(home), str(tmp_path / "tmp"), "/dev/null")
    outside = [one for one in told["written"] if not one.startswith(allowed) and "__pycache__" not in one]
    assert outside == [] and len(told["written"]) > 40
    assert list((tmp_path / "tmp").iterdir()) == []
