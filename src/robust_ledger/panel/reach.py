"""Reach: which space of the new panel an old wire can get to [in]. Lengths are measured, or bounds from what the wire reached before."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from functools import cached_property, lru_cache

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.spaces import OldPosition, covered, parse_old, parse_position
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.geometry import Inside, Point, Way, entry_point, inside, way, way_to_bar

IN = "in"
SNIPPED_IN = 0.75
COMFORTABLE_IN = 2.0
ENCLOSURES_APART_IN = 2.0
WITHOUT_GROUND = ("conduit", "bx", "ac", "knob_tube")


class Verdict(StrEnum):
    """How the wires of a circuit come to a space, in a word."""

    REACHES = "reaches"
    JUST = "just"
    SHORT = "short"
    UNKNOWN = "not known"
    NEW = "new cable"


REACHES, JUST, SHORT, UNKNOWN, NEW = Verdict


class Conductor(Struct, frozen=True):
    """One wire of a cable at one place: what it needs to get there and what is to spare, both None where not known."""

    name: str
    needed_in: float | None
    margin_in: float | None
    way: Way


class Reach(Struct, frozen=True):
    """How the wires of a circuit come to a space. `splices`: how many of them are short, each of which gets one."""

    key: CircuitKey
    position: str
    conductors: tuple[Conductor, ...]
    verdict: Verdict
    estimated: bool

    @property
    def splices(self) -> int:
        """How many of its conductors are too short."""
        return sum(1 for conductor in self.conductors if conductor.margin_in is not None and conductor.margin_in < 0)

    @property
    def margin_in(self) -> float | None:
        """Of the wire that has least."""
        return min(
            (conductor.margin_in for conductor in self.conductors if conductor.margin_in is not None), default=None
        )

    @property
    def words(self) -> str:
        """In short: "reaches, 4.5 in to spare", "3 in short: 2 splices"."""
        margin = self.margin_in
        if margin is None:
            return self.verdict
        about = "at least " if self.estimated and margin >= 0 else "about " if self.estimated else ""
        if self.verdict == SHORT:
            many = f"{self.splices} splice{'s' if self.splices > 1 else ''}"
            return f"{about}{-margin:.1f} in short: {many}"
        return f"{'just ' if self.verdict == JUST else ''}reaches, {about}{margin:.1f} in to spare"


class Wire(Struct, frozen=True, dict=True):
    """What is known of a circuit's cable: `free` its usable length at the new entry, `start` that entry."""

    key: CircuitKey
    place: Place
    box: Inside
    poles: int
    neutral: bool
    ground: bool
    to_device: bool
    bend_in: float
    neutral_bar: str
    ground_bar: str
    free: Entry | None
    start: Point
    estimated: bool
    entering: str

    @property
    def known(self) -> bool:
        """Whether its free length is known."""
        return self.free is not None and self.free.known

    @cached_property
    def _seen(self) -> dict[str, Reach]:
        return {}

    @cached_property
    def bars(self) -> tuple[Conductor, ...]:
        """The wires that go to a bar, wherever the breaker is."""
        made = []
        if self.neutral and not self.to_device:
            made.append(self._conductor("neutral to its bar", way_to_bar(self.box, self.start, self.neutral_bar)))
        if self.ground:
            made.append(self._conductor("ground to its bar", way_to_bar(self.box, self.start, self.ground_bar)))
        return tuple(made)

    def _conductor(self, name: str, found: Way) -> Conductor:
        if self.free is None or not self.free.known:
            return Conductor(name, None, None, found)
        needed = _tenth(found.length_in) + self.bend_in
        return Conductor(name, needed, self.free.amount - needed, found)

    def at(self, position: str) -> Reach:
        """How the circuit's wires come to a position of the new panel; worked out once for each."""
        if position not in self._seen:
            self._seen[position] = self._at(position)
        return self._seen[position]

    def _at(self, position: str) -> Reach:
        if self.free is None:
            return Reach(self.key, position, (), NEW, False)
        if not self.known:
            return Reach(self.key, position, (), UNKNOWN, self.estimated)
        space, _ = parse_position(position) or (1, "")
        right = space % 2 == 0
        rows = covered(space, self.poles)
        ways = [way(self.box, self.start, right, self.box.row_y(row)) for row in rows]
        names = ["hot"] if self.poles == 1 else ["first hot", "second hot"]
        made = [self._conductor(name, found) for name, found in zip(names, ways, strict=True)]
        if self.neutral and self.to_device:
            made.append(self._conductor("neutral to the breaker", ways[0]))
        made += self.bars
        margins = [one.margin_in for one in made if one.margin_in is not None]
        least = min(margins)
        verdict = SHORT if least < 0 else JUST if least < COMFORTABLE_IN else REACHES
        return Reach(self.key, position, tuple(made), verdict, self.estimated)


