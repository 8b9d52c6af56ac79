"""Commands about all jobs: the job book, the profiles, and what this machine lacks."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

import click

from robust_ledger.cli.group import commands
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.job.parts.profiles import ProfileKind
from robust_ledger.jobbook.home import home
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import (
    KINDS,
    Profile,
    ProfileError,
    into,
    moved_on,
    profile_of,
    refreshed,
    says_lines,
)
from robust_ledger.jobbook.stands import STANDS

KIND = click.Choice(KINDS)


@commands.command(
    "book", help="List or search the jobs in a folder: customer, address, marks, findings, circuits, dates."
)
@click.argument("folder", type=click.Path(path_type=Path))
@click.argument("words", nargs=-1)
@click.option("--stands", type=click.Choice(list(STANDS)), help="only those that stand so")
@click.option("--open", "open_only", is_flag=True, help="only those with an open STOP or FIX")
@click.option("--tells", is_flag=True, help="what the jobs tell together: recurring defects, own minutes, hours")
@click.option("--json", "as_json", is_flag=True, help="the same as JSON")
def book_command(
    folder: Path, words: tuple[str, ...], stands: str | None, open_only: bool, tells: bool, as_json: bool
) -> None:
    """One job a line; exit code 1 when there is none."""
    from robust_ledger.jobbook.book import BookError, keep_in_step
    from robust_ledger.jobbook.index import Index
    from robust_ledger.jobbook.summary import own_minutes, summary_words

    with tempfile.TemporaryDirectory(prefix="robust-ledger-") as own:
        index = Index(Path(own) / "book.sqlite")
        try:
            keep_in_step(index, folder)
        except BookError as problem:
            raise click.ClickException(str(problem).partition(";")[0]) from None
        answer, told = index.search(" ".join(words), stands or "", open_only, most=2000), index.tells()
        index.close()
    if tells:
        rows = list(own_minutes(told))
        if as_json:
            data = {"stands": told.stands, "defects": dict(told.defects), "hours": told.hours, "minutes": told.minutes}
            click.echo(json.dumps(data, indent=2, ensure_ascii=False))
            return
        click.echo(summary_words(told))
        for kind, many in told.defects:
            click.echo(f"{many:>5} {'job ' if many == 1 else 'jobs'}  {kind}")
        for row in rows:
            click.echo(
                f"{row.usual:>5.0f} min   {row.words} ({row.days} {'day' if row.days == 1 else 'days'}, planned {row.planned:.0f})"
            )
        return
    if as_json:
        names = ("path", "title", "stands", "address", "customer", "day", "stop", "fix", "hours", "fault")
        click.echo(
            json.dumps(
                [{name: getattr(hit, name) for name in names} for hit in answer.hits], indent=2, ensure_ascii=False
            )
        )
    for hit in () if as_json else answer.hits:
        parts = (
            hit.day,
            STANDS.get(hit.stands, hit.stands),
            f"{hit.stop} STOP" if hit.stop else "",
            f"{hit.fix} FIX" if hit.fix else "",
            hit.customer,
            hit.fault,
        )
        click.echo(f"{hit.title}: {', '.join(part for part in parts if part)}   {hit.path}")
        if hit.found[0]:
            click.echo(f"    {hit.found[0]}: {hit.found[1]}")
    sys.exit(0 if answer.hits else 1)


@commands.group("profile", help="What is the same on every job, entered once.")
def profile_group() -> None:
    pass


@profile_group.command("list", help="The profiles, and which of them new jobs start from.")
def list_command() -> None:
    """One a line; files that are none go to standard error, exit code 1."""
    profile_store = ProfileStore(home())
    found, chosen = profile_store.all(), profile_store.chosen()
    for profile in found.profiles:
        click.echo(
            f"{profile.kind}: {profile.name}{'   (new jobs)' if chosen.get(profile.kind) == profile.name else ''}"
        )
    for fault in found.faults:
        click.echo(fault, err=True)
    sys.exit(1 if found.faults else 0)


@profile_group.command("show", help="What a profile says.")
@click.argument("kind", type=KIND)
@click.argument("name")
def show_command(kind: ProfileKind, name: str) -> None:
    """A line for each field."""
    for line in says_lines(_found(ProfileStore(home()), kind, name)):
        click.echo(line)


@profile_group.command("keep", help="Keep what a job has as a profile.")
@click.argument("job", type=click.Path(path_type=Path))
@click.argument("kind", type=KIND)
@click.argument("name")
@click.option("--new-jobs", is_flag=True, help="new jobs start from it")
def keep_command(job: Path, kind: ProfileKind, name: str, new_jobs: bool) -> None:
    """The job itself stays as it is."""
    profile_store = ProfileStore(home())
    try:
        made = profile_of(read_job(job), kind, name)
        profile_store.keep(made)
        if new_jobs:
            profile_store.choose(kind, made.name)
    except ProfileError as problem:
        raise click.ClickException(str(problem)) from None
    click.echo(f'Kept: {kind} profile "{made.name}".')


@profile_group.command(
    "put", help="Put a profile into a job; what it has changed since, where the job was made from it."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.argument("kind", type=KIND)
@click.argument("name")
def put_command(job: Path, kind: ProfileKind, name: str) -> None:
    """What the job has changed itself stays, and is told."""
    from robust_ledger.cli.alone import alone

    profile = _found(ProfileStore(home()), kind, name)
    with alone(job) as own:
        made = refreshed(own.job, profile) if moved_on(own.job, profile) else None
        own.write(made.job if made is not None else into(own.job, profile))
    for line in (*made.taken, *made.kept) if made is not None else ():
        click.echo(line)
    click.echo(f'{job.name} has the {kind} profile "{name}".')


def _found(profile_store: ProfileStore, kind: ProfileKind, name: str) -> Profile:
    found = profile_store.all().find(kind, name)
    if found is None:
        raise JobFileError(f'There is no {kind} profile "{name}".')
    return found


@commands.command(
    "doctor",
    help="Say what this machine lacks for Robust Ledger; exit 1 when something it cannot do without is missing.",
)
def doctor_command() -> None:
    """A line for each thing that was tried."""
    from robust_ledger.jobbook.doctor import examined

    trials = examined(home())
    for one in trials:
        click.echo(f"{one.state:<8} {one.what}{': ' + one.words if one.words else ''}")
    sys.exit(1 if any(one.state == "MISSING" for one in trials) else 0)
