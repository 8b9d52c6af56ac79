"""Commands that write papers and tables, and read tables back."""

from __future__ import annotations

import sys
from contextlib import nullcontext
from pathlib import Path

import click

from robust_ledger.cli.alone import alone
from robust_ledger.cli.group import commands, dots
from robust_ledger.job.files import read_job
from robust_ledger.plan import plan

TABLE_NAMES = ("circuits", "loads", "amendments", "torque", "material")


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
        rows = read_table(path, dots)
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
    with alone(job) if not only_try else nullcontext() as own:
        taken = imported(rows, columns, known, own.job if own is not None else held)
        if own is not None:
            own.write(taken.job)
    click.echo(f"{taken.good} rows taken, {len(taken.faults)} left")
    for fault in taken.faults:
        click.echo(fault.sentence)
    sys.exit(1 if taken.faults else 0)
