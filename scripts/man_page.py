"""Write the manual page, from the commands themselves."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path

import click

from robust_ledger.cli import commands
from robust_ledger.jobbook.about import about

HEAD = """.TH ROBUST-LEDGER 1 "" "{about}" "User Commands"
.SH NAME
robust-ledger \\- plan, change over and document a one-day panel replacement
.SH SYNOPSIS
.B robust-ledger
[\\fIJOB\\fR | \\fB--demo\\fR]
.br
.B robust-ledger
\\fICOMMAND\\fR [\\fIARGUMENTS\\fR]
.SH DESCRIPTION
Without a command the desk opens, with a job or the demo. The commands do without a screen. What is wrong is told in one sentence on
standard error, with exit code 2.
.SH COMMANDS
"""
TAIL = """.SH FILES
.TP
\\fI~/.local/state/robust-ledger\\fR
settings, profiles, the index of the job book, versions of jobs, unsaved work. Removing the package leaves it.
.SH ENVIRONMENT
.TP
\\fBROBUST_LEDGER_HOME\\fR
another folder in its place
.SH CAUTION
Robust Ledger sizes, matches and keeps records. It defers to the local code, the utility and the AHJ, and does not replace a licensed
electrician.
"""


def described(command: click.Command, name: str) -> Iterator[str]:
    """A command with its arguments and options; a group with each of its own."""
    if isinstance(command, click.Group):
        for inner in command.commands.values():
            yield from described(inner, f"{name} {inner.name}")
        return
    arguments = [one for one in command.params if isinstance(one, click.Argument)]
    options = [one for one in command.params if isinstance(one, click.Option)]
    words = " ".join(f"\\fI{one.make_metavar(click.Context(command))}\\fR" for one in arguments)
    yield f".SS {name} {words}\n{escaped(command.help or '')}\n"
    for option in options:
        yield f".TP\n\\fB{escaped(', '.join(option.opts))}\\fR\n{escaped(option.help or '')}\n"


def escaped(text: str) -> str:
    return text.replace("\\", "\\e").replace("-", "\\-").replace("\n.", "\n\\&.")


def man_page() -> str:
    """The page in roff."""
    body = "".join(part for name, command in commands.commands.items() for part in described(command, name))
    return HEAD.format(about=about()) + body + TAIL


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(man_page(), encoding="utf-8")
