"""The letters of the call-out line: what a word that says itself what it is looks like."""

from __future__ import annotations

import re

SPACE = re.compile(r"^(r?\d+[ab]?)((?:[,+]r?\d+[ab]?)*)$", re.I)
SPACE_TAGGED = re.compile(r"^(?:(?:s|sp|t|@)(r?\d+[ab]?(?:[,+]r?\d+[ab]?)*)|(r\d+[ab]?(?:[,+]r?\d+[ab]?)*))$", re.I)
# The same of an old box with a mark of its own; only where the job has that box.
BOXED = re.compile(r"^([cdefgkmnpquvwxyz])\d{1,3}[ab]?(?:[,+][cdefgkmnpquvwxyz]?\d{1,3}[ab]?)*$", re.I)
LOAD = re.compile(r"^=([a-z0-9]+(?:-[a-z0-9]+)*)$")
AMPS_TAGGED = re.compile(r"^(\d+(?:\.\d+)?)a(?:mps?)?(?:/(\d))?$", re.I)
POLES_TAGGED = re.compile(r"^(\d+(?:\.\d+)?|\?)/([1-9])$")
GAUGE_TAGGED = re.compile(
    r"^(?:#(\d{1,3}(?:/0)?)(al|cu|cca)?|(\d{1,3}(?:/0)?)(al|cu|cca)|([1-4]/0)|(\d{1,2})(?:awg|ga))$", re.I
)
LENGTH = re.compile(r"^\d+(?:\.\d+)?(?:in|cm|ft|'(?:\d+)?)?$", re.I)
