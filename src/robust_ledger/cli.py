"""The command line without a screen: plan, papers, export, import, check, new, callout, facts, day and the rest. Errors are one sentence and
exit code 2."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from robust_ledger.codebook.errors import CodebookError
from robust_ledger.job.files import JobFileError, read_job, write_job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.text import reason_of, sentence_end
from robust_ledger.load.methods import NAMES, recommended_name
from robust_ledger.plan import Plan, plan

if TYPE_CHECKING:  # numpy is loaded by the two commands that need it
    from robust_ledger.callout.session import Outcome
    from robust_ledger.measure.metering.csv_reader import Guess, Reading


MOST_SPOKEN = 5_000_000  # bytes


@click.group(
    help="Robust Ledger without a screen. Without a command, robust-ledger [JOB] opens the desk; --demo opens it with the demo job."
)
def commands() -> None:
    pass


@commands.command("plan", help="Print what follows from a job.")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="the whole plan as JSON: every entry with its steps")
def plan_command(job: Path, as_json: bool) -> None:
    made = plan(read_job(job))
    if as_json:
        from robust_ledger.exchange.plan_json import plan_text

        click.echo(plan_text(made))
        return
    for line in summary(made):
        click.echo(line)


@commands.command("check", help="Print the findings; exit 1 when a STOP or FIX is open.")
@click.argument("job", type=click.Path(path_type=Path))
def check_command(job: Path) -> None:
    """The findings by kind, the worst first; what was accepted with its reason."""
    made = plan(read_job(job))
    for group in made.groups:
        cites = f" [{', '.join(str(cite) for cite in group.cites)}]" if group.cites else ""
        state = f" Accepted: {group.first.accepted}" if group.first.accepted else ""
        click.echo(
            f"{group.severity:<4}  {group.title}{sentence_end(group.title)} {group.text} {group.remedy}{cites}{state}"
        )
    serious = [f for f in made.findings if f.open and f.severity.rank <= 1]
    kinds = f" of {len(made.groups)} kinds" if len(made.groups) < len(made.findings) else ""
    click.echo(f"{len(made.findings)} findings{kinds}, {len(serious)} of them open STOP or FIX.")
    sys.exit(1 if serious else 0)


@commands.command(
    "papers", help="Write every sheet as PDF and every drawing as SVG; or one packet as a single PDF with its contents."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option(
    "--out", "folder", type=click.Path(path_type=Path), required=True, help="folder to write to; made if needed"
)
@click.option("--packet", type=click.Choice(("crew", "permit", "owner", "file")), help="only this packet, as one PDF")
@click.option("--page", type=click.Choice(("letter", "a4")), help="paper; as the job says, if not given")
def papers_command(job: Path, folder: Path, packet: str | None, page: str | None) -> None:
    """Each sheet and drawing as a file, or one packet bound."""
    from robust_ledger.job.edits import with_part
    from robust_ledger.papers.packet import write_bound, write_packet

    held = read_job(job)
    made = plan(with_part(held, "stock", page=page) if page else held)
    stem = job.name.removesuffix(".json").removesuffix(".ledger")
    if packet is None:
        paths = write_packet(made, folder, stem)
    else:
        folder.mkdir(parents=True, exist_ok=True)
        paths = [write_bound(packet, made, folder / f"{stem}-{packet}.pdf")]
    for path in paths:
        click.echo(str(path))


@commands.command("fieldbook", help="Write the field book: one HTML file for a phone, without a network.")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--out", "path", type=click.Path(path_type=Path), help="file to write; beside the job, if not given")
def fieldbook_command(job: Path, path: Path | None) -> None:
    from robust_ledger.fieldbook.book import write_book

    made = plan(read_job(job))
    stem = job.name.removesuffix(".json").removesuffix(".ledger")
    click.echo(str(write_book(made, path or job.with_name(f"{stem}-field-book.html"))))


TABLE_NAMES = ("circuits", "loads", "amendments", "torque", "material")


@commands.command(
    "export", help="Write a table of the job as CSV or XLSX: circuits, loads, amendments, torque or material."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.argument("table", type=click.Choice(TABLE_NAMES))
@click.option(
    "--out", "path", type=click.Path(path_type=Path), help="file to write, .csv or .xlsx; without it CSV is printed"
)
def export_command(job: Path, table: str, path: Path | None) -> None:
    from robust_ledger.exchange.books import csv_text, write_table
    from robust_ledger.exchange.tables import TABLES, exported

    rows = exported(TABLES[table], plan(read_job(job)))
    if path is None:
        click.echo(csv_text(rows), nl=False)
    else:
        click.echo(str(write_table(rows, path, table)))


@commands.command(
    "import", help="Take a table from CSV or XLSX into the job; rows that cannot be taken are told, exit code 1."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.argument("table", type=click.Choice(TABLE_NAMES))
@click.argument("path", type=click.Path(path_type=Path))
@click.option(
    "--column", "chosen", multiple=True, help='"Head=column" where the guess is wrong; "Head=" leaves one out'
)
@click.option("--try", "only_try", is_flag=True, help="print what would come of it, and write nothing")
def import_command(job: Path, table: str, path: Path, chosen: tuple[str, ...], only_try: bool) -> None:
    """Columns are guessed by their heads and printed; good rows come in, the others are told by row and column."""
    from robust_ledger.exchange.books import TableError, read_table
    from robust_ledger.exchange.tables import TABLES, guessed, imported

    held = read_job(job)
    try:
        rows = read_table(path)
    except TableError as problem:
        raise click.ClickException(str(problem)) from None
    known = TABLES[table]
    columns = guessed(rows[0], known)
    for one in chosen:
        head, _, name = one.partition("=")
        if head not in rows[0] or (name and name not in known.columns):
            raise click.ClickException(f'"{one}": there is no such column; the file has {", ".join(rows[0])}.')
        columns = ["" if name and column == name else column for column in columns]
        columns[rows[0].index(head)] = name
    for head, name in zip(rows[0], columns, strict=True):
        click.echo(f"{head} -> {name or 'left out'}")
    taken = imported(rows, columns, known, held)
    click.echo(f"{taken.good} rows taken, {len(taken.faults)} left")
    for fault in taken.faults:
        click.echo(fault.sentence)
    if not only_try and taken.good:
        write_job(taken.job, job)
    sys.exit(1 if taken.faults else 0)


@commands.command("new", help="Make a blank job.")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--spaces", type=click.IntRange(2, 200), help="spaces of the old panel")
def new_command(job: Path, spaces: int | None) -> None:
    """A job with nothing in it; a file that is there is left alone."""
    from robust_ledger.job.edits import with_part
    from robust_ledger.job.job import blank_job

    path = job if job.name.endswith(".json") else job.with_name(f"{job.name}.ledger.json")
    if path.exists():
        raise JobFileError(f"{path.name} is there already; nothing was written.")
    made = blank_job()
    write_job(with_part(made, "old_panel", spaces=spaces) if spaces else made, path)
    click.echo(str(path))


@commands.command(
    "callout", help="Say a job line by line on standard input; a line like load: or walk: names the stage."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--try", "dry", is_flag=True, help="only say what each line means; the job stays as it is")
@click.option("--json", "as_json", is_flag=True, help="what was read, refused and asked, line by line, as JSON")
def callout_command(job: Path, dry: bool, as_json: bool) -> None:
    """Each line as it was understood, or why it was left; good lines are kept. Exit code 1 when one was left."""
    from robust_ledger.callout.session import replay
    from robust_ledger.load.edition import codebook_of

    read_job(job)  # what is wrong with it is said before anybody speaks
    lines = spoken_lines()
    with alone(job) if not dry else nullcontext():
        before = read_job(job)
        after, outcomes = replay(lines, before, codebook_of(before), "")
        if after != before and not dry:
            write_job(after, job)
    left = sum(1 for one in outcomes if one.fault)
    if as_json:
        _echo_json(outcomes, saved=after != before and not dry)
        sys.exit(1 if left else 0)
    for one in outcomes:
        text = one.text if len(one.text) <= 120 else f"{one.text[:118]}…"
        lead = f"tag {one.tag}: " if one.tag is not None else ""
        words = f'not read: "{text}": {one.fault}' if one.fault else f"{lead}{one.made}"
        words += f"   (or: {one.rival})" if one.rival else ""
        words += "".join(f"   look at this: {asked}" for asked in one.asked)
        click.echo(f"{one.number:>4}  {words}")
    click.echo(f"{len(outcomes) - left} lines accepted, {left} not read." + (" Nothing was saved." if dry else ""))
    sys.exit(1 if left else 0)


def _echo_json(outcomes: list[Outcome], saved: bool) -> None:
    """What came of each line, for another program."""
    rows = [
        {
            "line": one.number, "text": one.text, "stage": one.stage, "tag": one.tag, "read": one.made, "refused": one.fault,
            "asked": list(one.asked), "or": one.rival, "not_understood": list(one.struck),
        }
        for one in outcomes
    ]  # fmt: skip
    click.echo(json.dumps({"saved": saved, "lines": rows}, indent=2, ensure_ascii=False))


@commands.command("facts", help="Print a job as lines that callout reads in again.")
@click.argument("job", type=click.Path(path_type=Path))
def facts_command(job: Path) -> None:
    """In the trade's tongue where somebody would say it so, else as set lines."""
    from robust_ledger.callout.facts import facts

    for line in facts(read_job(job)):
        click.echo(line)