def reach_entry(wire: Wire, reach: Reach, label: str) -> Entry:
    """The margin of the wire that has least, with its parts: free, way, bend and strip, and the other wires beside it."""
    work = Working(f"reach.{wire.key}", f"{label}: reach", wire.place)
    if wire.free is None:
        return work.entry(work.note("new cable: cut to length", NEW))
    free = work.entry_step(wire.free)
    if not reach.conductors:
        return work.entry(free)
    if wire.box.assumed:
        work.note("inside measures taken as usual", ", ".join(wire.box.assumed))
    margins = []
    for conductor in reach.conductors:
        length = work.take(
            Step(
                f"{conductor.name}: {wire.entering}, {conductor.way.words}, along it and in",
                _tenth(conductor.way.length_in),
                IN,
            )
        )
        bend = Step("bend and strip", wire.bend_in, IN, place=Place("panel:bends_in"))
        needed = work.total(f"{conductor.name}: needed", [length, bend], IN)
        margins.append(work.difference(f"{conductor.name}: to spare", free, needed, IN))
    return work.entry(work.smaller("least to spare", margins) if len(margins) > 1 else margins[0])


class Enclosures(Struct, frozen=True):
    """The old enclosures by their marks and the new one on the wall. `apart` tells of an old one the input that would tell how far the
    new one is from it, where that is not known."""

    old: Mapping[str, Inside]
    new: Inside
    level: bool
    apart: Mapping[str, Place] = {}

    def of(self, where: OldPosition | None) -> Inside:
        """The old enclosure of a position; the first one where there is none."""
        return self.old.get(where.box, self.old[""]) if where else self.old[""]

    @property
    def nowhere(self) -> Place:
        """The input that would tell how far the new one is from the old ones, where none of them is known."""
        return next(iter(self.apart.values()), NOWHERE) if len(self.apart) == len(self.old) else NOWHERE


def enclosures(job: Job, bottom_in: float | None, raised_in: float = 0.0, beside: Panel | None = None) -> Enclosures:
    """Old and new laid over each other, the new one's bottom [in] above the floor; where heights are not entered, tops are taken as
    level. `raised_in`: how much higher than that the new one is to hang; `beside`: the panel is not the main one, and hangs elsewhere."""
    old, apart = _old_enclosures(job)
    if beside is not None:
        return _beside(job, beside, old, apart, raised_in)
    fit = job.fit
    new_height = fit.new.height_in
    top, known = 0.0, False
    if bottom_in is not None and fit.old_bottom_in is not None and fit.old.height_in and new_height:
        top, known = (fit.old_bottom_in + fit.old.height_in) - (bottom_in + new_height), True
    corner = (job.panel.right_of_old_in, top - raised_in)
    new = inside(job.panel.interior, job.panel.spaces, fit.new.width_in, new_height, corner)
    return Enclosures(old, new, not known, apart)


def _old_enclosures(job: Job) -> tuple[dict[str, Inside], dict[str, Place]]:
    """The old ones by mark, each beside the one before it where nothing else is said; and those whose distance is not known."""
    fit = job.fit
    made = {"": inside(job.old_panel.interior, job.old_panel.spaces, fit.old.width_in, fit.old.height_in)}
    apart, right = {}, made[""].width_in
    for box in job.old_boxes:
        if not box.spaces:
            continue
        at = box.right_in if box.right_in is not None else right + ENCLOSURES_APART_IN
        made[box.mark] = inside(box.interior, box.spaces, None, None, (at, box.lower_in or 0.0))
        right = at + made[box.mark].width_in
        if box.elsewhere and box.right_in is None:
            apart[box.mark] = Place.of("old_boxes", f"{box.mark}.right_in")
    return made, apart


