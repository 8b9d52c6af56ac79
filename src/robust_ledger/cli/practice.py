"""The practice of an apprentice: a made-up panel with hidden faults, and the score of what was called out of it."""

from __future__ import annotations

import secrets
import sys
from pathlib import Path

import click

from robust_ledger.cli.group import commands
from robust_ledger.job.doors import hand_out_text
from robust_ledger.job.files import SUFFIX, JobFileError, read_job, write_new_job


@commands.command(
    "practice",
    help="Make a practice panel with hidden faults, drawn as it is found; or score what was called out of one.",
)
@click.option(
    "--level",
    type=click.IntRange(1, 5),
    help="1 wire against breaker, 2 marks on wires, 3 neutrals, aluminum, tandems, 4 service, grounding, load, 5 all, with a clock",
)
@click.option("--code", help="the very panel of this code")
@click.option(
    "--out", "folder", type=click.Path(path_type=Path), default=Path("."), help="folder of the drawing and the job"
)
@click.option("--codes", "many", type=click.IntRange(1, 1000), help="print so many codes for a class, as CSV")
@click.option("--results", type=click.Path(path_type=Path), help="score every job of a folder, as CSV")
@click.option("--score", "hand_in", type=click.Path(path_type=Path), help="the job to score")
@click.option(
    "--fault", "faults", multiple=True, help='with --score: a fault that you name, "5 doubled"; once for each'
)
def practice_command(
    level: int | None,
    code: str | None,
    folder: Path,
    many: int | None,
    results: Path | None,
    hand_in: Path | None,
    faults: tuple[str, ...],
) -> None:
    """Exit code 1 when a fault was missed or invented, or a circuit misread."""
    from robust_ledger.drawing.svg import svg_text
    from robust_ledger.exchange.books import summary_csv
    from robust_ledger.practice.codes import SEEDS, Code, PracticeError, read_code
    from robust_ledger.practice.exercise import panel_of
    from robust_ledger.practice.naming import read_named
    from robust_ledger.practice.picture import panel_scene
    from robust_ledger.practice.report import class_codes, result_rows, score_lines
    from robust_ledger.practice.score import scored
    from robust_ledger.practice.surroundings import house_scene

    if many is not None:
        click.echo(summary_csv(class_codes(level or 1, many)), nl=False)
        return
    if results is not None:
        if not results.is_dir():
            raise JobFileError(f"{results} is no folder of hand-ins.")
        click.echo(summary_csv(list(result_rows(results))), nl=False)
        return
    try:
        if hand_in is not None:
            made = panel_of(read_code(code)) if code else None
            score = scored(read_job(hand_in), made, tuple(read_named(fault) for fault in faults))
            for line in score_lines(score):
                click.echo(line)
            sys.exit(1 if score.missed or score.invented or score.misread else 0)
        chosen = read_code(code) if code else Code(level or 1, secrets.randbelow(SEEDS))
        if code and level not in (None, chosen.level):
            raise PracticeError(f"{code} is of level {chosen.level}, not {level}.")
    except PracticeError as problem:
        raise click.ClickException(str(problem)) from None
    made = panel_of(chosen)
    stem = f"practice-{chosen}"
    drawing, job = folder / f"{stem}.svg", folder / f"{stem}{SUFFIX}"
    if job.exists():
        raise JobFileError(f"{job.name} is there already; nothing was written.")
    folder.mkdir(parents=True, exist_ok=True)
    hand_out_text(drawing, svg_text(panel_scene(made)))
    if made.house is not None:
        hand_out_text(folder / f"{stem}-house.svg", svg_text(house_scene(made, True)))
    write_new_job(made.start, job)
    click.echo(
        f"{chosen}: {drawing} shows the panel; call it out into {job}, then: robust-ledger practice --score {job}"
    )
