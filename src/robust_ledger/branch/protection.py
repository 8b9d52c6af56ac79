"""Arc-fault and ground-fault protection of a circuit: whether, why, where, and by which kind of breaker [210.8, 210.12, 406.4(D), 422.5]."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from msgspec import Struct

from robust_ledger.branch.asked import IF_EXTENDED, NOT_KNOWN, NOT_REQUIRED, REQUIRED, Ask, Verdict
from robust_ledger.branch.ground_fault import ground_fault
from robust_ledger.branch.serves import inside_place
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.devices import Device, DeviceKind
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

WORK_WORDS = {
    "new": "a new circuit",
    "none": "the circuit is not touched beyond the panel",
    "short": "lengthened by no more than the exception allows, without an outlet",
    "lengthened": "lengthened by more than the exception allows, without an outlet",
    "extended": "the circuit is extended or its cable replaced",
    "receptacles": "receptacles are replaced",
    "appliance": "its appliance is new",
}
# Most circuits ask the same thing again with the next keystroke.
_remembered = lru_cache(maxsize=4096)


class Protection(Struct, frozen=True):
    """Both verdicts, the kind of breaker that follows, whether the panel's list has it, and the lawful ways where it has not. `found`: what
    the breaker watched for that is replaced; what was protected stays protected, required now or not."""

    arc: Verdict
    ground: Verdict
    at: str
    device: Device
    listed: bool | None
    ways: tuple[str, ...] = ()
    shared: bool = False
    found: DeviceKind = DeviceKind.STANDARD
    refused: str = ""

    @property
    def moved_away(self) -> bool:
        """Whether the breaker that was found protected the circuit, and the one that is planned does not."""
        return self.found is not DeviceKind.STANDARD and self.at != "breaker"

    @property
    def electronic(self) -> bool:
        """Whether the breaker watches the neutral too, so that the neutral has to come to it."""
        return self.device.electronic


@_remembered
def arc_fault(ask: Ask, ahj_wants: bool, codebook: Codebook) -> Verdict:
    """Arc-fault protection by room, rating and kind of work."""
    cite = codebook.cite("arc_fault")
    most_a = codebook.number("arc_fault_most_a")
    if ask.poles > 1:
        return Verdict(NOT_REQUIRED, "only 120 V circuits are named", (cite,))
    if ask.rating_a is not None and ask.rating_a > most_a:
        return Verdict(NOT_REQUIRED, f"only circuits up to {most_a:g} A are named", (cite,))
    if not ask.serves.places:
        return Verdict(NOT_KNOWN, "where its outlets are is not known", (cite,))
    rows = codebook.table("arc_fault_places").rows
    listed = [row["place"] for row in rows if row["place"] in ask.serves.places]
    if not listed:
        return Verdict(NOT_REQUIRED, f"{ask.serves.where}: not among the rooms named", (cite,))
    room = inside_place(listed[0])
    if ask.work == "new":
        return Verdict(REQUIRED, f"new circuit with outlets {room}", (cite,))
    extension = codebook.cite("arc_fault_extension")
    if ask.work == "extended":
        return Verdict(REQUIRED, f"extended or rewired, with outlets {room}", (extension,))
    if ask.work == "lengthened":
        most_ft = codebook.number("arc_fault_short_ft")
        return Verdict(REQUIRED, f"lengthened by more than {most_ft:g} ft, with outlets {room}", (extension,))
    if ask.work == "receptacles":
        return Verdict(REQUIRED, f"receptacles replaced {room}", (codebook.cite("arc_fault_replaced"),))
    if ahj_wants:
        return Verdict(REQUIRED, "the AHJ requires it at a panel change (job setting)", (extension,))
    if ask.work == "short":
        most_ft = codebook.number("arc_fault_short_ft")
        return Verdict(NOT_REQUIRED, f"lengthened by no more than {most_ft:g} ft, and no outlet added", (extension,))
    return Verdict(IF_EXTENDED, f"outlets {room}; not by panel change; yes if extended", (extension,))


@_remembered
def protection(
    ask: Ask, partner: Ask | None, at: str, listed: tuple[str, ...], ahj_wants: bool, codebook: Codebook
) -> Protection:
    """The breaker for a circuit; one that shares its neutral takes a 2-pole for both, by what either of them needs. What a breaker that was
    found watched for, the one in its place watches for too."""
    arc, ground = arc_fault(ask, ahj_wants, codebook), ground_fault(ask, codebook)
    poles = ask.poles
    needs_arc, needs_ground = arc.needed or ask.found_arc, ground.needed or ask.found_ground
    found_arc, found_ground = ask.found_arc, ask.found_ground
    if partner is not None:
        poles = 2
        needs_arc = needs_arc or arc_fault(partner, ahj_wants, codebook).needed or partner.found_arc
        needs_ground = needs_ground or ground_fault(partner, codebook).needed or partner.found_ground
        found_arc, found_ground = found_arc or partner.found_arc, found_ground or partner.found_ground
    whole = DeviceKind.watching(needs_arc, needs_ground)
    barred = outlet_refused(ask, needs_arc, codebook)
    refused = barred if at == "first_outlet" and whole is not DeviceKind.STANDARD else ""
    at = "breaker" if refused else at
    kind = whole if at == "breaker" else DeviceKind.STANDARD
    device = Device(kind, poles)
    # Two 1-poles under a tie do for a standard pair.
    has = (
        str(device) in listed or (partner is not None and not device.electronic and str(Device(kind, 1)) in listed)
        if listed
        else None
    )
    ways = () if has is not False else _ways(device, partner is not None, listed, not barred)
    found = DeviceKind.watching(found_arc, found_ground)
    return Protection(arc, ground, at, device, has, ways, partner is not None, found, refused)


def outlet_refused(ask: Ask, arc: bool, codebook: Codebook) -> str:
    """Why protection cannot be had at the first outlet; "" where it can. Devices for outlets are made for one 120 V circuit of no more than 20 A;
    a new run has arc-fault protection from its breaker on unless metal goes with it [210.12(A), (B)]."""
    most_a = codebook.number("outlet_device_most_a")
    if ask.poles > 1:
        return "no such device is made for two hots"
    if ask.rating_a is not None and ask.rating_a > most_a:
        return f"no such device is made above {most_a:g} A"
    if ask.rating_a is None:
        return "the circuit's rating is not known"
    if arc and ask.work == "new" and not ask.metal_run:
        return "the new run up to it would be without arc-fault protection, and is not in metal raceway or metal-clad cable"
    return ""


def protection_entry(key: CircuitKey, label: str, kind: str, made: Protection, codebook: Codebook) -> Entry:
    """The kind of breaker with both verdicts and their reasons; `kind` is that of the work on the circuit."""
    work = Working(f"protection.{key}", f"{label}: protection", Place.branch(key))
    work.note("work on it", WORK_WORDS[kind])
    for name, verdict in (("arc-fault", made.arc), ("ground-fault", made.ground)):
        work.note(f"{name}: {verdict.word}", verdict.why, verdict.cites)
    if made.found is not DeviceKind.STANDARD:
        rules = {DeviceKind.ARC: ("arc_fault",), DeviceKind.GROUND: ("ground_fault",)}
        cites = tuple(codebook.cite(rule) for rule in rules.get(made.found, ("arc_fault", "ground_fault")))
        work.note("as found", f"{made.found} breaker: what was protected stays protected", cites)
    if made.refused:
        work.note("at the first outlet: not possible", made.refused, (codebook.cite("arc_fault_outlet"),))
    if made.at == "first_outlet":
        work.note("where", "at the first outlet of the run", (codebook.cite("arc_fault_outlet"),))
    if made.shared:
        cites = (codebook.cite("multiwire_disconnect"), codebook.cite("two_pole"))
        work.note(
            "both hots open together", "a 2-pole with common trip, or two 1-poles under a listed handle tie", cites
        )
    elif made.device.poles == 2:
        work.note("two hots", "one breaker that opens both, by common trip", (codebook.cite("two_pole"),))
    if made.listed is False:
        work.note("not on the panel's list", "; or ".join(made.ways))
    return work.entry(work.take(Step("breaker", str(made.device))))


def _ways(device: Device, shared: bool, listed: Sequence[str], at_outlet: bool) -> tuple[str, ...]:
    """Lawful ways where the panel's list has no such breaker."""
    ways = []
    arc, dual, standard = (
        str(Device(kind, device.poles)) in listed for kind in (DeviceKind.ARC, DeviceKind.DUAL, DeviceKind.STANDARD)
    )
    if device.kind in (DeviceKind.ARC, DeviceKind.GROUND) and dual:
        ways.append(f"a {Device(DeviceKind.DUAL, device.poles)} does it too")
    if device.kind is DeviceKind.DUAL and arc:
        ways.append("an arc-fault breaker, and ground-fault receptacles on the circuit")
    if device.electronic and standard and at_outlet:
        ways.append("protection at the first outlet, the run up to it as the code requires")
    if shared:
        ways.append("split the pair: a new cable for one, so that each has its own neutral and a 1-pole breaker")
    ways.append("another panel, whose list has this breaker")
    return tuple(ways)
