"""The circuits a dwelling has to have, and what may share a circuit with what [210.11(C), 210.52, 422.12, 210.23]."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct

from robust_ledger.branch.asked import NOT_KNOWN
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Citation, Finding, Severity
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place

STAGE = "bench"
Make = Callable[..., Finding]
SMALL_APPLIANCE = frozenset({"kitchen", "dining"})
# Appliances that go on a circuit of their own, and where that is a rule of the code rather than good practice.
OWN = ("furnace", "dishwasher", "disposer", "microwave", "sump pump", "septic pump", "water heater", "range", "wall oven", "cooktop", "dryer",
       "air conditioner", "heat pump", "vehicle charger")  # fmt: skip
# Two words for one thing, or units that may be on one circuit.
TOGETHER = (
    frozenset({"cooktop", "wall oven"}),
    frozenset({"air conditioner", "window unit"}),
    frozenset({"water heater", "tankless heater"}),
)
BY_CODE = {"furnace": "furnace_own", "vehicle charger": "ev_branch"}


class Requirement(Struct, frozen=True):
    """One kind of circuit that is asked for: how many, which there are, and what is wrong with it in words."""

    name: str
    needed: int
    keys: tuple[CircuitKey, ...]
    words: str
    cites: tuple[Citation, ...]
    alone: bool = False  # an appliance on its own: some of these are good practice only

    @property
    def met(self) -> bool:
        return len(self.keys) >= self.needed


def _live(branches: Sequence[Branch]) -> list[Branch]:
    return [b for b in branches if not b.off and b.serves is not None and b.origin is not Origin.FUTURE]


def _twenty(branch: Branch, codebook: Codebook) -> bool:
    return (
        branch.poles == 1
        and branch.breaker.known
        and branch.breaker.amount >= codebook.number("small_appliance_rating_a")
    )


def requirements(job: Job, branches: Sequence[Branch], codebook: Codebook) -> tuple[Requirement, ...]:
    """The required circuits, each with those that count for it."""
    live = _live(branches)
    made = [
        _requirement("Small-appliance circuits", "small_appliance_circuits_min", "small_appliance_rating", codebook,
                     [b for b in live if _is_small_appliance(b) and _twenty(b, codebook)],
                     "20 A, receptacles of kitchen, pantry and dining room only"),
        _requirement("Laundry circuit", "laundry_circuits_min", "laundry_outlets", codebook,
                     [b for b in live if b.serves and b.serves.places == {"laundry"} and b.poles == 1 and _twenty(b, codebook)],
                     "20 A, laundry receptacles only"),
        _requirement("Bathroom circuit", "bathroom_circuits_min", "bathroom_circuit", codebook,
                     [b for b in live if b.serves and b.serves.places == {"bath"} and b.serves.receptacles and _twenty(b, codebook)],
                     "20 A, bathroom receptacles; it may serve one bathroom's other outlets, or the receptacles of several"),
    ]  # fmt: skip
    if any(b.serves and "garage" in b.serves.places for b in live) or job.location.room == "garage":
        made.append(
            _requirement(
                "Garage circuit", "garage_circuits_min", "garage_circuit", codebook,
                [b for b in live if b.serves and "garage" in b.serves.places and b.serves.places <= {"garage", "outdoors"}
                 and b.serves.receptacles and _twenty(b, codebook)],
                "20 A, garage receptacles; outdoor ones may be on it"))  # fmt: skip
    for name in OWN:
        on = [b for b in live if b.serves and name in b.serves.appliances]
        if on:
            alone = [b for b in on if _alone(b, name)]
            cite = codebook.cite(BY_CODE.get(name, "appliance_own"))
            made.append(
                Requirement(
                    f"{name.capitalize()} on its own",
                    len(on),
                    tuple(b.key for b in alone),
                    "nothing else on it",
                    (cite,),
                    alone=True,
                )
            )
    return tuple(made)


def _requirement(
    name: str, value: str, rule: str, codebook: Codebook, found: Sequence[Branch], words: str
) -> Requirement:
    return Requirement(name, int(codebook.number(value)), tuple(b.key for b in found), words, (codebook.cite(rule),))


def _is_small_appliance(branch: Branch) -> bool:
    serves = branch.serves
    return (
        serves is not None
        and bool(serves.places)
        and serves.places <= SMALL_APPLIANCE
        and not serves.lights
        and not serves.fixed
        and serves.receptacles
        and serves.appliances <= {"refrigerator"}
    )


def _alone(branch: Branch, name: str) -> bool:
    """Whether an appliance has nothing beside it: no lights, no other appliance, no general receptacles."""
    serves = branch.serves
    if serves is None or serves.lights:
        return False
    others = serves.appliances - next((group for group in TOGETHER if name in group), frozenset({name}))
    return not others and not (serves.receptacles and len(serves.places) > 1)


def required_findings(
    job: Job, branches: Sequence[Branch], found: Sequence[Requirement], codebook: Codebook
) -> Iterator[Finding]:
    """Circuits that are missing, and circuits that may not be shared as they are. What is there and not touched may stay: a note."""
    make = Findings("bench", codebook, STAGE).make
    live = _live(branches)
    if not live:
        return
    for one in found:
        if one.met or one.alone:
            continue
        missing = one.needed - len(one.keys)
        yield make(
            f"required:{one.name.lower().replace(' ', '-')}",
            Severity.NOTE,
            at=Place("panel:spaces"),
            title=f"{one.name}: {missing} missing",
            text=f"{one.needed} required, {len(one.keys)} found: {one.words}.",
            remedy="Required for new work; existing may remain. Add one where a room is rewired, or say on the Circuits page what a circuit serves.",
            cites=one.cites,
        )
    for branch in live:
        yield from _shared(branch, make, codebook)
    yield from _practices(job, live, make)


def _shared(branch: Branch, make: Make, codebook: Codebook) -> Iterator[Finding]:
    """What may not be on one circuit together."""
    serves = branch.serves
    if serves is None:
        return
    touched = branch.work in ("new", "extended")
    severity = Severity.FIX if touched else Severity.NOTE
    stay = "" if touched else " Existing may remain; not allowed in new work."
    name = f"Tag {branch.tag}" if branch.tag != "new" else branch.feeds.capitalize()
    place = Place.branch(branch.key)
    others = serves.places - SMALL_APPLIANCE
    kitchen = serves.places & SMALL_APPLIANCE and serves.receptacles and not serves.appliances - {"refrigerator"}
    if kitchen and (others or serves.lights):
        what = ", ".join(sorted(others)).replace("_", " ") or "lights"
        yield make(
            f"shares_small:{branch.key}",
            severity,
            at=place,
            title=f"{name}: kitchen or dining shares with {what}",
            text=f"Small-appliance circuits serve kitchen, pantry and dining receptacles and nothing else.{stay}",
            remedy="A circuit of its own for the kitchen and dining receptacles.",
            rules=("small_appliance_outlets",),
        )
    if "furnace" in serves.appliances and not _alone(branch, "furnace"):
        kitchen_too = "kitchen" in serves.places
        yield make(
            f"shares_furnace:{branch.key}",
            Severity.FIX,
            at=place,
            title=f"{name}: the furnace shares its circuit",
            text="Central heating has a circuit of its own."
            + (" It would also sit behind the breaker that the kitchen needs." if kitchen_too else ""),
            remedy="A new cable for the furnace, or for what is beside it.",
            rules=("furnace_own",),
        )
    if "bath" in serves.places and serves.receptacles and len(serves.places) > 1:
        yield make(
            f"shares_bath:{branch.key}",
            severity,
            at=place,
            title=f"{name}: bathroom receptacles share with other rooms",
            text=f"A bathroom circuit has no outlets elsewhere.{stay}",
            remedy="A circuit for the bathroom receptacles.",
            rules=("bathroom_circuit",),
        )
    several = serves.baths > 1 and serves.places == {"bath"}
    if several and serves.receptacles and (serves.lights or serves.fixed):
        yield make(
            f"several_baths:{branch.key}",
            severity,
            at=place,
            title=f"{name}: several bathrooms share receptacles and other outlets",
            text=f"One circuit may serve the receptacles of several bathrooms, or all of one; not both.{stay}",
            remedy="Take lights, fans and heaters off it, or give each bathroom its own.",
            rules=("bathroom_circuit",),
        )
    if "laundry" in serves.places and serves.receptacles and len(serves.places) > 1:
        yield make(
            f"shares_laundry:{branch.key}",
            severity,
            at=place,
            title=f"{name}: laundry receptacles share with other rooms",
            text=f"The laundry circuit has no outlets elsewhere.{stay}",
            remedy="A circuit for the laundry.",
            rules=("laundry_outlets",),
        )
    for name_of in ("sump pump", "refrigerator"):
        protected = branch.protection
        if (
            name_of in serves.appliances
            and protected is not None
            and protected.ground.needed
            and protected.at == "breaker"
        ):
            yield make(
                f"nuisance:{branch.key}",
                Severity.NOTE,
                at=place,
                title=f"{name}: a {name_of} behind a ground-fault breaker",
                text="A trip that nobody notices floods a basement or spoils food; the protection is required all the same.",
                remedy="Its own circuit with a high-water alarm; use a readily accessible GFCI receptacle.",
                rules=("ground_fault_appliance",),
            )
    yield from _device(branch, name, make)


def _device(branch: Branch, name: str, make: Make) -> Iterator[Finding]:
    """A breaker that the panel's list does not have; rooms that are not known on new work."""
    made = branch.protection
    if made is None:
        return
    if made.listed is False:
        ways = "; ".join(made.ways)
        both = f" for tags {branch.tag} and {branch.partner.tag}" if branch.partner else ""
        if not branch.partner or branch.key < branch.partner:
            yield make(
                f"device:{branch.key}",
                Severity.FIX,
                at=Place.branch(branch.key),
                title=f"{name}: no {made.device} listed for this panel",
                text=f"Its label names no {made.device} breaker{both}.",
                remedy=f"{ways[:1].upper()}{ways[1:]}.",
                rules=("listed_breaker",),
            )
    if made.moved_away:
        yield make(
            f"protected:{branch.key}",
            Severity.ASK,
            at=Place.branch(branch.key),
            title=f"{name}: was behind a {made.found} breaker",
            text="The plan has a standard breaker here, and the protection at the first outlet of the run.",
            remedy="Say on the Circuits page that the breaker protects it as before, or accept this with what stands at the first outlet.",
            rules=("arc_fault_outlet",),
        )
    open_ = branch.work in ("new", "extended") and NOT_KNOWN in (made.arc.word, made.ground.word)
    if open_ and branch.serves is not None and branch.serves.places:
        yield make(
            f"connected:{branch.key}",
            Severity.ASK,
            at=Place.branch(branch.key),
            title=f"{name}: ground-fault protection depends on what is not entered",
            text=f"{made.ground.why[:1].upper()}{made.ground.why[1:]}.",
            remedy="Say it on the Circuits page: what its outlets are, or the distance from a sink; the date is the heading's.",
            cites=made.ground.cites,
        )
    elif open_:
        yield make(
            f"rooms:{branch.key}",
            Severity.ASK,
            at=Place.branch(branch.key),
            title=f"{name}: where are its outlets?",
            text="Without the rooms it is not known whether arc-fault and ground-fault protection are required.",
            remedy="Say it on the Circuits page.",
            rules=(
                "arc_fault",
                "ground_fault",
            ),
        )


