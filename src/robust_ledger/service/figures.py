"""The figures of the service and of each feeder by their names: what other rooms, papers and findings read them by. Ids are for the margin,
the search and the files; they are made where an entry is made."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct

from robust_ledger.job.keys import MAIN
from robust_ledger.ledger.entry import Entry


class FeederFigures(Struct, frozen=True):
    """The feeder of a panel: the device that protects it [A], what it carries [A], its conductors and neutral, voltage drop (none of its own for
    a main panel straight behind the meter or the disconnect ahead: the service's goes on to it) and fault current.
    `ground`: its EGC, or of a panel that is a service disconnect the least neutral; `limit`: what conductors found are good
    for [A]; `own`: of a disconnect behind its feeder's breaker, and at the end of a tap, its own device [A]; `tap`: the ampacity that a tap
    needs [A]; `least_neutral`: where `neutral` is the one really pulled, the smallest that would do."""

    rating: Entry
    carried: Entry
    conductors: Entry
    neutral: Entry
    ground: Entry
    drop: Entry | None
    fault: Entry
    is_service: bool = False
    raceway: Entry | None = None
    gec: Entry | None = None
    limit: Entry | None = None
    own: Entry | None = None
    tap: Entry | None = None
    least_neutral: Entry | None = None

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
        yield from (self.rating, self.carried, self.conductors, self.neutral, self.ground, self.fault)
        others = (self.drop, self.raceway, self.gec, self.limit, self.own, self.tap, self.least_neutral)
        yield from (one for one in others if one is not None)


class ServiceFigures(Struct, frozen=True):
    """The service. `conductors`: those of the job, either `sized` for its metal and practice, or `there`, as found; `fill`: of the raceway that
    is there; `pulled_neutral`: the neutral really to be pulled. `feeders`: of every node that has one, the main panel too where something
    stands ahead of it or it is one of a split service. With a disconnect ahead: `ahead`, its rating [A], `fault_disconnect`, the fault current at it.
    `mains`: those really there, one by one where there are several; `closed_83`: why the 83% rule is closed to the service conductors, "" where
    it is open."""

    main: Entry
    mains: Entry
    conductors: Entry
    neutral: Entry
    pulled_neutral: Entry
    gec: Entry
    mbj: Entry
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
    fault_disconnect: Entry | None = None
    interlock: Entry | None = None
    solar_bus: Entry | None = None
    closed_83: str = ""

    @property
    def decided(self) -> tuple[Entry, ...]:
        """What was decided about equipment: emergency disconnect, surge, main or lugs, interlock, solar."""
        made = (self.emergency, self.spd, self.main_or_lugs, self.interlock, self.solar_bus)
        return tuple(one for one in made if one is not None)

    @property
    def to_main(self) -> FeederFigures | None:
        """The feeder of the main panel; None where the service conductors land in it."""
        return self.feeders.get(MAIN)

    @property
    def landing_neutral(self) -> Entry:
        """The neutral that lands on the main panel's neutral bar."""
        return self.to_main.neutral if self.to_main is not None else self.pulled_neutral

    @property
    def landing(self) -> Entry:
        """The conductors that land on the main panel's main terminals."""
        return self.to_main.conductors if self.to_main is not None else self.conductors
