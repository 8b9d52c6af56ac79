"""Hostile input: job files, recordings, call-out lines and pasted rows, made wrong where they are read. A sentence is the only
answer to what is wrong, within bounds of time and memory."""

from __future__ import annotations

import json
import os
import random
import tempfile
import time
import traceback
from copy import deepcopy
from pathlib import Path
from typing import Any

from robust_ledger.callout.facts import facts
from robust_ledger.callout.session import lines_of_rows, replay
from robust_ledger.callout.stages import GRAMMARS, Context, read_line
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.exchange.books import TableError, read_table, write_table
from robust_ledger.exchange.tables import TABLES, exported, guessed, imported
from robust_ledger.job.doors import DoorError, put_inside, read_inside
from robust_ledger.job.files import JobFileError, job_bytes, parse_job, read_job, text_of
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.base import Model
from robust_ledger.jobbook.book import DAMAGE, BookError, keep_in_step
from robust_ledger.jobbook.index import Index, is_damage
from robust_ledger.jobbook.profiles import (
    KINDS,
    ProfileError,
    differs,
    into,
    moved_on,
    profile_of,
    profile_text,
    read_profile,
    refreshed,
    says_lines,
)
from robust_ledger.measure.metering.checks import checked
from robust_ledger.measure.metering.demand import reduce
from robust_ledger.measure.metering.read import guess_file, read_recording
from robust_ledger.measure.metering.recording import MeterFileError
from robust_ledger.papers.packet import all_sheets, write_sheet
from robust_ledger.plan import plan

ROOT = Path(__file__).parents[2]
EXAMPLES = sorted((ROOT / "examples").glob("*.ledger.json"))
MOST_S, MOST_MB = 5.0, 250.0
VALUES: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 2, 7, 10**9, 10**18, 10**400, -(10**9), 0.0, -0.5, 1e-300, 1e9, 1e308,
    float("inf"), float("nan"), "", " ", "²",
    "٣", "\ud800", "\u202e", "\x00", "x" * 201, "W" * 3000, "<b>&amp;", "=1+1", "tag:1", "tag:999", "r3", "3a", "400", "-5",
    [], {}, [[]], {"": {}}, "台所 🍳",
    "../../etc/passwd", "1e9", "Infinity", [1, 2, 3], ["1", "1"], {"tag:1": "1"}, "2023", "1999", "cu", "removed", "later", "added",
)  # fmt: skip
LINE_WORDS = (
    "7", "9,11", "19a", "next", "-", "?", "20", "30/2", "12", "12-2", "10al", "4/0", "#12", "s7", "t3a", "r9", "kitchen", "counter", "mw", "4",
    "clamp",
    "4.1", "top", "22in", "top@2in", "free", "slack", "6in", "dbl", "cap", "=range", '"', "'", "²", "٣", "\ud800", "\u202e", "\x00",
    "9" * 400, "9" * 5000,
    "/", "@", "tag", "same", "twelve", "gauge", "amp", "nm-b", "é" * 50, "🍳", "\t", ",", ";", "1e308", "-1", "0", "x" * 100_000,
)  # fmt: skip


def mutated(data: Any, dice: random.Random) -> Any:
    """A job's data with a few of its values, keys or lists made wrong."""
    data = json.loads(json.dumps(data))
    for _ in range(dice.choice((1, 1, 2, 3, 8))):
        holder, key = _somewhere(data, dice)
        what = dice.random()
        if what < 0.6:
            holder[key] = deepcopy(dice.choice(VALUES))
        elif what < 0.7 and isinstance(holder, dict):
            holder[dice.choice(("", "x", "unknown", "\ud800", "tag", "id", "é" * 300))] = deepcopy(holder[key])
        elif what < 0.8 and isinstance(holder, dict):
            del holder[key]
        elif what < 0.9 and isinstance(holder, list):
            holder.extend([deepcopy(holder[key])] * dice.choice((1, 3, 40, 600)))
        elif isinstance(holder[key], str):
            holder[key] = holder[key] * dice.choice((0, 2, 50))
    return data


def _somewhere(data: Any, dice: random.Random) -> tuple[Any, Any]:
    """A place in nested data: its holder and its key there."""
    holder: Any = data
    while True:
        keys = list(holder) if isinstance(holder, dict) else list(range(len(holder)))
        key = dice.choice(keys)
        inner = holder[key]
        if not isinstance(inner, (dict, list)) or not inner or dice.random() < 0.15:
            return holder, key
        holder = inner


