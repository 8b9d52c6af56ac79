"""How the call-out line writes what it has read: marks, kinds of cable and breaker; and the usual rooms."""

from __future__ import annotations

from robust_ledger.job.parts.circuits import Mark

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
    Mark.FOUND_OFF: "found-off",
}
DEVICE_WORDS = {
    "gfci": "GFCI breaker",
    "afci": "AFCI breaker",
    "dual": "dual-function breaker",
    "tandem": "tandem",
    "quad": "quad",
}
CABLE_SHORT = {
    "nm": "nm",
    "cloth": "cloth",
    "rubber": "rubber",
    "bx": "bx",
    "ac": "armored-strip",
    "mc": "mc",
    "conduit": "emt",
    "se": "se",
    "uf": "uf",
    "knob_tube": "k&t",
}
SIDES = ("top", "bottom", "left", "right", "back")

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
