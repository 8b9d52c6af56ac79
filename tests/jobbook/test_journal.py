"""The journal of an open job: whatever is cut off, and wherever, what was written down before reads back."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from builders import called_out, circuit, house
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.job.edits import add_circuit, change_circuit, remove_circuits, with_part
from robust_ledger.job.files import write_job
from robust_ledger.job.parts.base import AsGiven
from robust_ledger.jobbook import journal as journals
from robust_ledger.jobbook.journal import JOURNAL, Journal, line_of, record_of
from robust_ledger.jobbook.unsaved import left_behind, of_file

BLANK = house(1500)
ONE = with_part(BLANK, "heading", title="Tern Street 4")
TWO = add_circuit(ONE, circuit(1, feeds="kitchen"))


@pytest.fixture
def journal(tmp_path):
    """A journal with two edits."""
    made = Journal(tmp_path / "recovery")
    assert made.edited("change title", ONE) == "" and made.edited("call out tag 1", TWO) == ""
    return made


def waiting(journal: Journal):
    """What a next run finds once this one has ended."""
    journal.abandon()
    (one,) = left_behind(journal.root).waiting
    return one


def test_edits_read_back_with_what_was_done_last(journal):
    one = waiting(journal)
    assert (one.job, one.last, one.path, one.unread) == (TWO, "call out tag 1", None, ())


def test_a_living_run_keeps_its_journal_to_itself(journal):
    assert left_behind(journal.root).waiting == ()
    journal.end()
    assert list(journal.root.iterdir()) == [], "a job put away leaves nothing"


def test_another_process_with_the_same_number_hides_nothing(journal):
    """The journal is held by its run, not known by a number: only that it is held counts."""
    journal.abandon()
    (folder,) = journal.root.iterdir()
    assert str(os.getpid()) not in folder.name and len(left_behind(journal.root).waiting) == 1


def test_what_is_being_typed_is_taken_in(journal):
    journal.typing("Title", "Tern Street 44", TWO, with_part(TWO, "heading", title="Tern Street 44"))
    one = waiting(journal)
    assert one.job.heading.title == "Tern Street 44" and one.job.circuits == TWO.circuits and one.unread == ()


@pytest.mark.parametrize("how", ["given up", "edited"])
def test_what_was_typed_and_given_up_or_put_in_is_not_typed_any_more(journal, how):
    journal.typing("Title", "Tern Street 44", TWO, with_part(TWO, "heading", title="Tern Street 44"))
    journal.typed_nothing() if how == "given up" else journal.edited("x", with_part(TWO, "heading", title="9"))
    assert waiting(journal).job.heading.title == ("Tern Street 4" if how == "given up" else "9")


@pytest.mark.parametrize(("then", "waits"), [("given up", False), ("left", True), ("edited", True)])
def test_a_job_only_typed_at_waits_only_for_what_was_typed(tmp_path, then, waits):
    """Nothing of a job waits that was opened, typed at and let be: its file, or the shipped demo, has it."""
    made = Journal(tmp_path)
    made.typing("Title", "Tern Street 44", ONE, with_part(ONE, "heading", title="Tern Street 44"))
    if then == "given up":
        made.typed_nothing()
    if then == "edited":
        made.edited("call out tag 1", TWO)
    made.abandon()
    assert bool(left_behind(tmp_path).waiting) == waits


def test_fields_of_another_version_that_change_are_written_too(journal):
    after = replace(TWO, unknown=AsGiven({"later": 1}))
    journal.edited("take back a version", after)
    assert waiting(journal).job == after


def test_typing_that_cannot_be_read_is_kept_as_text_even_over_a_save(journal, tmp_path):
    journal.typing("Floor area", "12x", TWO, None)
    journal.saved(tmp_path / "a.ledger.json", TWO)
    one = waiting(journal)
    assert one.unread == (("Floor area", "12x"),) and one.job == TWO


def test_a_saved_job_waits_no_more_until_the_next_edit(journal, tmp_path):
    journal.saved(tmp_path / "a.ledger.json", TWO)
    journal.edited("change title", with_part(TWO, "heading", title="later"))
    one = waiting(journal)
    assert one.job.heading.title == "later" and one.path == tmp_path / "a.ledger.json"
    again = Journal(tmp_path / "other")
    again.edited("x", ONE)
    again.saved(tmp_path / "b.ledger.json", ONE)
    again.abandon()
    assert left_behind(again.root).waiting == () and list(again.root.iterdir()) == []


def test_work_is_found_by_its_file_whatever_way_leads_there(tmp_path):
    path, other, link = (tmp_path / name for name in ("a.ledger.json", "b.ledger.json", "link.ledger.json"))
    write_job(BLANK, path)
    link.symlink_to(path)
    made = Journal(tmp_path / "recovery")
    made.about(path, tmp_path)
    made.edited("x", ONE)
    made.abandon()
    found = left_behind(made.root)
    assert len(of_file(found, path)) == len(of_file(found, link)) == 1 and of_file(found, other) == []


@given(st.integers(0, 4000), st.booleans())
def test_a_journal_cut_anywhere_gives_a_state_it_had(cut, noise):
    """Cut after any byte, with rubbish behind it or not: what reads back is a job that was written down, never a mixture."""
    root = Path(os.environ.get("TMPDIR", "/tmp")) / f"cut-{os.getpid()}"
    made = Journal(root)
    states = [ONE, TWO, with_part(TWO, "heading", title="third"), with_part(ONE, "dwelling", area=900.0)]
    for number, job in enumerate(states):
        made.edited(f"edit {number}", job)
    file = made.folder / JOURNAL
    made.abandon()
    data = file.read_bytes()
    file.write_bytes(data[: cut % len(data)] + (b"\x00\xff{rubbish\n" if noise else b""))
    found = left_behind(root)
    assert all(one.job in states for one in found.waiting)
    whole = data[: cut % len(data)].count(b"\n") - 1  # the first line says whose journal it is
    assert [one.job for one in found.waiting] == ([states[whole - 1]] if whole > 0 else [])
    shutil.rmtree(root, ignore_errors=True)


def test_a_damaged_record_in_the_middle_stops_what_rests_on_it(journal):
    journal.edited("third", with_part(TWO, "heading", title="third"))
    file = journal.folder / JOURNAL
    journal.abandon()
    lines = file.read_bytes().splitlines(keepends=True)
    lines[2] = lines[2][:40] + b"#" + lines[2][41:]
    file.write_bytes(b"".join(lines))
    assert left_behind(journal.root).waiting[0].job == ONE


def test_a_full_disk_is_said_and_the_next_record_is_whole_again(journal, monkeypatch):
    real = os.write
    monkeypatch.setattr(journals.os, "write", lambda file, data: real(file, data[: len(data) // 2]))
    third = with_part(TWO, "heading", title="third")
    assert "no space left" in journal.edited("third", third)
    monkeypatch.setattr(journals.os, "write", real)
    assert journal.edited("fourth", with_part(third, "heading", title="fourth")) == ""
    assert waiting(journal).job == with_part(third, "heading", title="fourth")


def test_a_long_journal_begins_anew_and_loses_nothing(journal, monkeypatch):
    monkeypatch.setattr(journals, "LONGEST_BYTES", 20_000)
    job = TWO
    for number in range(300):
        job = with_part(job, "heading", title=f"title {number}", notes="x" * 200)
        journal.edited("change title", job)
    assert (journal.folder / JOURNAL).stat().st_size < 40_000
    assert waiting(journal).job == job


def test_a_read_only_folder_is_one_sentence(tmp_path):
    (tmp_path / "recovery").write_text("a file where the folder should be")
    assert "cannot be kept aside" in Journal(tmp_path / "recovery").edited("x", ONE)
    assert left_behind(tmp_path / "recovery").waiting == ()


def test_unreadable_work_is_named_and_left_where_it_is(tmp_path):
    folder = tmp_path / "0123"
    folder.mkdir()
    (folder / JOURNAL).write_bytes(b"nothing of this can be read\n")
    found = left_behind(tmp_path)
    assert found.waiting == () and found.unreadable == ("0123",) and (folder / JOURNAL).exists()


def test_photos_of_a_job_without_a_file_come_back(journal, tmp_path):
    camera = tmp_path / "camera.png"
    camera.write_bytes(b"picture")
    found: dict[str, Path] = {}
    assert journal.keeps_file("photos/camera-1.png", camera, found) == ""
    camera.unlink()  # the card is out of the reader
    journal.edited("attach a photo", with_part(TWO, "old_panel", photos=("photos/camera-1.png",)))
    ((name, path),) = waiting(journal).files
    assert name == "photos/camera-1.png" and path.read_bytes() == b"picture"


def test_a_copy_of_the_desk_before_journals_is_taken_up_too(tmp_path):
    import json

    from robust_ledger.job.files import job_text

    old = {"pid": os.getpid(), "path": None, "kept_at": "2026-01-02T03:04", "job": job_text(ONE)}
    (tmp_path / "unsaved-1.json").write_text(json.dumps(old))
    (one,) = left_behind(tmp_path).waiting
    assert one.job == ONE
    one.put_away()
    assert left_behind(tmp_path).waiting == ()


RECORDS = st.dictionaries(st.text(max_size=6), st.one_of(st.none(), st.integers(), st.text(max_size=20)), max_size=4)


@given(RECORDS, st.integers(0, 200), st.integers(1, 255))
def test_a_record_reads_back_and_a_flipped_byte_is_seen(record, at, flip):
    line = line_of(record)
    assert record_of(line) == record
    at %= len(line)
    broken = line[:at] + bytes([line[at] ^ flip]) + line[at + 1 :]
    assert record_of(broken) in (None, record)


KILLED = """
import sys
from pathlib import Path
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import blank_job
from robust_ledger.jobbook.journal import Journal
made, job = Journal(Path(sys.argv[1])), blank_job()
for number in range(100000):
    job = with_part(job, "heading", title=f"title {number}")
    made.edited("change title", job)
    print(number, flush=True)
