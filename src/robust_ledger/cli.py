"""The command line without a screen: plan, papers, check. Errors are one sentence on stderr and exit code 2."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from robust_ledger.codebook.errors import CodebookError
from robust_ledger.job.files import JobFileError, read_job
from robust_ledger.plan import Plan, plan


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
        from robust_ledger.plan_json import plan_text

        click.echo(plan_text(made))
        return
    for line in summary(made):
        click.echo(line)


@commands.command("check", help="Print the findings; exit 1 when a STOP or FIX is open.")
@click.argument("job", type=click.Path(path_type=Path))
def check_command(job: Path) -> None:
    made = plan(read_job(job))
    for finding in made.findings:
        cites = f" [{', '.join(str(cite) for cite in finding.cites)}]" if finding.cites else ""
        state = f" Accepted: {finding.accepted}" if finding.accepted else ""
        click.echo(f"{finding.severity:<4}  {finding.title}. {finding.text} {finding.remedy}{cites}{state}")
    serious = [f for f in made.findings if f.open and f.severity.rank <= 1]
    click.echo(f"{len(made.findings)} findings, {len(serious)} of them open STOP or FIX.")
    sys.exit(1 if serious else 0)


@commands.command("papers", help="Write the panel directory and the calculation sheet as PDF.")
@click.argument("job", type=click.Path(path_type=Path))
@click.option(
    "--out", "folder", type=click.Path(path_type=Path), required=True, help="folder to write to; made if needed"
)
def papers_command(job: Path, folder: Path) -> None:
    from robust_ledger.papers.packet import write_packet

    made = plan(read_job(job))
    for path in write_packet(made, folder, job.name.removesuffix(".json").removesuffix(".ledger")):
        click.echo(str(path))


def summary(made: Plan) -> list[str]:
    """The bottom line in words, one figure a line."""
    shown = {
        "Load": made.chosen.amperes,
        "Main": made.entries["service.main"],
        "Service conductors": made.service_conductors,
        "Neutral": made.entries["service.neutral"],
        "Electrode conductor": made.entries["service.electrode"],
        "Spaces used": made.entries["panel.spaces_used"],
        "Spaces left": made.entries["panel.spaces_left"],
        "Leg A": made.entries["panel.leg_a"],
        "Leg B": made.entries["panel.leg_b"],
    }
    lines = [f"{label + ':':<21}{entry.text()}" for label, entry in shown.items()]
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
        return _fail(
            f"{problem.filename or 'A file'} could not be written: {(problem.strerror or 'unknown reason').lower()}."
        )
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
