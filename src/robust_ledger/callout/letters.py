"""The letters of the call-out line: its words with where they stand, and what a word that says itself what it is looks like."""

from __future__ import annotations

import re

from msgspec import Struct

WORD = re.compile(r'"[^"]*"?|[^\s"]+')
SPACE = re.compile(r"^(r?\d+[ab]?)((?:[,+]r?\d+[ab]?)*)$", re.I)
SPACE_TAGGED = re.compile(r"^(?:(?:s|sp|t|@)(r?\d+[ab]?(?:[,+]r?\d+[ab]?)*)|(r\d+[ab]?(?:[,+]r?\d+[ab]?)*))$", re.I)
# The same of an old box with a mark of its own; only where the job has that box.
BOXED = re.compile(r"^([cdefgkmnpquvwxyz])\d{1,3}[ab]?(?:[,+][cdefgkmnpquvwxyz]?\d{1,3}[ab]?)*$", re.I)
LOAD = re.compile(r"^=([a-z0-9]+(?:-[a-z0-9]+)*)$")
AMPS = re.compile(r"^(\d+(?:\.\d+)?|\?|-)a?(?:/(\d))?$", re.I)
AMPS_TAGGED = re.compile(r"^(\d+(?:\.\d+)?)a(?:mps?)?(?:/(\d))?$", re.I)
POLES_TAGGED = re.compile(r"^(\d+(?:\.\d+)?|\?)/([1-9])$")
GAUGE = re.compile(r"^#?(\d{1,3}(?:/0)?)(al|cu|cca)?$", re.I)
GAUGE_TAGGED = re.compile(
    r"^(?:#(\d{1,3}(?:/0)?)(al|cu|cca)?|(\d{1,3}(?:/0)?)(al|cu|cca)|([1-4]/0)|(\d{1,2})(?:awg|ga))$", re.I
)
# A cable by size and number of wires, the ground not counted: 12-2, 10/3, 2/0-3al.
CABLE_SIZE = re.compile(r"^#?(\d{1,2}|[1-4]/0)([-/])([2-4])(al|cu|cca)?$", re.I)
LENGTH = re.compile(r"^\d+(?:\.\d+)?(?:in|cm|ft|'(?:\d+)?)?$", re.I)


class Word(Struct, frozen=True):
    """A word of the line and where it stands; a quoted one is only ever a description."""

    text: str
    start: int
    end: int
    quoted: bool = False

    @property
    def lower(self) -> str:
        return self.text.lower()


def split(line: str) -> list[Word]:
    """The words of a line; what stands in quotes is one, commas and semicolons around a word fall away."""
    made = []
    for match in WORD.finditer(line):
        text = match[0]
        if text.startswith('"'):
            inner = " ".join(text.strip('"').split())
            if inner:
                made.append(Word(inner, match.start(), match.end(), True))
            continue
        bare = text.strip(",;")
        if bare:
            start = match.start() + text.index(bare)
            made.append(Word(bare, start, start + len(bare)))
    return made
