"""Commands about the work itself: the arrangement of the panel, the changeover day, its record."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import click

from robust_ledger.cli.alone import alone
from robust_ledger.cli.group import commands, dots
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.plan import plan


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
    from robust_ledger.panel.arrange import ArrangeError
    from robust_ledger.panel.request import advise, arrange

    before = read_job(job)
    whole = plan(before)
    if panel_id not in whole.benches:
        raise click.ClickException(f'There is no panel "{panel_id}"; there are {", ".join(whole.benches)}')
    made = whole.seen_from(panel_id)
    wanted = wanted_of(made)
    click.echo(f"As it is:            {made.bench.splices.text()} splices")
    try:
        answer = arrange(wanted, dots)
    except ArrangeError as problem:
        raise click.ClickException(str(problem)) from None
    if not answer.options:
        click.echo(f"No arrangement: {'; '.join(answer.conflict)}.")
        sys.exit(1)
    for number, option in enumerate(answer.options, 1):
        proof = "proven" if option.proven else f"gap {option.gap:.2f}"
        click.echo(
            f"{number}  {option.name + ':':<26}{option.splices} splices, legs {option.imbalance_a:.1f} A apart, {proof}, {option.seconds:.2f} s"
        )
    for words in advise(wanted, answer.options[0], dots).lines if answer.options[0].splices else ():
        click.echo(f"   {words}")
    if take is not None and take <= len(answer.options):
        with alone(job) as own:
            if own.job != before:
                raise JobFileError(f"{job.name} was changed while it was being arranged; nothing was written.")
            own.write(place(before, answer.options[take - 1].placements, panel_id))
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
    from robust_ledger.changeover.day_report import day_data, day_lines, missing, promise_words
    from robust_ledger.changeover.demands import DayError
    from robust_ledger.changeover.learned import gathered
    from robust_ledger.changeover.live import durations
    from robust_ledger.job.edits import with_part
    from robust_ledger.job.parts.errors import ModelError

    try:
        said: dict[str, Any] = {"people": people, "date": None if on is None else read_date(on)}
        said |= {name: clock_text(read_clock(text)) for name, text in (("start", start), ("promise", promise)) if text}
        if learn:
            said["own_minutes"] = gathered(durations(plan(read_job(path)).changeover) for path in learn)
        named = {name: value for name, value in said.items() if value is not None}
        room = plan(with_part(read_job(job), "day", **named)).changeover
        made, lacking = room.schedule(), missing(room)
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
