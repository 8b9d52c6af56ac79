"""The group that every command belongs to."""

from __future__ import annotations

import click


@click.group(
    help="Robust Ledger without a screen. Without a command, robust-ledger [JOB] opens the desk; --demo opens it with the demo job; "
    "--version prints the version and the job format."
)
def commands() -> None:
    pass
