"""The words of the call-out line: marks, kinds of cable, spoken numbers and units, rooms."""

from __future__ import annotations

from robust_ledger.job.parts.circuits import Mark

MARK_WORDS = {
    "cap": Mark.CAPPED,
    "capped": Mark.CAPPED,
    "white-hot": Mark.WHITE_HOT,
    "dark-n": Mark.DARK_NEUTRAL,
    "dark-neutral": Mark.DARK_NEUTRAL,
    "bare-n": Mark.BARE_NEUTRAL,
    "bare-neutral": Mark.BARE_NEUTRAL,
    "no-ground": Mark.NO_GROUND,
    "ungrounded": Mark.NO_GROUND,
    "dbl": Mark.DOUBLED,
    "doubled": Mark.DOUBLED,
    "later-120": Mark.LATER_120,
    "unknown": Mark.UNKNOWN,
    "tie": Mark.TIED,
    "tied": Mark.TIED,
}
MARK_SHORT = {
    Mark.CAPPED: "cap",
    Mark.WHITE_HOT: "white-hot",
    Mark.DARK_NEUTRAL: "dark-n",
    Mark.BARE_NEUTRAL: "bare-n",
    Mark.NO_GROUND: "no-ground",
    Mark.DOUBLED: "dbl",
    Mark.LATER_120: "later-120",
    Mark.UNKNOWN: "unknown",
    Mark.TIED: "tie",
}
CABLE_WORDS = {
    "nm": "nm",
    "nm-b": "nm",
    "nmb": "nm",
    "cloth": "cloth",
    "rubber": "rubber",
    "bx": "bx",
    "armored": "bx",
    "ac": "ac",
    "armored-strip": "ac",
    "mc": "mc",
    "conduit": "conduit",
    "emt": "conduit",
    "se": "se",
    "uf": "uf",
    "knob-tube": "knob_tube",
    "k&t": "knob_tube",
}
CABLE_SHORT = {kind: word for word, kind in reversed(CABLE_WORDS.items())}
SIDES = ("top", "bottom", "left", "right", "back")
AMP_UNITS = ("a", "amp", "amps", "ampere", "amperes")
GAUGE_UNITS = ("gauge", "ga", "awg")
POLE_UNITS = ("pole", "poles")
FILLERS = ("space", "spaces", "slot", "number", "breaker", "wire", "on", "and")

_ONES = "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen"
_TENS = "twenty thirty forty fifty sixty seventy eighty ninety"
NUMBERS = {word: n for n, word in enumerate(_ONES.split())}
NUMBERS |= {word: 10 * n for n, word in enumerate(_TENS.split(), 2)}
NUMBERS |= {
    f"{tens}-{ones}": 10 * n + m
    for n, tens in enumerate(_TENS.split(), 2)
    for m, ones in enumerate(_ONES.split())
    if 1 <= m <= 9
}
NUMBERS |= {"hundred": 100}

ROOMS = (
    "attic",
    "basement",
    "bath",
    "bathroom",
    "bedroom",
    "closet",
    "den",
    "dining",
    "family",
    "garage",
    "hall",
    "kitchen",
    "laundry",
    "living",
    "office",
    "outdoor",
    "pantry",
    "porch",
    "utility",
    "workshop",
)
