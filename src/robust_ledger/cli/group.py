"""The group that every command belongs to, and how one that takes long shows that it goes on."""

from __future__ import annotations

import sys

import click


@click.group(
    help="Robust Ledger without a screen. Without a command, robust-ledger [JOB] opens the desk; --demo opens it with the demo job; "
    "--version prints the version and the job format."
)
def commands() -> None:
    pass


def dots(_part: float) -> bool:
    """A dot for each step on standard error, so that one sees that it goes on; Ctrl+C ends it, and nothing is written."""
    if sys.stderr.isatty():
        click.echo(".", nl=False, err=True)
    return True
