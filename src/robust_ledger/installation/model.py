"""What stands on the wall, before and after: nodes, the runs between them, the conductors of each run, and what becomes of every one of them."""

from __future__ import annotations

from enum import StrEnum
from typing import Literal

from msgspec import Struct

from robust_ledger.job.conductors import Conductors
from robust_ledger.job.parts.panels import Torque as Torque
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.place import NOWHERE, Place

# What a node is. An old box is one that is taken out, or goes on as a splice box.
Kind = Literal[
    "service point",
    "meter socket",
    "disconnect",
    "meter-main",
    "panel",
    "transfer equipment",
    "splice box",
    "old box",
]


class Change(StrEnum):
    """What becomes of a thing between what was found and what is planned. `OPEN`: nobody has said so far."""

    NEW = "new"
    REPLACED = "replaced"
    KEPT = "kept"
    TOUCHED = "touched"
    REMOVED = "removed"
    OPEN = "open"

    @property
    def made(self) -> bool:
        """Whether this job puts it in."""
        return self in (Change.NEW, Change.REPLACED)

    @property
    def worked_at(self) -> bool:
        """Whether this job tightens something at it."""
        return self.made or self is Change.TOUCHED


BondKind = Literal["in", "out", "supply", "open"]


class Bond(Struct, frozen=True):
    """Neutral and ground at a node: as they have to be (`kind`), whether they are bonded as found or entered, and the entry that says why."""

    kind: BondKind
    bonded: bool
    entry: Entry
    old_feeder: bool = False  # in, since an old feeder of three wires stays: no service equipment

    @property
    def right(self) -> bool:
        """Whether the neutral is bonded just where it has to be. On the supply side nothing is entered; where it is not known nothing is wrong."""
        return self.kind in ("supply", "open") or self.bonded is (self.kind == "in")


class Joint(Struct, frozen=True):
    """An end of a conductor under a screw, or a joint of the factory's: its key in the torque log, what it is called, the part it is a screw of
    ("lug", "breaker", "neutral bar"), the wire, the node, and what becomes of it."""

    key: str
    words: str
    part: str
    wire: Entry | None
    node: str
    change: Change

    @property
    def factory(self) -> bool:
        """Whether the factory made it."""
        return self.part == "factory"


class Conductor(Struct, frozen=True):
    """One conductor of a run, or the set of those in parallel: "A", "B", "N", "G" (EGC), "GEC" or "bond"; its size, what becomes of it, and
    its two ends. An end is None where it is nobody's screw of ours: at the weatherhead, or under a connector of the utility's."""

    name: str
    size: Entry
    change: Change
    start: Joint | None = None
    end: Joint | None = None

    @property
    def conductors(self) -> Conductors | None:
        """Size and metal; None while not known."""
        value = self.size.value
        return value if isinstance(value, Conductors) else None

    @property
    def joints(self) -> tuple[Joint, ...]:
        """Its ends that are ours."""
        return tuple(one for one in (self.start, self.end) if one is not None)


class Piece(Struct, frozen=True):
    """A part of a conductor's length: words, amount, "ft" or "in", and where it is entered."""

    words: str
    amount: float | None
    unit: str
    place: Place = NOWHERE


class Raceway(Struct, frozen=True):
    """What a run lies in: the kind ("emt"; "" while not entered), the trade size by which it is bought or was found, its length and straps.
    `over_roof`: a mast with its weatherhead."""

    kind: str
    size: Entry
    change: Change
    length: Piece
    over_roof: bool = False
    found_size: str = ""
    strap_between_in: float | None = None

    @property
    def metal(self) -> bool:
        """Whether it conducts."""
        return self.kind in ("rmc", "imc", "emt")

    @property
    def trade_size(self) -> str:
        """As it is bought or was found: "2 in"; "" while not known."""
        if not self.change.made and self.change is not Change.OPEN:
            return f"{self.found_size} in" if self.found_size else ""
        value = self.size.value if self.size.known else None
        return f"{value} in" if value and value != "none" else ""


class Run(Struct, frozen=True):
    """The way from one node to another: its conductors, what they lie in, the pieces of their length, how many wires go and how many were
    found. `device` is what protects it, `carried` its load; `begins`: at a breaker, at feed-through lugs, as a tap, on a load side; `kind`: "service"
    ahead of the service disconnect, "feeder" behind it, "earth" to an electrode or a pipe."""

    key: str
    words: str
    title: str
    start: str
    end: str
    kind: Literal["service", "feeder", "earth"]
    conductors: tuple[Conductor, ...]
    change: Change
    pieces: tuple[Piece, ...]
    wires: int = 3
    found_wires: int | None = None
    raceway: Raceway | None = None
    insulation: str = ""
    wiring: str = ""
    device: Entry | None = None
    carried: Entry | None = None
    begins: Literal["breaker", "lugs", "tap", "load side"] = "breaker"
    by_utility: bool = False

    def conductor(self, name: str) -> Conductor | None:
        """The conductor of a name; None where the run has none."""
        return next((one for one in self.conductors if one.name == name), None)


class Node(Struct, frozen=True):
    """A thing on the wall of the planned state. `above` is what feeds it; `rating` the device at it, or ahead of its lugs; `panel_id` the panel
    whose circuits are in it, "" for none; `service`: it is service equipment; `name` as it stands in a sentence; `lost`: why it is not
    known what feeds it; `torques`: what was read of its terminals."""

    key: str
    kind: Kind
    title: str
    name: str
    change: Change
    above: str = ""
    rating: Entry | None = None
    fault: Entry | None = None
    bond: Bond | None = None
    panel_id: str = ""
    service: bool = False
    main: str = ""
    bus_a: float | None = None
    aic_a: float | None = None
    series_aic_a: float | None = None
    spaces: int = 0
    where: str = ""
    building: str = ""
    lost: str = ""
    numbering: str = "odd_left"
    torques: tuple[Torque, ...] = ()
    marked: tuple[str, ...] = ()

    @property
    def has_main(self) -> bool:
        """Whether there is a main of its own at it."""
        return self.main in ("breaker", "back_fed")


class Label(Struct, frozen=True):
    """A label that is due: the node, where on it, its lines, and whether they are white on red."""

    node: str
    where: str
    lines: tuple[str, ...]
    red: bool
    key: str