def job_files(count: int, dice: random.Random, complaints: list[str], papers_every: int = 200) -> None:
    """Job files made wrong: refused in one sentence, or planned, written back and read again."""
    shipped = [json.loads(path.read_text()) for path in EXAMPLES]
    for number in range(count):
        data = mutated(dice.choice(shipped), dice)
        text = json.dumps(data, ensure_ascii=dice.random() < 0.5, allow_nan=True)
        if dice.random() < 0.1:
            at = dice.randrange(len(text))
            text = (
                text[:at]
                + dice.choice(("", "{", '"', "\\", "9" * 5000, "[" * 3000, "\x00"))
                + text[at + dice.randrange(3) :]
            )
        with Watched(f"job {number}", text, complaints):
            try:
                job = parse_job(text_of(text.encode("utf-8", "replace"), "x"), "x.ledger.json")
            except JobFileError as problem:
                _one_sentence(str(problem), f"job {number}", complaints)
                continue
            _lived_through(job, number % papers_every == 0)
            if number % 25 == 7:  # not where every sheet is written as well
                _told_and_read_again(job)


def _lived_through(job: Job, with_papers: bool) -> None:
    made = plan(job)
    assert parse_job(job_bytes(job).decode(), "again") == job, "what is written reads back"
    assert plan(job).findings == made.findings
    if with_papers:
        with tempfile.TemporaryDirectory() as place:
            for sheet in all_sheets():
                write_sheet(sheet, made, Path(place) / f"{sheet.name}.pdf")


def _told_and_read_again(job: Job) -> None:
    """Whatever the lines of a job tell is read in again, and makes the same job but for what this version does not know."""
    after, outcomes = replay(facts(job), blank_job(), load_codebook("2023"), "")
    assert not (left := [one for one in outcomes if one.fault]), f"{left[0].text[:80]}: {left[0].fault}"
    assert known(after) == known(job), "the same job"


def known(value: Any) -> Any:
    """A part without the fields that another version of the job format has, which no line tells."""
    if isinstance(value, Model):
        return {name: known(getattr(value, name)) for name in value.__struct_fields__ if name != "unknown"}
    if isinstance(value, dict):
        return {str(key): known(one) for key, one in value.items()}
    return [known(one) for one in value] if isinstance(value, tuple) else value


PARTS = (
    "..", ".", "", "a", "photos", ".config", "autostart", "x.desktop", "x.png", "X.CSV", "~", "C:", "con.png", "\\", "é" * 90, "a b", "\n", "linked",
    "x.png.sh", "-", "%2e%2e", "．．", "a:b.png", "nul", "lpt1.txt", "…", "x" * 120 + ".jpg",
)  # fmt: skip


def paths(count: int, dice: random.Random, complaints: list[str]) -> None:
    """Names of files in jobs: a name is refused in part of a sentence, or what is written for it is in the folder, reached by no link."""
    with tempfile.TemporaryDirectory() as place:
        folder, other = Path(place) / "jobs", Path(place) / "other"
        folder.mkdir()
        other.mkdir()
        (folder / "linked").symlink_to(other)
        (other / "x.png").write_bytes(b"the user's")
        for number in range(count):
            name = dice.choice(("/", "", "", "//", "\\")) + "/".join(dice.choices(PARTS, k=dice.randrange(1, 6)))
            with Watched(f"name {name!r}", name, complaints):
                try:
                    made = put_inside(folder, name, b"theirs")
                except DoorError as problem:
                    _one_sentence(str(problem.strerror), f"name {number}", complaints)
                    continue
                real = Path(os.path.realpath(made))
                assert real.is_relative_to(folder) and not any(
                    part.startswith(".") for part in real.relative_to(folder).parts
                )
                assert read_inside(folder, name) == b"theirs"
        assert (other / "x.png").read_bytes() == b"the user's" and sorted(os.listdir(place)) == ["jobs", "other"]


