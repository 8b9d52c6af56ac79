"""Commands about one job: what follows from it, what is open, a new one, lines that are called out, and lines that tell it."""

from __future__ import annotations

import json
import sys
from contextlib import nullcontext
from pathlib import Path
from typing import TYPE_CHECKING

import click

from robust_ledger.cli.alone import alone
from robust_ledger.cli.group import commands
from robust_ledger.job.files import JobFileError, read_job, write_new_job
from robust_ledger.job.parts.base import plain
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.text import sentence_end, upper_first
from robust_ledger.load.methods import NAMES, recommended_name
from robust_ledger.plan import Plan, plan

if TYPE_CHECKING:
    from robust_ledger.callout.session import Outcome


MOST_SPOKEN = 5_000_000  # bytes


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
        state = f" {upper_first(group.first.state)}." if group.first.state else ""
        click.echo(
            f"{group.severity:<4}  {group.title}{sentence_end(group.title)} {group.text} {group.remedy}{cites}{state}"
        )
    serious = [f for f in made.findings if f.open and f.severity.rank <= 1]
    kinds = f" of {len(made.groups)} kinds" if len(made.groups) < len(made.findings) else ""
    click.echo(f"{len(made.findings)} findings{kinds}, {len(serious)} of them open STOP or FIX.")
    sys.exit(1 if serious else 0)


@commands.command("new", help="Make a job, from the chosen profiles.")
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--spaces", type=click.IntRange(2, 200), help="spaces of the old panel")
@click.option(
    "--profile",
    "profiles",
    multiple=True,
    help='a profile to start from, like "utility:Valley Power"; without it the chosen ones',
)
@click.option("--blank", is_flag=True, help="from no profile")
def new_command(job: Path, spaces: int | None, profiles: tuple[str, ...], blank: bool) -> None:
    """A job with nothing in it but what the profiles say; a file that is there is left alone."""
    from robust_ledger.job.edits import with_part
    from robust_ledger.jobbook.home import home
    from robust_ledger.jobbook.profile_store import ProfileStore

    path = job if job.name.endswith(".json") else job.with_name(f"{job.name}.ledger.json")
    profile_store = ProfileStore(home())
    for kind, _, name in (profile.partition(":") for profile in profiles):
        if not any(one.key == (kind, name) for one in profile_store.all().profiles):
            raise JobFileError(f'There is no {kind} profile "{name}"; nothing was written.')
    named = {kind: name for kind, _, name in (one.partition(":") for one in profiles)}
    made = profile_store.new_job({} if blank else named or None)  # type: ignore[arg-type]
    write_new_job(with_part(made, "old_panel", spaces=spaces) if spaces else made, path)
    click.echo(str(path))


@commands.command(
    "callout", help="Say a job line by line on standard input; a line like load: or walk: names the stage."
)
@click.argument("job", type=click.Path(path_type=Path))
@click.option("--try", "dry", is_flag=True, help="only say what each line means; the job stays as it is")
@click.option("--take", is_flag=True, help="of a line that may mean two things take the first")
@click.option("--json", "as_json", is_flag=True, help="what was read, refused and asked, line by line, as JSON")
def callout_command(job: Path, dry: bool, take: bool, as_json: bool) -> None:
    """Each line as it was understood, or why it was left; good lines are kept. Exit code 1 when one was left."""
    from robust_ledger.callout.session import replay
    from robust_ledger.load.edition import codebook_of

    read_job(job)  # what is wrong with it is said before anybody speaks
    lines = spoken_lines()
    with alone(job) if not dry else nullcontext() as own:
        before = own.job if own is not None else read_job(job)
        after, outcomes = replay(lines, before, codebook_of(before), "", take)
        if own is not None:
            own.write(after)
    left = sum(1 for one in outcomes if one.fault)
    if as_json:
        _echo_json(outcomes, saved=after != before and not dry)
        sys.exit(1 if left else 0)
    for one in outcomes:
        text = one.text if len(one.text) <= 120 else f"{one.text[:118]}…"
        lead = f"tag {one.tag}: " if one.tag is not None else ""
        how = "asked" if one.certainty == "asked" else "not read"
        words = f'{how}: "{text}": {one.fault}' if one.fault else f"{lead}{one.made}"
        if not one.fault:
            words += f"   (or: {one.rival})" if one.rival else ""
            words += "".join(f"   look at this: {asked}" for asked in one.asked)
            words += f"   likely; not understood: {', '.join(one.struck)}" if one.struck else ""
        click.echo(f"{one.number:>4}  {words}")
    asked = sum(1 for one in outcomes if one.certainty == "asked" and one.fault)
    also = f", {asked} asked" if asked else ""
    click.echo(
        f"{len(outcomes) - left} lines accepted, {left - asked} not read{also}."
        + (" Nothing was saved." if dry else "")
    )
    sys.exit(1 if left else 0)


def _echo_json(outcomes: list[Outcome], saved: bool) -> None:
    """What came of each line, for another program."""
    rows = [
        {
            "line": one.number,
            "text": one.text,
            "stage": one.stage,
            "tag": one.tag,
            "certainty": one.certainty,
            "read": one.made,
            "facts": {path: plain(value) for path, value in one.facts.items()},
            "refused": one.fault if one.certainty == "refused" else "",
            "question": one.fault if one.certainty == "asked" else "",
            "asked": list(one.asked),
            "or": one.rival,
            "not_understood": list(one.struck),
        }
        for one in outcomes
    ]
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


def summary(made: Plan) -> list[str]:
    """The bottom line in words, one figure a line."""
    shown = {
        "Load": made.load.governing,
        "Main": made.service.figures.mains,
        "Service conductors": made.service.conductors,
        "Neutral": made.service.figures.pulled_neutral,
        "Least neutral": made.service.neutral,
        "GEC": made.service.gec,
        "Spaces used": made.bench.spaces_used,
        "Spaces open": made.bench.spaces_left,
        "Leg A": made.bench.legs[0],
        "Leg B": made.bench.legs[1],
    }
    for panel_id in list(made.benches)[1:]:
        bench, name = made.benches[panel_id], upper_first(panel_name(made.job, panel_id))
        shown[f"{name} open"] = bench.spaces_left
        if (feeder := made.service.figures.feeders.get(panel_id)) is not None:
            shown[f"{name} load"] = feeder.carried
    advice = recommended_name(made.load.recommended)
    used = made.job.decisions.load_method
    words = "recommended" if used == advice else f"recommended: {NAMES[advice]}" if advice else "none recommended yet"
    lines = [f"{'Method:':<21}{NAMES[used]} ({words})"]
    lines += [f"{label + ':':<21}{entry.text()}" for label, entry in shown.items()]
    lines += [f"  not known: {entry.label}: {entry.why_unknown}" for entry in shown.values() if not entry.known][:1]
    return [*lines, f"{'Open findings:':<21}{sum(f.open for f in made.findings)}"]
