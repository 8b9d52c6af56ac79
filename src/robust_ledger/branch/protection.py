"""Arc-fault and ground-fault protection of a circuit: whether, why, where, and by which kind of breaker [210.8, 210.12, 406.4(D), 422.5]."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from functools import lru_cache

from msgspec import Struct

from robust_ledger.branch.serves import Serves, inside_place
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working


class Judgment(StrEnum):
    """The five answers to whether a protection is needed, as the papers say them."""

    REQUIRED = "required"
    NOT_REQUIRED = "not required"
    IF_EXTENDED = "not by panel change; yes if extended"
    ASK_AHJ = "ask the AHJ"
    NOT_KNOWN = "not known"


REQUIRED, NOT_REQUIRED, IF_EXTENDED, ASK_AHJ, NOT_KNOWN = Judgment
WORK_WORDS = {
    "new": "a new circuit",
    "none": "the circuit is not touched beyond the panel",
    "short": "lengthened by no more than the exception allows, without an outlet",
    "extended": "the circuit is extended or its cable replaced",
    "receptacles": "receptacles are replaced",
    "appliance": "its appliance is new",
}
# Most circuits ask the same thing again with the next keystroke.
_remembered = lru_cache(maxsize=4096)
HVAC = frozenset({"heat pump", "air conditioner"})


class Verdict(Struct, frozen=True):
    """Whether a protection is needed, in one of the five words, with the reason and its sections."""

    word: Judgment
    why: str
    cites: tuple[Citation, ...] = ()

    @property
    def needed(self) -> bool:
        return self.word == REQUIRED


class DeviceKind(StrEnum):
    """What a breaker watches for besides overcurrent."""

    STANDARD = "standard"
    ARC = "arc-fault"
    GROUND = "ground-fault"
    DUAL = "dual-function"


class Protection(Struct, frozen=True):
    """Both verdicts, the kind of breaker that follows, whether the panel's list has it, and the lawful ways where it has not."""

    arc: Verdict
    ground: Verdict
    at: str
    kind: DeviceKind
    poles: int
    listed: bool | None
    ways: tuple[str, ...] = ()
    shared: bool = False

    @property
    def electronic(self) -> bool:
        """Whether the breaker watches the neutral too, so that the neutral has to come to it."""
        return self.kind is not DeviceKind.STANDARD

    @property
    def device(self) -> str:
        """The breaker in words: "arc-fault 1-pole"."""
        return device_words(self.kind, self.poles)


class Ask(Struct, frozen=True):
    """What is asked of a circuit: voltage to ground is 120 V in every case here."""

    serves: Serves
    poles: int
    rating_a: float | None
    work: str


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
    if ask.work == "receptacles":
        return Verdict(REQUIRED, f"receptacles replaced {room}", (codebook.cite("arc_fault_replaced"),))
    if ahj_wants:
        return Verdict(REQUIRED, "the AHJ requires it at a panel change (job setting)", (extension,))
    if ask.work == "short":
        most_ft = codebook.number("arc_fault_short_ft")
        return Verdict(NOT_REQUIRED, f"lengthened by no more than {most_ft:g} ft, and no outlet added", (extension,))
    return Verdict(IF_EXTENDED, f"outlets {room}; not by panel change; yes if extended", (extension,))


@_remembered
def ground_fault(ask: Ask, codebook: Codebook) -> Verdict:
    """Ground-fault protection by place, appliance, voltage and kind of work."""
    wanted = _ground_fault_if_new(ask, codebook)
    if wanted.word != REQUIRED or ask.work in ("new", "extended", "appliance"):
        return wanted
    replaced = codebook.cite("ground_fault_replaced")
    if ask.work == "receptacles":
        return Verdict(REQUIRED, f"receptacles replaced: {wanted.why}", (replaced, *wanted.cites))
    return Verdict(IF_EXTENDED, f"{wanted.why}; what is there may stay until it is replaced", (*wanted.cites, replaced))


def _ground_fault_if_new(ask: Ask, codebook: Codebook) -> Verdict:
    """What the edition asks of a circuit installed today."""
    serves, cite = ask.serves, codebook.cite("ground_fault")
    appliance = codebook.cite("ground_fault_appliance")
    for row in codebook.table("ground_fault_appliances").rows:
        if row["appliance"] in serves.appliances:
            return Verdict(REQUIRED, f"{row['appliance']}s: GFCI required in any location", (appliance,))
    if "vehicle charger" in serves.appliances:
        rule = codebook.cite("ground_fault_ev")
        if ask.rating_a is not None and ask.rating_a > codebook.number("ground_fault_ev_most_a"):
            return Verdict(NOT_REQUIRED, "above the rating that is named", (rule,))
        return Verdict(
            ASK_AHJ, "receptacle: GFCI breaker; hard-wired EVSE: built in (check 210.8(F) in a 2023 garage)", (rule,)
        )
    hard_wired = _hard_wired(ask, codebook)
    if hard_wired is not None:
        return hard_wired
    volts = 240 if ask.poles > 1 else 120
    most_v, most_a = codebook.number("ground_fault_most_v"), codebook.number("ground_fault_most_a")
    if volts > most_v or (ask.rating_a is not None and ask.rating_a > most_a):
        return Verdict(NOT_REQUIRED, f"receptacles of {volts} V are not named in this edition", (cite,))
    if not serves.places:
        return Verdict(NOT_KNOWN, "where its outlets are is not known", (cite,))
    return _by_place(ask, codebook)