def call_out(count: int, dice: random.Random, complaints: list[str]) -> None:
    """Lines and pasted rows of any words."""
    job, book = read_job(EXAMPLES[0]), load_codebook("2023")
    made = plan(job)
    for number in range(count):
        line = dice.choice((" ", "", "\t", ", ")).join(dice.choices(LINE_WORDS, k=dice.randrange(9)))
        with Watched(f"line {number}", line, complaints):
            spoken = read_line(line, Context(job, book, made), dice.choice(("", *GRAMMARS)))
            if spoken.fault:
                _one_sentence(spoken.fault.text, f"line {number}", complaints)
            if spoken.complete and spoken.edit is not None:
                spoken.edit(job).checked(job)
            if number % 20 == 0:
                rows = "\n".join("\t".join(dice.choices(LINE_WORDS[:-1], k=8)) for _ in range(5))
                replay(lines_of_rows(dice.choice(("", "tag\tspace\tbreaker\tgauge\n")) + rows), job, book)


def recordings(count: int, dice: random.Random, complaints: list[str]) -> None:
    """Recordings with rows, dates, numbers and tags made wrong."""
    folder = ROOT / "examples" / "interval-data"
    csv = (folder / "clean-year.csv").read_text().splitlines()[:400]
    feeds = [path.read_text()[:40_000] for path in folder.glob("*.xml")]
    with tempfile.TemporaryDirectory() as place:
        for number in range(count):
            lines = list(csv)
            for _ in range(dice.choice((1, 2, 5, 30))):
                row = dice.randrange(len(lines))
                cells = lines[row].split(",")
                cells[dice.randrange(len(cells))] = dice.choice(
                    (
                        "",
                        "9" * 400,
                        "1e308",
                        "-1e9",
                        "nan",
                        "9999-12-31 23:45",
                        "0001-01-01 00:00",
                        "13/13/13",
                        "\x00",
                        "²",
                        "24:60",
                        "x" * 2000,
                    )
                )
                lines[row] = dice.choice((",", ",", ",", ";", "")).join(cells)
            if dice.random() < 0.1:
                lines = [line for n, line in enumerate(lines) if n % 2]
            text, name = "\n".join(lines), "a.csv"
            if feeds and dice.random() < 0.3:
                text, name = dice.choice(feeds), "a.xml"
                for _ in range(3):
                    at = dice.randrange(len(text))
                    text = (
                        text[:at]
                        + dice.choice(("<", "9" * 30, "-", "</entry>", "&x;", "1e9", ""))
                        + text[at + dice.randrange(12) :]
                    )
            path = Path(place) / name
            path.write_text(text, errors="replace")
            with Watched(f"recording {number}", text, complaints):
                try:
                    guessed = guess_file(path)
                    reduce(checked(read_recording(path, guessed.reading if guessed else None), 30.0))
                except MeterFileError as problem:
                    _one_sentence(str(problem), f"recording {number}", complaints)


def profiles(count: int, dice: random.Random, complaints: list[str]) -> None:
    """Profiles made wrong: refused in one sentence, or put into a job, written back and compared."""
    job = read_job(EXAMPLES[0])
    shipped = [json.loads(profile_text(profile_of(job, kind, "x"))) for kind in KINDS]
    for number in range(count):
        text = json.dumps(mutated(dice.choice(shipped), dice), allow_nan=True)
        if dice.random() < 0.1:
            at = dice.randrange(len(text))
            text = text[:at] + dice.choice(("", "{", "9" * 5000, "[" * 3000, "\x00")) + text[at + dice.randrange(3) :]
        with Watched(f"profile {number}", text, complaints):
            try:
                made = read_profile(text, "x.ledger-profile.json")
            except ProfileError as problem:
                _one_sentence(str(problem), f"profile {number}", complaints)
                continue
            taken = into(job, made)
            taken.checked(job)
            assert differs(taken, made) == [] and moved_on(taken, made) == []
            refreshed(into(job, profile_of(job, made.kind, made.name)), made).job.checked(job)
            says_lines(made)
            assert read_profile(profile_text(made), "again").says == made.says


