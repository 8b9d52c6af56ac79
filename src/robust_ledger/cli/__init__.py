"""The command line without a screen. Errors are one sentence and exit code 2."""

from __future__ import annotations

import click

from robust_ledger.cli import jobs, measuring, office, practice, sheets, work
from robust_ledger.cli.group import commands
from robust_ledger.cli.jobs import summary
from robust_ledger.codebook.errors import CodebookError
from robust_ledger.job.files import JobFileError
from robust_ledger.ledger.text import reason_of

__all__ = ["commands", "jobs", "main", "measuring", "office", "practice", "sheets", "summary", "work"]


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