def _hard_wired(ask: Ask, codebook: Codebook) -> Verdict | None:
    """Equipment without a receptacle: named outdoors from 2020 on, in garages from 2023 on; heat pumps had a dated relief."""
    serves = ask.serves
    if not (serves.fixed or serves.appliances & (HVAC | {"furnace", "water heater"})) or serves.receptacles:
        return None
    outdoors = bool(serves.appliances & HVAC) or "outdoors" in serves.places
    cite, most_a = codebook.cite("ground_fault_outdoor"), codebook.number("ground_fault_outdoor_most_a")
    if outdoors and most_a and (ask.rating_a is None or ask.rating_a <= most_a):
        if serves.appliances & HVAC:
            return Verdict(
                ASK_AHJ, "outdoor outlet: 210.8(F) Ex.: HVAC exempt until Sept 1, 2026; check local adoption", (cite,)
            )
        return Verdict(REQUIRED, f"an outdoor outlet of no more than {most_a:g} A", (cite,))
    if "garage" in serves.places and codebook.number("ground_fault_garage_hardwired"):
        return Verdict(REQUIRED, "hard-wired equipment in a garage", (cite,))
    return Verdict(NOT_REQUIRED, "hard-wired, not a receptacle", (codebook.cite("ground_fault"),))


def _by_place(ask: Ask, codebook: Codebook) -> Verdict:
    serves, cite = ask.serves, codebook.cite("ground_fault")
    if serves.lights and not serves.receptacles and "crawl_space" in serves.places:
        return Verdict(REQUIRED, "lights in a crawl space", (codebook.cite("ground_fault_crawl"),))
    if serves.lights and not serves.receptacles:
        return Verdict(NOT_REQUIRED, "lights, no receptacles", (cite,))
    counter_only = False
    for row in codebook.table("ground_fault_places").rows:
        if row["place"] not in serves.places:
            continue
        if row["outlets"] == "all" or not serves.appliances:
            return Verdict(REQUIRED, f"receptacles {inside_place(row['place'])}", (cite,))
        counter_only = True
    if counter_only:
        return Verdict(
            ASK_AHJ, "required where its receptacle is within 6 ft of the sink", (codebook.cite("ground_fault_sink"),)
        )
    why = f"{serves.where}: not among the places named; within 6 ft of a sink, tub or shower it would be"
    return Verdict(NOT_REQUIRED, why, (cite,))


@_remembered
def protection(
    ask: Ask, partner: Ask | None, at: str, listed: tuple[str, ...], ahj_wants: bool, codebook: Codebook
) -> Protection:
    """The breaker for a circuit; one that shares its neutral takes a 2-pole for both, by what either of them needs."""
    arc, ground = arc_fault(ask, ahj_wants, codebook), ground_fault(ask, codebook)
    poles = ask.poles
    needs_arc, needs_ground = arc.needed, ground.needed
    if partner is not None:
        poles = 2
        needs_arc = needs_arc or arc_fault(partner, ahj_wants, codebook).needed
        needs_ground = needs_ground or ground_fault(partner, codebook).needed
    kind = _kind(needs_arc, needs_ground) if at == "breaker" else DeviceKind.STANDARD
    device = device_words(kind, poles)
    # Two 1-poles under a tie do for a standard pair.
    has = (
        (device in listed or (partner is not None and kind is DeviceKind.STANDARD and device_words(kind, 1) in listed))
        if listed
        else None
    )
    ways = () if has is not False else _ways(kind, poles, partner is not None, listed)
    return Protection(arc, ground, at, kind, poles, has, ways, partner is not None)


def protection_entry(key: CircuitKey, label: str, kind: str, made: Protection, codebook: Codebook) -> Entry:
    """The kind of breaker with both verdicts and their reasons; `kind` is that of the work on the circuit."""
    work = Working(f"protection.{key}", f"{label}: protection", Place.branch(key))
    work.note("work on it", WORK_WORDS[kind])
    for name, verdict in (("arc-fault", made.arc), ("ground-fault", made.ground)):
        work.note(f"{name}: {verdict.word}", verdict.why, verdict.cites)
    if made.at == "first_outlet":
        work.note("where", "at the first outlet of the run", (codebook.cite("arc_fault_outlet"),))
    if made.shared:
        cites = (codebook.cite("multiwire_disconnect"), codebook.cite("two_pole"))
        work.note(
            "both hots open together", "a 2-pole with common trip, or two 1-poles under a listed handle tie", cites
        )
    elif made.poles == 2:
        work.note("two hots", "one breaker that opens both, by common trip", (codebook.cite("two_pole"),))
    if made.listed is False:
        work.note("not on the panel's list", "; or ".join(made.ways))
    return work.entry(work.take(Step("breaker", made.device)))


def device_words(kind: DeviceKind, poles: int) -> str:
    """A breaker as a panel's list and the papers name it."""
    return f"{kind} {poles}-pole"


def _kind(arc: bool, ground: bool) -> DeviceKind:
    if arc and ground:
        return DeviceKind.DUAL
    return DeviceKind.ARC if arc else DeviceKind.GROUND if ground else DeviceKind.STANDARD


def _ways(kind: DeviceKind, poles: int, shared: bool, listed: Sequence[str]) -> tuple[str, ...]:
    """Lawful ways where the panel's list has no such breaker."""
    ways = []
    if kind in (DeviceKind.ARC, DeviceKind.GROUND) and device_words(DeviceKind.DUAL, poles) in listed:
        ways.append(f"a dual-function {poles}-pole does it too")
    if kind is DeviceKind.DUAL and device_words(DeviceKind.ARC, poles) in listed:
        ways.append("an arc-fault breaker, and ground-fault receptacles on the circuit")
    if kind is not DeviceKind.STANDARD and device_words(DeviceKind.STANDARD, poles) in listed:
        ways.append("protection at the first outlet, the run up to it as the code requires")
    if shared:
        ways.append("split the pair: a new cable for one, so that each has its own neutral and a 1-pole breaker")
    ways.append("another panel, whose list has this breaker")
    return tuple(ways)