def tables(count: int, dice: random.Random, complaints: list[str]) -> None:
    """Tables of a spreadsheet with cells or bytes made wrong."""
    job = read_job(EXAMPLES[0])
    made = plan(job)
    with tempfile.TemporaryDirectory() as place:
        written = {}
        for name, table in TABLES.items():
            for suffix in (".csv", ".xlsx"):
                path = Path(place) / f"{name}{suffix}"
                write_table(exported(table, made), path, name)
                written[path] = path.read_bytes()
        for number in range(count):
            path, data = dice.choice(list(written.items()))
            torn = bytearray(data)
            for _ in range(dice.choice((1, 3, 40))):
                at = dice.randrange(len(torn))
                torn[at : at + dice.randrange(4)] = dice.choice(
                    (b"", b"\x00", b",", b'"', b"9" * 400, b"\xff\xfe", b"=1+1")
                )
                torn = torn or bytearray(b",")
            path.write_bytes(torn)
            with Watched(f"table {number}", path.name, complaints):
                try:
                    rows = read_table(path)
                    table = TABLES[path.stem]
                    taken = imported(rows, guessed(rows[0], table) if rows else [], table, job)
                    taken.job.checked(job)
                    for fault in taken.faults:
                        _one_sentence(fault.sentence, f"table {number}", complaints)
                except TableError as problem:
                    _one_sentence(str(problem), f"table {number}", complaints)


def indexes(count: int, dice: random.Random, complaints: list[str]) -> None:
    """The job book's index with bytes made wrong anywhere: the book is in step again, with every job in it."""
    with tempfile.TemporaryDirectory() as place:
        folder, file = Path(place) / "jobs", Path(place) / "book.sqlite"
        folder.mkdir()
        for path in EXAMPLES:
            (folder / path.name).write_bytes(path.read_bytes())
        first = Index(file)
        keep_in_step(first, folder)
        first.close()
        whole = file.read_bytes()
        for number in range(count):
            torn = bytearray(whole)
            for _ in range(dice.choice((1, 20, 400))):
                torn[dice.randrange(len(torn))] = dice.randrange(256)
            file.write_bytes(torn[: len(torn) if dice.random() < 0.8 else dice.randrange(len(torn))])
            for tail in ("-wal", "-shm"):
                Path(f"{file}{tail}").unlink(missing_ok=True)
            with Watched(f"index {number}", "", complaints):
                index = Index(file)
                try:
                    index.search("kitchen")
                except DAMAGE as problem:
                    if is_damage(problem):
                        index.begin_anew()
                try:
                    keep_in_step(index, folder)
                except BookError as problem:
                    _one_sentence(str(problem), f"index {number}", complaints)
                index.close()


class Watched:
    """Notes what raises, takes too long or too much."""

    def __init__(self, name: str, text: str, complaints: list[str]) -> None:
        self.name, self.text, self.complaints = name, text, complaints

    def __enter__(self) -> None:
        self.start = time.perf_counter()

    def __exit__(self, kind: Any, problem: Any, trace: Any) -> bool:
        spent_s = time.perf_counter() - self.start
        if kind is not None and issubclass(kind, Exception):
            where = traceback.extract_tb(trace)[-1]
            self.complaints.append(
                f"{self.name}: {kind.__name__} {str(problem)[:120]} at {Path(where.filename).name}:{where.lineno}"
            )
        if spent_s > MOST_S:
            self.complaints.append(f"{self.name}: {spent_s:.1f} s")
        return kind is not None and issubclass(kind, Exception)


def _one_sentence(text: str, name: str, complaints: list[str]) -> None:
    if not text or "\n" in text or "Traceback" in text or "set_int_max" in text or len(text) > 700:
        complaints.append(f"{name}: no sentence: {text[:150]!r}")


def _memory_mb(line: str) -> float:
    """What the kernel keeps of this process's memory now (VmRSS) and at most (VmHWM), MB."""
    status = dict(each.split(":", 1) for each in Path("/proc/self/status").read_text().splitlines())
    return int(status[line].split()[0]) / 1024


def hostile(count: int, seed: int = 1) -> list[str]:
    """So many hostile inputs of all kinds; answers what went wrong, each kind of complaint once."""
    dice = random.Random(seed)
    complaints: list[str] = []
    # The peak counts from here: the process may have run other tests before.
    Path("/proc/self/clear_refs").write_text("5")
    before_mb = _memory_mb("VmRSS")
    job_files(count * 4 // 10, dice, complaints)
    profiles(count * 8 // 100, dice, complaints)
    tables(count * 2 // 100, dice, complaints)
    indexes(count // 200, dice, complaints)
    paths(count * 3 // 100, dice, complaints)
    call_out(count * 37 // 100, dice, complaints)
    recordings(count // 10, dice, complaints)
    used_mb = _memory_mb("VmHWM") - before_mb
    if used_mb > MOST_MB:
        complaints.append(f"memory: {used_mb:.0f} MB")
    return complaints