def _practices(job: Job, live: Sequence[Branch], make: Make) -> Iterator[Finding]:
    """Smoke alarms with the lights or on their own; lights apart from receptacles or shared: as the job has chosen."""
    alarms = [b for b in live if b.serves and b.serves.alarms]
    for branch in alarms:
        lit = branch.serves is not None and "light" in branch.feeds.lower()
        if (job.decisions.smoke_practice == "lighting") != lit:
            wanted = "on a lighting circuit, where a dead one is noticed" if not lit else "on a circuit of their own"
            yield make(
                f"alarms:{branch.key}",
                Severity.NOTE,
                at=Place.branch(branch.key),
                title=f"Tag {branch.tag}: smoke alarms wired the other way",
                text=f"The job's practice has them {wanted}.",
                remedy="Keep them as they are, or choose the other practice on the Circuits page.",
                rules=("smoke_alarm",),
            )
    if job.decisions.lighting_practice == "apart":
        for branch in live:
            if branch.serves and branch.serves.lights and branch.serves.receptacles:
                yield make(
                    f"mixed:{branch.key}",
                    Severity.NOTE,
                    at=Place.branch(branch.key),
                    title=f"Tag {branch.tag}: lights and receptacles together",
                    text="The job's practice has them apart, so that one trip does not leave a room dark.",
                    remedy="Leave it, or part them where the circuit is rewired.",
                    rules=("general_circuits",),
                )
