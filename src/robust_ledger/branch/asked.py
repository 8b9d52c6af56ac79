"""What is asked of a circuit's protection, and the answers there are."""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct

from robust_ledger.branch.serves import Serves
from robust_ledger.ledger.entry import Citation


class Judgment(StrEnum):
    """The five answers to whether a protection is needed, as the papers say them."""

    REQUIRED = "required"
    NOT_REQUIRED = "not required"
    IF_EXTENDED = "not by panel change; yes if extended"
    ASK_AHJ = "ask the AHJ"
    NOT_KNOWN = "not known"


REQUIRED, NOT_REQUIRED, IF_EXTENDED, ASK_AHJ, NOT_KNOWN = Judgment


class Verdict(Struct, frozen=True):
    """Whether a protection is needed, in one of the five words, with the reason and its sections."""

    word: Judgment
    why: str
    cites: tuple[Citation, ...] = ()

    @property
    def needed(self) -> bool:
        """Whether protection is required."""
        return self.word == REQUIRED


class Ask(Struct, frozen=True):
    """What is asked of a circuit: voltage to ground is 120 V in every case here. `sink_ft`: its nearest receptacle from a sink, tub or
    shower; `date` of the job as written; `found_arc` and `found_ground`: what the breaker watched for that is replaced;
    `metal_run`: its wires are in metal raceway or metal-clad cable up to the first outlet."""

    serves: Serves
    poles: int
    rating_a: float | None
    work: str
    sink_ft: float | None = None
    date: str = ""
    found_arc: bool = False
    found_ground: bool = False
    metal_run: bool = False
