"""The circuits a dwelling has to have, and what may share a circuit with what [210.11(C), 210.52, 422.12, 210.23]."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct

from robust_ledger.branch.asked import NOT_KNOWN
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.subject import of_branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.entry import Citation, Finding
from robust_ledger.ledger.place import Place

STAGE = "bench"
Find = Callable[..., Finding]
SMALL_APPLIANCE = frozenset({"kitchen", "dining"})
# Appliances that go on a circuit of their own, and where that is a rule of the code rather than good practice.
OWN = ("furnace", "dishwasher", "disposer", "microwave", "sump pump", "septic pump", "water heater", "range", "wall oven", "cooktop", "dryer",
       "air conditioner", "heat pump", "vehicle charger")  # fmt: skip
# Two words for one thing, or units that may be on one circuit.
TOGETHER = (
    frozenset({"cooktop", "wall oven"}),
    frozenset({"air conditioner", "window unit"}),
    frozenset({"water heater", "tankless heater"}),
    frozenset({"furnace", "electric heat", "air conditioner", "heat pump"}),  # parts of one heating plant [422.12 Ex.]
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
        """Whether there are as many circuits as required."""
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
                "Garage circuit",
                "garage_circuits_min",
                "garage_circuit",
                codebook,
                [
                    b
                    for b in live
                    if b.serves
                    and "garage" in b.serves.places
                    and b.serves.places <= {"garage", "outdoors"}
                    and b.serves.receptacles
                    and _twenty(b, codebook)
                ],
                "20 A, garage receptacles; outdoor ones may be on it",
            )
        )
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
    find = Findings(codebook, STAGE).find
    live = _live(branches)
    if not live:
        return
    for one in found:
        if one.met or one.alone:
            continue
        missing = one.needed - len(one.keys)
        yield find(
            "bench.required",
            at=Place("panel:spaces"),
            of=one.name.lower().replace(" ", "-"),
            cites=one.cites,
            circuits=one.name,
            missing=missing,
            needed=one.needed,
            there=len(one.keys),
            words=one.words,
        )
    for branch in live:
        yield from _shared(branch, of_branch(branch, codebook).find)
    yield from _practices(job, live, codebook)


def _shared(branch: Branch, find: Find) -> Iterator[Finding]:
    """What may not be on one circuit together."""
    serves = branch.serves
    if serves is None:
        return
    touched = branch.work in ("new", "extended")
    others = serves.places - SMALL_APPLIANCE
    kitchen = serves.places & SMALL_APPLIANCE and serves.receptacles and not serves.appliances - {"refrigerator"}
    if kitchen and (others or serves.lights):
        what = ", ".join(sorted(others)).replace("_", " ") or "lights"
        yield find("bench.shares_small", touched=touched, what=what)
    if "furnace" in serves.appliances and not _alone(branch, "furnace"):
        yield find(
            "bench.shares_furnace",
            kitchen_too="kitchen" in serves.places,
        )
    if "bath" in serves.places and serves.receptacles and len(serves.places) > 1:
        yield find("bench.shares_bath", touched=touched)
    several = serves.baths > 1 and serves.places == {"bath"}
    if several and serves.receptacles and (serves.lights or serves.fixed):
        yield find("bench.several_baths", touched=touched)
    if "laundry" in serves.places and serves.receptacles and len(serves.places) > 1:
        yield find("bench.shares_laundry", touched=touched)
    for name_of in ("sump pump", "refrigerator"):
        protected = branch.protection
        if (
            name_of in serves.appliances
            and protected is not None
            and protected.ground.needed
            and protected.at == "breaker"
        ):
            yield find("bench.nuisance", appliance=name_of)
    yield from _device(branch, find)


def _device(branch: Branch, find: Find) -> Iterator[Finding]:
    """A breaker that the panel's list does not have; rooms that are not known on new work."""
    made = branch.protection
    if made is None:
        return
    if made.listed is False:
        ways = "; ".join(made.ways)
        both = f" for tags {branch.tag} and {branch.partner.tag}" if branch.partner else ""
        if not branch.partner or branch.key < branch.partner:
            yield find(
                "bench.device",
                device=str(made.device),
                both=both,
                ways=ways,
            )
    if made.moved_away:
        yield find("bench.protected", found=made.found)
    open_ = branch.work in ("new", "extended") and NOT_KNOWN in (made.arc.word, made.ground.word)
    open_ = open_ or (branch.work in ("appliance", "receptacles") and made.ground.word == NOT_KNOWN)
    if open_ and branch.serves is not None and branch.serves.places:
        yield find(
            "bench.connected",
            cites=made.ground.cites,
            why=made.ground.why,
        )
    elif open_:
        yield find("bench.rooms")


def _practices(job: Job, live: Sequence[Branch], codebook: Codebook) -> Iterator[Finding]:
    """Smoke alarms with the lights or on their own; lights apart from receptacles or shared: as the job has chosen."""
    alarms = [b for b in live if b.serves and b.serves.alarms] if job.decisions.smoke_practice else []
    for branch in alarms:
        lit = branch.serves is not None and branch.serves.lights
        if (job.decisions.smoke_practice == "lighting") != lit:
            wanted = "on a lighting circuit, where a dead one is noticed" if not lit else "on a circuit of their own"
            yield of_branch(branch, codebook).find("bench.alarms", wanted=wanted)
    if job.decisions.lighting_practice == "apart":
        for branch in live:
            if branch.serves and branch.serves.lights and branch.serves.receptacles:
                yield of_branch(branch, codebook).find("bench.mixed")
