"""Commands about what was measured, and what may be expected: recordings, simulated years."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from robust_ledger.cli.group import commands, dots
from robust_ledger.job.files import read_job
from robust_ledger.plan import plan

if TYPE_CHECKING:  # numpy is loaded by the two commands that need it
    from robust_ledger.measure.metering.csv_reader import Guess, Reading


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
        made = reduce(checked(read_recording(recording, _as_asked(found, unit, column), dots)))
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