def _beside(job: Job, panel: Panel, old: dict[str, Inside], apart: dict[str, Place], raised_in: float) -> Enclosures:
    """A panel that is not the main one: in the place of an old box, or as far from the first one as was measured."""
    there = old.get(panel.instead_of) if panel.instead_of is not None else None
    if panel.right_in is None and there is not None:
        corner = (there.left_in, there.top_in + (panel.lower_in or 0.0) - raised_in)
        lost = {mark: place for mark, place in apart.items() if mark != panel.instead_of}
        if panel.instead_of in apart:  # how far it is from all the others is as unknown as for its box
            lost.update({mark: apart[panel.instead_of] for mark in old if mark != panel.instead_of})
    else:
        corner = (panel.right_in or 0.0, (panel.lower_in or 0.0) - raised_in)
        place = Place.of("panels", f"{panel.id}.right_in")
        lost = apart if panel.right_in is not None else dict.fromkeys(old, place)
    new = inside(job.panel.interior, job.panel.spaces, None, None, corner)
    return Enclosures(old, new, panel.lower_in is None, lost)


def wires(job: Job, branches: list[Branch], boxes: Enclosures) -> dict[CircuitKey, Wire]:
    """The cable of every circuit that gets a space, by its key."""
    return {b.key: _wire(job, b, boxes) for b in branches if not b.off}


def _bend(job: Job, branch: Branch) -> float:
    # What is no wire of the table, or follows from elsewhere, bends like a large one.
    size = branch.conductors.size if branch.conductors is not None else "other" if branch.wire.known else ""
    small, middle, large = job.panel.bends_in
    return small if size in ("14", "12", "10", "") else middle if size in ("8", "6") else large


def _wire(job: Job, branch: Branch, boxes: Enclosures) -> Wire:
    change = job.change(branch.key)
    circuit = job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    bars = job.panel.interior
    second = bool(branch.partner) and branch.key > branch.partner  # one cable, one neutral and one ground for both
    neutral = (branch.poles == 1 or branch.uses_neutral) and not second
    base = (branch.key, Place.branch(branch.key), boxes.new, branch.poles, neutral)
    ends = (branch.to_device, _bend(job, branch), bars.neutral_bar, bars.ground_bar)
    if circuit is None or branch.origin is not Origin.EXISTING or change.action == "new_cable" or branch.new_cable:
        return Wire(*base, True, *ends, None, (0.0, 0.0), False, "")
    ground = circuit.cable not in WITHOUT_GROUND and not second
    where = parse_old(circuit.spaces[0]) if circuit.spaces else None
    apart = boxes.apart.get(where.box if where else "", NOWHERE)
    known = (*base, ground, *ends)
    return _kept_wire(known, circuit, change, job.panel.bends_in, boxes.of(where), boxes.level, apart)


@lru_cache(maxsize=512)
def _kept_wire(
    known: tuple[CircuitKey, Place, Inside, int, bool, bool, bool, float, str, str],
    circuit: Circuit,
    change: CircuitChange,
    bends_in: tuple[float, float, float],
    old: Inside,
    level: bool,
    apart: Place,
) -> Wire:
    """An old cable. Remembered: from one keystroke to the next most wires stay what they were."""
    if apart:
        work = Working(f"reach.free.tag:{circuit.tag}", f"Tag {circuit.tag}: free length at the new entry", apart)
        free = work.entry(work.given("how far this panel is from the old one", None, IN, apart))
        return Wire(*known, free, (0.0, 0.0), False, "")
    free, start, estimated, entering = _free(circuit, change, bends_in, old, known[2], level)
    return Wire(*known, free, start, estimated, entering)