"""


def test_a_killed_process_has_lost_no_edit_it_acknowledged(tmp_path):
    process = subprocess.Popen([sys.executable, "-c", KILLED, str(tmp_path)], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    last = ""
    while last != "40":
        last = process.stdout.readline().strip()
    process.send_signal(signal.SIGKILL)
    last = (process.stdout.read().splitlines() or [last])[-1]
    process.wait()
    (one,) = left_behind(tmp_path).waiting
    assert int(one.job.heading.title.split()[1]) >= int(last)


def test_a_job_of_many_letters_takes_up_alike():
    job = called_out(house(1500), '1 20 12 "küche – 台所 🍳"')
    assert record_of(line_of({"job": job.as_data()})) == {"job": job.as_data()}


EDITS = (
    lambda job: change_circuit(job, 2, feeds=job.circuit(2).feeds + "!") if job.circuit(2) else job,
    lambda job: change_circuit(job, 1, breaker_a=15, marks=("doubled",)) if job.circuit(1) else job,
    lambda job: add_circuit(job, circuit(job.next_tag)),
    lambda job: remove_circuits(job, {1}),
    lambda job: replace(job, circuits=job.circuits[::-1]),
    lambda job: with_part(job, "decisions", placements={"tag:1": "3"}, pins=("tag:1",)),
    lambda job: with_part(job, "panel", tandem_spaces=(1, 2, len(job.circuits))),
    lambda job: with_part(job, "dwelling", area=900.0 + len(job.circuits)),
)


@given(st.lists(st.sampled_from(EDITS), max_size=10))
def test_any_chain_of_edits_reads_back(edits):
    """Whole parts, and single items of lists that keep their length: both come back as they were."""
    root = Path(os.environ.get("TMPDIR", "/tmp")) / f"chain-{os.getpid()}"
    made, job = Journal(root), TWO
    made.edited("first", job)
    for edit in edits:
        job = edit(job)
        assert made.edited("x", job) == ""
    made.abandon()
    assert [one.job for one in left_behind(root).waiting] == [job]
    shutil.rmtree(root, ignore_errors=True)


# --- half a line, a save, a journal of nothing --------------------------------------------------------------------------
HALF = ("call-out line", "7 twenty twe")


@pytest.mark.parametrize(
    "then", ["another edit", "a save", "typing elsewhere", "a journal begun anew", "a torn record"]
)
def test_half_a_line_of_the_call_out_waits_whatever_comes_between(journal, then, tmp_path, monkeypatch):
    journal.typing(*HALF, TWO, None, waits=True)
    if then == "another edit":
        journal.edited("x", with_part(TWO, "heading", title="9"))
    elif then == "a save":
        journal.saved(tmp_path / "a.ledger.json", TWO)
    elif then == "typing elsewhere":
        journal.typing("Title", "9", TWO, with_part(TWO, "heading", title="9"))
        journal.edited("change title", with_part(TWO, "heading", title="9"))
    elif then == "a journal begun anew":
        monkeypatch.setattr(journals, "LONGEST_BYTES", 10)
        journal.edited("x", with_part(TWO, "heading", title="9"))
    else:
        journal._torn = True
        journal.edited("x", with_part(TWO, "heading", title="9"))
    one = waiting(journal)
    assert one.unread == (HALF,) and one.job.heading.title == ("Tern Street 4" if then == "a save" else "9")


@pytest.mark.parametrize("how", ["entered", "given up", "put away"])
def test_half_a_line_that_was_entered_or_given_up_does_not_wait(journal, how, tmp_path):
    journal.typing(*HALF, TWO, None, waits=True)
    journal.typed_nothing()
    if how == "put away":
        journal.end()
        assert left_behind(journal.root).waiting == () and list(journal.root.iterdir()) == []
        return
    if how == "entered":
        journal.edited("call out tag 7", add_circuit(TWO, circuit(7)))
    journal.typed_nothing(HALF[0])
    assert waiting(journal).unread == ()


def test_a_field_that_is_typed_at_goes_along_over_a_save(journal, tmp_path):
    journal.typing("Title", "Tern Street 44", TWO, with_part(TWO, "heading", title="Tern Street 44"))
    journal.saved(tmp_path / "a.ledger.json", TWO)
    assert waiting(journal).job.heading.title == "Tern Street 44"


@pytest.mark.parametrize(
    ("written", "is_told"),
    [
        (b"", False),
        (b"1a2b3c4d", False),
        (b'1a2b3c4d {"k":"sta', False),
        (b"\0" * 100, True),
        (b'1a2b3c4d {"k":"whole"', True),
    ],
)
def test_a_journal_that_was_never_begun_is_nothing_and_a_damaged_one_is_told(tmp_path, written, is_told):
    """Killed before the first record was down: nothing that was done is in it. Damage is something else."""
    (tmp_path / "0").mkdir()
    (tmp_path / "0" / JOURNAL).write_bytes(written)
    found = left_behind(tmp_path)
    assert found.waiting == () and bool(found.unreadable) == is_told == (tmp_path / "0").exists()
