"""The figures of the service and of each feeder by their names: what other rooms, papers and findings read them by. Ids are for the margin,
the search and the files; they are made where an entry is made."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct

from robust_ledger.ledger.entry import Entry


class FeederFigures(Struct, frozen=True):
    """The feeder of a panel: the device that protects it [A], what it carries [A], its conductors and neutral, voltage drop and fault current.
    `ground`: its EGC, or of a panel that is a service disconnect the least neutral; `limit`: what conductors found are good
    for [A]; `own`: of a disconnect behind its feeder's breaker, and at the end of a tap, its own device [A]; `tap`: the ampacity that a tap
    needs [A]."""

    rating: Entry
    carried: Entry
    conductors: Entry
    neutral: Entry
    ground: Entry
    drop: Entry
    fault: Entry
    is_service: bool = False
    raceway: Entry | None = None
    gec: Entry | None = None
    limit: Entry | None = None
    own: Entry | None = None
    tap: Entry | None = None

    @property
    def load_side(self) -> Entry:
        """What protects what goes on from it: its own device behind that of its feeder, where it has one [A]."""
        return self.own or self.rating

    @property
    def egc(self) -> Entry | None:
        """Its equipment grounding conductor; None where the panel is a service disconnect."""
        return None if self.is_service else self.ground

    def entries(self) -> Iterator[Entry]:
        """Every one of them, in the order in which they follow from one another."""
        yield from (self.rating, self.carried, self.conductors, self.neutral, self.ground, self.drop, self.fault)
        yield from (one for one in (self.raceway, self.gec, self.limit, self.own, self.tap) if one is not None)


class ServiceFigures(Struct, frozen=True):
    """The service. `conductors`: those of the job, either `sized` for its metal and practice, or `there`, as found; `fill`: of the raceway that
    is there; `pulled_neutral`: the neutral really to be pulled. Behind a disconnect ahead: `ahead`, its rating [A], `inside`, the conductors
    from it to the panel, `inside_neutral` where a breaker of a meter-main feeds the panel, `fault_disconnect`, the fault current at it.
    `split`: conductors to the main panel of a split service, `split_neutral` their neutral; `mains`: those really there, one by one where there
    are several; `closed_83`: why the 83% rule is closed to the service conductors, "" where it is open."""

    main: Entry
    mains: Entry
    conductors: Entry
    neutral: Entry
    pulled_neutral: Entry
    gec: Entry
    mbj: Entry
    egc: Entry
    bending: Entry
    drop: Entry
    fault_source: Entry
    fault_meter: Entry
    fault_panel: Entry
    raceway: Entry
    panel_device: Entry
    emergency: Entry
    spd: Entry
    main_or_lugs: Entry
    sized: Mapping[tuple[str, str], Entry]
    feeders: Mapping[str, FeederFigures]
    there: Entry | None = None
    fill: Entry | None = None
    ahead: Entry | None = None
    inside: Entry | None = None
    inside_neutral: Entry | None = None
    fault_disconnect: Entry | None = None
    split: Entry | None = None
    split_neutral: Entry | None = None
    interlock: Entry | None = None
    solar_bus: Entry | None = None
    closed_83: str = ""

    @property
    def protection(self) -> Entry:
        """The device ahead of the inside panel; the main where there is none."""
        return self.ahead or self.main

    @property
    def decided(self) -> tuple[Entry, ...]:
        """What was decided about equipment: emergency disconnect, surge, main or lugs, interlock, solar."""
        made = (self.emergency, self.spd, self.main_or_lugs, self.interlock, self.solar_bus)
        return tuple(one for one in made if one is not None)

    @property
    def landing_neutral(self) -> Entry:
        """The neutral that lands on the panel's neutral bar."""
        return self.inside_neutral or self.split or self.pulled_neutral

    @property
    def landing(self) -> Entry:
        """The conductors that land on the panel's main terminals."""
        return self.inside or self.split or self.conductors