def _free(
    circuit: Circuit,
    change: CircuitChange,
    bends_in: tuple[float, float, float],
    box: Inside,
    new_box: Inside,
    level: bool,
) -> tuple[Entry, Point, bool, str]:
    """Usable length at the new entry, that entry, whether it is a bound, and the entry in words."""
    place = Place.circuit(circuit.tag)
    work = Working(f"reach.free.tag:{circuit.tag}", f"Tag {circuit.tag}: free length at the new entry", place)
    where = [one for space in circuit.spaces if (one := parse_old(space))]
    side = circuit.enters
    if not side:
        return work.entry(work.given("the side where its cable enters", None, IN, place)), (0.0, 0.0), False, ""
    old_right = bool(where) and where[0].space % 2 == 0
    old = _old_entry(circuit, box, where, old_right)
    estimated = circuit.free_in is None
    if circuit.free_in is not None:
        free = work.given("free length, measured", circuit.free_in if circuit.free_in > 0 else None, IN, place)
    else:
        free = _estimated(work, bends_in, circuit, box, old, where, place)
    new_side = change.new_side or side
    new = _new_entry(new_box, box, old, side, new_side, change.new_at_in, old_right)
    parts = [free]
    moved = _closer(new_box, box, old, new, side) if new_side == side else -_apart(new_box, box, old, new)
    if abs(moved) > 1e-6:
        words = "the new entry is closer" if moved > 0 else "the new entry is further away"
        words += ", tops taken as level" if level else ""
        parts.append(work.take(Step(words, _tenth(moved), IN, place=Place("fit:new_bottom_in"))))
    if circuit.slack_in:
        parts.append(work.given("cable pulled in from outside", circuit.slack_in, IN, place))
    total = work.total("free at the new entry", parts, IN) if len(parts) > 1 else free
    return work.entry(total), new, estimated, f"{new_side} entry"


def _old_entry(circuit: Circuit, box: Inside, where: list[OldPosition], right: bool) -> Point:
    """Where it comes into the old enclosure: as told, else beside its breaker."""
    at = circuit.enters_at_in
    if at is None:
        level = circuit.enters in ("top", "bottom")
        at = box.gutters_in[1 if right else 0] if level else box.row_y(where[0].space) if where else box.first_row_in
    return entry_point(box, circuit.enters, at, right)


def _estimated(
    work: Working,
    bends_in: tuple[float, float, float],
    circuit: Circuit,
    box: Inside,
    start: Point,
    where: list[OldPosition],
    place: Place,
) -> Step:
    """It did reach its old terminal: so long it is at least, less what is cut off when it is taken off."""
    ways = [way(box, start, one.space % 2 == 0, box.row_y(one.space)) for one in where]
    if not ways:
        return work.given("its old space, or its length measured", None, IN, place)
    shortest = min(ways, key=lambda one: one.length_in)
    assumed = f" ({', '.join(box.assumed)} as usual)" if box.assumed else ""
    reached = work.take(Step(f"way to its old terminal{assumed}", _tenth(shortest.length_in), IN, place=place))
    small, middle, large = bends_in
    bend = small if circuit.gauge in ("14", "12", "10", None) else middle if circuit.gauge in ("8", "6") else large
    reached = work.total("with bend and strip, at least", [reached, Step("bend and strip", bend, IN)], IN)
    return work.difference("less what is snipped off", reached, Step("snipped", SNIPPED_IN, IN), IN)


def _new_entry(
    new: Inside, old: Inside, point: Point, side: str, new_side: str, at: float | None, right: bool
) -> Point:
    """Where it enters the new enclosure: as chosen, else at the same place of the wall, as far as the side goes."""
    wall = (old.left_in + point[0], old.top_in + point[1])
    level = new_side in ("top", "bottom")
    if at is None:
        wanted = wall[0] - new.left_in if level else wall[1] - new.top_in
        longest = new.width_in if level else new.height_in
        at = new.nearest_knockout(new_side, min(max(wanted, 1.0), longest - 1.0))
    return entry_point(new, new_side, at, right if new_side == side else wall[0] > new.left_in + new.width_in / 2)


def _wall(box: Inside, point: Point) -> Point:
    return box.left_in + point[0], box.top_in + point[1]


def _apart(new: Inside, old: Inside, was: Point, now: Point) -> float:
    """How far the new entry is from the old one, along the wall."""
    (x1, y1), (x2, y2) = _wall(old, was), _wall(new, now)
    return abs(x2 - x1) + abs(y2 - y1)


def _closer(new: Inside, old: Inside, was: Point, now: Point, side: str) -> float:
    """What is gained when the entry moves toward where the cable comes from, less what it moves sideways."""
    (x1, y1), (x2, y2) = _wall(old, was), _wall(new, now)
    if side == "top":
        return (y1 - y2) - abs(x2 - x1)
    if side == "bottom":
        return (y2 - y1) - abs(x2 - x1)
    if side == "left":
        return (x1 - x2) - abs(y2 - y1)
    if side == "right":
        return (x2 - x1) - abs(y2 - y1)
    return -abs(x2 - x1) - abs(y2 - y1)


def _tenth(length_in: float) -> float:
    return round(length_in, 1)
