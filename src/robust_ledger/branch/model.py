"""A branch circuit as it goes into the new panel."""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct

from robust_ledger.branch.protection import Protection
from robust_ledger.branch.serves import Serves
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.devices import Device, DeviceKind
from robust_ledger.job.keys import NO_CIRCUIT, CircuitKey
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.ledger.entry import Entry


class Origin(StrEnum):
    """Where a branch circuit comes from."""

    EXISTING = "existing"
    NEW = "new"
    FUTURE = "future"


class Branch(Struct, frozen=True, kw_only=True):
    """One circuit of the new panel. `key` is "tag:7" or "load:sauna"; `partner` the key it shares a neutral with.

    `off` circuits are capped, those that `convert` until they become 120 V: no breaker and no space. Futures get reserved spaces.
    `sources` are the tags it is made of, and `origin_words` say how; `new_cable`: its old wires are given up; `end`: it belongs "near"
    the main or at the "far" end of the bus; `panel` is the id of the panel it goes to, `either`: Arrange may choose another.
    """

    key: CircuitKey
    tag: str
    feeds: str
    room: str
    poles: int
    breaker: Entry
    wire: Entry
    expected: Entry
    origin: Origin
    off: bool = False
    partner: CircuitKey = NO_CIRCUIT
    converts: bool = False
    sources: tuple[int, ...] = ()
    origin_words: str = ""
    uses_neutral: bool = False
    new_cable: bool = False
    work: str = "none"
    serves: Serves | None = None
    protection: Protection | None = None
    end: str = ""
    panel: str = MAIN
    either: bool = False

    @property
    def name(self) -> str:
        """How it is called in labels: by its tag, a new one by what it feeds."""
        return f"Tag {self.tag}" if self.tag != "new" else self.feeds

    @property
    def origin_tag(self) -> int | None:
        """The old circuit whose wires it has."""
        return self.sources[0] if self.sources else None

    @property
    def conductors(self) -> Conductors | None:
        """What its wire is; None where it is not known or follows from elsewhere."""
        value = self.wire.value
        return value if isinstance(value, Conductors) else None

    @property
    def wire_size(self) -> str | None:
        """Size of its wire, "12" or "4/0"; None where it is not known or follows from elsewhere."""
        return self.conductors.size if self.conductors is not None and self.conductors.size[:1].isdigit() else None

    @property
    def wire_metal(self) -> str:
        """Metal of its wire; "" where that is not known."""
        return self.conductors.metal if self.conductors is not None else ""

    @property
    def on_one_handle(self) -> bool:
        """Whether it is one of two circuits with a shared neutral that sit on one two-pole breaker together."""
        return bool(self.partner) and self.poles == 1 and self.device.poles == 2

    @property
    def has_breaker(self) -> bool:
        """Whether a breaker is counted for it: of two on one breaker for the first alone."""
        return not (self.on_one_handle and str(self.partner) < str(self.key))

    @property
    def to_device(self) -> bool:
        """Whether its neutral comes to the breaker, and not to the bar."""
        return self.protection is not None and self.protection.electronic

    @property
    def device(self) -> Device:
        """Its breaker: what it watches for besides overcurrent, and its poles."""
        return self.protection.device if self.protection else Device(DeviceKind.STANDARD, self.poles)

    @property
    def feeds_unknown(self) -> bool:
        """Whether nobody has said what it feeds, or only that it is not known."""
        return (not self.feeds and not self.off) or "unknown" in self.feeds.lower()

    @property
    def directory_text(self) -> str:
        """What the directory says: specific where known, said to be unknown where not."""
        if self.off:
            why = "NOT IN USE, to become 120 V" if self.converts else "NOT IN USE, capped"
            return f"{why}: {self.feeds}" if self.feeds else why
        words = self.feeds or "unknown, to be traced"
        if self.room and self.room.lower() not in words.lower():
            words = f"{self.room} {words}"
        return f"SPACE – held for {words} (no breaker)" if self.origin is Origin.FUTURE else words

    @property
    def rating_text(self) -> str:
        """Breaker and poles in short: "20", "30/2", "?"; "off" for none."""
        if self.off:
            return "off"
        text = "?" if not self.breaker.known else f"{self.breaker.amount:g}"
        return f"{text}/{self.poles}" if self.poles > 1 else text
