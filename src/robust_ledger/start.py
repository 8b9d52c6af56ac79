"""The `robust-ledger` command: a subcommand goes to the command line, anything else opens the desk."""

from __future__ import annotations

import sys

COMMANDS = (
    "plan",
    "check",
    "papers",
    "export",
    "import",
    "fieldbook",
    "new",
    "callout",
    "facts",
    "day",
    "record",
    "arrange",
    "demand",
    "simulate",
    "book",
    "profile",
    "doctor",
    "practice",
)


def main() -> int:
    """Entry point. Imports only the side that is needed, so that neither waits for the other."""
    arguments = sys.argv[1:]
    if arguments[:1] in (["--version"], ["-V"]):
        from robust_ledger.jobbook.about import about

        print(about())
        return 0
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("--help", "-h")):
        from robust_ledger.cli import main as run_command

        return run_command(arguments)
    from robust_ledger.desk.shell.application import main as open_desk

    return open_desk(arguments)