def spoken_lines() -> list[str]:
    """The lines of standard input: UTF-8, UTF-16 with its mark, else as an old Windows machine writes. Raises JobFileError when
    there is no end to them."""
    source = getattr(sys.stdin, "buffer", None)
    if source is None:
        return sys.stdin.read().splitlines()
    data = source.read(MOST_SPOKEN + 1)
    if len(data) > MOST_SPOKEN:
        raise JobFileError(
            f"There is more on standard input than anybody calls out ({MOST_SPOKEN // 1_000_000} MB at most)."
        )
    encoding = "utf-16" if data.startswith((b"\xff\xfe", b"\xfe\xff")) else "utf-8-sig"
    try:
        return str(data, encoding).splitlines()
    except UnicodeDecodeError:
        return str(data, "cp1252", "replace").splitlines()


@contextmanager
def alone(path: Path) -> Iterator[None]:
    """Have a job to oneself, from reading it to writing it. Raises JobFileError, naming who has it open."""
    from robust_ledger.jobbook.lock import JobLock

    lock = JobLock(path)
    if (holder := lock.take()) is not None:
        raise JobFileError(f"{path.name} is open: {holder.words}; nothing was written.")
    try:
        yield
    finally:
        lock.release()


@commands.command(
    "arrange", help="Arrange the new panel: the layouts with their splices and legs, and what would save splices."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--take", type=click.IntRange(1, 3), help="write the layout of this number into the job")
@click.option("--panel", "panel_id", default=MAIN, help="id of the panel to arrange; the main one without it")
def arrange_command(job: Path, take: int | None, panel_id: str) -> None:
    """Each arrangement on a line, proven or with the gap left; exit code 1 when nothing fits."""
    from robust_ledger.job.edits import place
    from robust_ledger.measure.simulate.basis import wanted_of
    from robust_ledger.panel.arrange import TooLongError
    from robust_ledger.panel.request import advise, arrange

    before = read_job(job)
    whole = plan(before)
    if panel_id not in whole.benches:
        raise click.ClickException(f'There is no panel "{panel_id}"; there are {", ".join(whole.benches)}')
    made = whole.seen_from(panel_id)
    wanted = wanted_of(made)
    click.echo(f"As it is:            {made.bench.splices.text()} splices")
    try:
        answer = arrange(wanted)
    except TooLongError as problem:
        raise click.ClickException(str(problem)) from None
    if not answer.options:
        click.echo(f"No arrangement: {'; '.join(answer.conflict)}.")
        sys.exit(1)
    for number, option in enumerate(answer.options, 1):
        proof = "proven" if option.proven else f"gap {option.gap:.2f}"
        click.echo(
            f"{number}  {option.name + ':':<26}{option.splices} splices, legs {option.imbalance_a:.1f} A apart, {proof}, {option.seconds:.2f} s"
        )
    for words in advise(wanted, answer.options[0]) if answer.options[0].splices else ():
        click.echo(f"   {words}")
    if take is not None and take <= len(answer.options):
        with alone(job):
            if read_job(job) != before:
                raise JobFileError(f"{job.name} was changed while it was being arranged; nothing was written.")
            write_job(place(before, answer.options[take - 1].placements, panel_id), job)
        click.echo(f"Layout {take} written into {job.name}.")


@commands.command(
    "day", help="Plan the changeover day: its tasks, the dark minutes, trips, and when the power is back."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--people", type=click.IntRange(1, 2), help="as the job says, if not given")
@click.option("--date", "on", help="the day, like 2026-12-01")
@click.option("--start", help="when the day begins, like 7:30")
@click.option("--promise", help="when the power was promised to be back, like 17:00")
@click.option(
    "--learn", multiple=True, type=click.Path(path_type=Path), help="a job whose day is over: take its minutes"
)
@click.option("--json", "as_json", is_flag=True, help="tasks with times and people, as JSON")
def day_command(
    job: Path,
    people: int | None,
    on: str | None,
    start: str | None,
    promise: str | None,
    learn: tuple[Path, ...],
    as_json: bool,
) -> None:
    """The best day, proven; exit code 1 when the promise cannot be kept."""
    from robust_ledger.changeover.clock import clock_text, read_clock, read_date
    from robust_ledger.changeover.demands import DayError
    from robust_ledger.changeover.learned import gathered
    from robust_ledger.changeover.live import durations
    from robust_ledger.changeover.told import day_data, day_lines, missing, planned_job, promise_words
    from robust_ledger.job.edits import with_part
    from robust_ledger.job.parts.base import ModelError

    try:
        said: dict[str, Any] = {"people": people, "date": None if on is None else read_date(on)}
        said |= {name: clock_text(read_clock(text)) for name, text in (("start", start), ("promise", promise)) if text}
        if learn:
            said["own_minutes"] = gathered(durations(plan(read_job(path)).changeover) for path in learn)
        named = {name: value for name, value in said.items() if value is not None}
        room = plan(with_part(read_job(job), "day", **named)).changeover
        made, lacking = planned_job(room), missing(room)
    except (DayError, ValueError) as problem:
        words = problem.sentence if isinstance(problem, ModelError) else str(problem)
        raise click.ClickException(words) from None
    if as_json:
        click.echo(json.dumps({**day_data(made), "not_known": list(lacking)}, indent=2, ensure_ascii=False))
    else:
        for line in day_lines(made):
            click.echo(line)
        for words in lacking:
            click.echo(f"Not in it: {words}")
        if words := promise_words(made):
            click.echo(words)
    sys.exit(0 if made.kept else 1)


@commands.command(
    "record",
    help="Print how the changeover day stands: holds, torques, voltages, circuits; exit 1 while something is open.",
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="the same as JSON")
def record_command(job: Path, as_json: bool) -> None:
    """Holds with their open items, terminations that are not done, voltages with their judgement, circuits not yet on."""
    from robust_ledger.changeover.recorded import is_over, record_data, record_lines

    room = plan(read_job(job)).changeover
    if as_json:
        click.echo(json.dumps(record_data(room), indent=2, ensure_ascii=False))
    else:
        for line in record_lines(room):
            click.echo(line)
    sys.exit(0 if is_over(room) else 1)


@commands.command(
    "demand", help="Read a recording (CSV or ESPI XML) and print its maximum demand and what is wrong in it."
)
@click.argument("recording", type=click.Path(path_type=Path))
@click.option("--unit", help='kWh, Wh, kW, W, A or "register kWh", where the guess is wrong')
@click.option("--column", type=int, help="column of the readings, counted from 1, where the guess is wrong")
def demand_command(recording: Path, unit: str | None, column: int | None) -> None:
    """Maximum demand, coverage, faults and what is missing, one to a line."""
    from robust_ledger.measure.metering.checks import checked
    from robust_ledger.measure.metering.demand import reduce
    from robust_ledger.measure.metering.read import guess_file, read_recording
    from robust_ledger.measure.metering.recording import MeterFileError

    try:
        found = guess_file(recording)
        if found and not found.unit_known and not unit:
            raise click.ClickException("No column head names a unit; say it with --unit, like --unit kWh.")
        made = reduce(checked(read_recording(recording, _as_asked(found, unit, column))))
    except MeterFileError as problem:
        raise click.ClickException(str(problem)) from None
    for doubt in found.doubts if found and not (unit or column) else ():
        click.echo(f"To confirm: {doubt}")
    click.echo(f"Maximum demand:      {made.peak_text}")
    click.echo(
        f"Recording:           {made.days:.1f} days every {made.series.interval_min} min, {made.coverage * 100:.1f}% there"
    )
    for words in (*made.series.notes, *(f"{issue.kind}: {issue.words}" for issue in made.series.issues)):
        click.echo(f"  {words}")
    for words in made.missing:
        click.echo(f"  missing: {words}")


def _as_asked(found: Guess | None, unit: str | None, column: int | None) -> Reading | None:
    """The guessed way of reading, with what the user has said instead."""
    if found is None or not (unit or column):
        return found.reading if found else None
    from robust_ledger.measure.metering.csv_reader import Reading

    changed = {"unit": unit or found.reading.unit, "columns": [column - 1] if column else found.reading.columns}
    return Reading.from_dict({**found.reading.as_dict(), **changed})


@commands.command(
    "simulate", help="Simulate years of the house of a job: what flows, and how often the main would trip."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--years", type=click.IntRange(1, 1000), default=50, show_default=True)
@click.option("--seed", type=click.IntRange(0), default=1, show_default=True)
def simulate_command(job: Path, years: int, seed: int) -> None:
    """What flows in many made-up years, how often the main would trip, and what a clamp reading is worth."""
    from robust_ledger.measure.simulate.house import house_of
    from robust_ledger.measure.simulate.study import study

    house = house_of(plan(read_job(job)))
    if house is None or not house.sources:
        raise click.ClickException(
            "There is nothing to simulate: the job needs a floor area, loads or circuits, and a main."
        )
    made = study(house, years, seed)
    low, middle, high = (part * 100 for part in made.clamp_quantiles())
    click.echo(f"Breaker handles:     {house.handles_a:g} A behind a main of {house.main_a:g} A")
    click.echo(
        f"Most that flowed:    {made.highest_a:.0f} A in {years} years, half of them below {made.peak_quantile_a(0.5):.0f} A"
    )
    click.echo(f"The main would trip: in {made.trip_chance * 100:.0f}% of the years")
    click.echo(f"A clamp at 3 pm:     {middle:.0f}% of the year's peak, {low:.0f} to {high:.0f}% on eight days of ten")


def summary(made: Plan) -> list[str]:
    """The bottom line in words, one figure a line."""
    shown = {
        "Load": made.load.chosen.amperes,
        "Main": made.service.main,
        "Service conductors": made.service.conductors,
        "Neutral": made.service.neutral,
        "GEC": made.service.gec,
        "Spaces used": made.bench.spaces_used,
        "Spaces open": made.bench.spaces_left,
        "Leg A": made.bench.legs[0],
        "Leg B": made.bench.legs[1],
    }
    for panel_id in list(made.benches)[1:]:
        bench, name = made.benches[panel_id], panel_name(made.job, panel_id).capitalize()
        shown[f"{name} open"] = bench.spaces_left
        if (carried := made.entries.get(f"feeder.{panel_id}.carried")) is not None:
            shown[f"{name} load"] = carried
    advice = recommended_name(made.load.recommended)
    used = made.job.decisions.load_method
    words = "recommended" if used == advice else f"recommended: {NAMES[advice]}" if advice else "none recommended yet"
    lines = [f"{'Method:':<21}{NAMES[used]} ({words})"]
    lines += [f"{label + ':':<21}{entry.text()}" for label, entry in shown.items()]
    lines += [f"  not known: {entry.label}: {entry.why_unknown}" for entry in shown.values() if not entry.known][:1]
    return [*lines, f"{'Open findings:':<21}{sum(f.open for f in made.findings)}"]


def main(arguments: list[str]) -> int:
    """Run one command; returns the exit code."""
    try:
        commands.main(arguments, prog_name="robust-ledger", standalone_mode=False)
    except click.ClickException as problem:
        return _fail(f"{problem.format_message().rstrip('.')}.")
    except (JobFileError, CodebookError) as problem:
        return _fail(str(problem))
    except OSError as problem:
        return _fail(f"{problem.filename or 'A file'} could not be written: {reason_of(problem)}.")
    except click.exceptions.Exit as ended:
        return ended.exit_code
    except click.Abort:
        return 130
    except SystemExit as ended:
        return int(ended.code or 0)
    return 0


def _fail(sentence: str) -> int:
    click.echo(sentence, err=True)
    return 2
