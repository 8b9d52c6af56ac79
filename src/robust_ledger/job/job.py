"""The job document: what the user knows. Immutable; an edit makes a new one. Knows no rule of the code.

Fields that this version does not know are kept and written back. Amounts are stored as given (number, unit, volts),
never as a looked-up or computed value. Numbers must be finite; whether they make sense is for the plan to judge, so
that a job with a mistake in it still opens.
"""

import re
from collections.abc import Mapping
from typing import Annotated, Any, Final, Literal, Self, cast

from msgspec import Meta

from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.base import Line, Model, read_news
from robust_ledger.job.parts.changes import KEPT, CircuitChange
from robust_ledger.job.parts.circuits import Circuit, ClampReading
from robust_ledger.job.parts.conventions import Conventions
from robust_ledger.job.parts.day import ChangeoverDay
from robust_ledger.job.parts.decisions import Decisions
from robust_ledger.job.parts.defects import Caution, Defect
from robust_ledger.job.parts.equipment import Equipment
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.existing import Existing
from robust_ledger.job.parts.feed import MainFeed
from robust_ledger.job.parts.fit import Fit
from robust_ledger.job.parts.futures import Future
from robust_ledger.job.parts.grounding import Grounding
from robust_ledger.job.parts.heading import Heading
from robust_ledger.job.parts.house import Dwelling, Load, Management
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.job.parts.location import Location
from robust_ledger.job.parts.measured import Measured
from robust_ledger.job.parts.overhead import Overhead
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, Panel
from robust_ledger.job.parts.panels import NewPanel, OldBox, OldPanel
from robust_ledger.job.parts.practice import Practice
from robust_ledger.job.parts.profiles import TakenProfile
from robust_ledger.job.parts.pull_off import PullOff
from robust_ledger.job.parts.record import ChangeoverRecord
from robust_ledger.job.parts.scope import Scope
from robust_ledger.job.parts.service import ServiceRun
from robust_ledger.job.parts.stock import Stock
from robust_ledger.job.parts.utility import Utility
from robust_ledger.job.spaces import BOX_MARKS, parse_old
from robust_ledger.ledger.editions import DEFAULT_EDITION, EDITIONS, no_edition

FORMAT: Final = "robust-ledger-job"
_PANEL_ID = re.compile(r"[a-z0-9-]{1,60}")


VERSION = 7
MOST_CIRCUITS = 500


class Job(Model, frozen=True, kw_only=True):
    """One panel replacement, as one document."""

    format: Literal["robust-ledger-job"] = FORMAT
    version: int = VERSION
    heading: Heading = Heading()
    scope: Scope = Scope()
    edition: Line = DEFAULT_EDITION
    local_rules: Annotated[tuple[LocalRule, ...], Meta(max_length=100)] = ()
    dwelling: Dwelling = Dwelling()
    loads: Annotated[tuple[Load, ...], Meta(max_length=300)] = ()
    futures: Annotated[tuple[Future, ...], Meta(max_length=20)] = ()
    existing: Existing = Existing()
    utility: Utility = Utility()
    service_run: ServiceRun = ServiceRun()
    grounding: Grounding = Grounding()
    fit: Fit = Fit()
    overhead: Overhead = Overhead()
    location: Location = Location()
    equipment: Equipment = Equipment()
    conventions: Conventions = Conventions()
    defects: Annotated[tuple[Defect, ...], Meta(max_length=200)] = ()
    cautions: Annotated[tuple[Caution, ...], Meta(max_length=100)] = ()
    management: Management = Management()
    measured: Measured | None = None
    circuits: Annotated[tuple[Circuit, ...], Meta(max_length=MOST_CIRCUITS)] = ()
    readings: Annotated[tuple[ClampReading, ...], Meta(max_length=2000)] = ()
    old_panel: OldPanel = OldPanel()
    old_boxes: Annotated[tuple[OldBox, ...], Meta(max_length=16, description="every other old panel or fuse box")] = ()
    pull_off: PullOff = PullOff()
    panel: Annotated[NewPanel, Meta(description="the main panel, where the service lands")] = NewPanel()
    main_feed: Annotated[MainFeed, Meta(description="what feeds the main panel, behind what stands ahead of it")] = (
        MainFeed()
    )
    panels: Annotated[tuple[Panel, ...], Meta(max_length=60, description="every other panel")] = ()
    decisions: Decisions = Decisions()
    day: ChangeoverDay = ChangeoverDay()
    stock: Annotated[Stock, Meta(description="what is on hand of the material, and prices")] = Stock()
    record: Annotated[ChangeoverRecord, Meta(description="the changeover day as it was")] = ChangeoverRecord()

    profiles: Annotated[
        tuple[TakenProfile, ...], Meta(max_length=10, description="the profiles it was made from, as they were then")
    ] = ()
    practice: Annotated[
        Practice, Meta(description="only in an exercise: its panel, and what the learner says of it")
    ] = Practice()

    @classmethod
    def read(cls, data: Mapping[str, Any]) -> Self:
        """A job from its JSON object, checked. Raises ModelError."""
        made = super().read(data)
        made.check()
        return made

    def check(self) -> None:
        """Tags and ids are what everything else points to: each stands for one thing. Raises ModelError."""
        if self.edition not in EDITIONS:
            raise ModelError(no_edition(self.edition), ("edition",))
        for name, values in (
            ("tag", [str(c.tag) for c in self.circuits]),
            ("load id", [x.id for x in self.loads]),
            ("future", [x.id for x in self.futures]),
            ("local rule", [x.key for x in self.local_rules]),
            ("defect", [x.id for x in self.defects]),
            ("panel", [x.id for x in self.panels]),
            ("old box", [x.mark for x in self.old_boxes]),
            ("task", [x.id for x in self.day.own]),
            ("profile", [str(x.kind) for x in self.profiles]),
        ):
            if len(set(values)) < len(values):
                twice = next(value for value in values if values.count(value) > 1)
                raise ModelError(f'{name} "{twice}" is given twice')
        for box in self.old_boxes:
            if box.mark not in BOX_MARKS or len(box.mark) != 1:
                raise ModelError(f'"{box.mark}" is no mark for an old box: one of {BOX_MARKS}', ("old_boxes",))
        for panel in self.panels:
            if not _PANEL_ID.fullmatch(panel.id) or panel.id in (*AHEAD, MAIN):
                raise ModelError(f'"{panel.id}" is no id for a panel: letters, digits and dashes', ("panels",))

    def checked(self, before: Self) -> Self:
        """This job, made of `before` by an edit, with the parts that changed read as from a file: one way for every edit, file,
        paste and call-out. Raises ModelError."""
        made = cast(Self, read_news(self, before))
        if made is not before:
            made.check()
        return made

    def circuit(self, tag: int) -> Circuit | None:
        """The existing circuit of a tag; None where there is none."""
        return next((c for c in self.circuits if c.tag == tag), None)

    @property
    def fed_loads(self) -> frozenset[str]:
        """Ids of the loads that a live circuit feeds; a capped one feeds nothing."""
        return frozenset(load_id for c in self.circuits if not c.off for load_id in c.load_ids)

    def change(self, key: CircuitKey) -> CircuitChange:
        """What was decided of a circuit; by default it is kept as it is."""
        return self.decisions.circuits.get(key) or KEPT

    def load(self, load_id: str) -> Load | None:
        """The load of an id; None where there is none."""
        return next((load for load in self.loads if load.id == load_id), None)

    def defect(self, defect_id: str) -> Defect | None:
        """The defect of an id; None where there is none."""
        return next((defect for defect in self.defects if defect.id == defect_id), None)

    @property
    def attachments(self) -> tuple[str, ...]:
        """Names of the files beside the job that it rests on: its recording, and photos of defects, circuits and the old panel."""
        recording = (self.measured.source,) if self.measured and self.measured.source else ()
        of_defects = (photo for defect in self.defects for photo in defect.photos)
        of_circuits = (photo for circuit in self.circuits for photo in circuit.photos)
        of_panels = tuple(photo for _mark, box in self.all_boxes for photo in box.photos)
        return tuple(dict.fromkeys((*recording, *of_defects, *of_circuits, *of_panels)))

    @property
    def disconnect_ahead(self) -> bool:
        """Whether a disconnect stands ahead of the panel: one that was found, or one that this job adds."""
        stays = self.existing.disconnect_there and self.scope.disconnect != "gone"
        return stays or self.scope.disconnect == "new"

    @property
    def kept_disconnect(self) -> bool:
        """Whether a disconnect ahead stays as it was found, and protects with its own rating."""
        return self.existing.disconnect_there and self.scope.disconnect not in ("new", "gone")

    @property
    def raceway(self) -> str:
        """Kind of the raceway on the line side after the job: that of a new riser, else the one found; "" while not known."""
        new = self.service_run.raceway if "riser" in self.scope.renews else ""
        return new or self.existing.raceway

    @property
    def all_boxes(self) -> tuple[tuple[str, OldPanel], ...]:
        """Every old panel with its mark, the first one's empty."""
        return (("", self.old_panel), *((box.mark, box) for box in self.old_boxes if box.spaces))

    def old_box(self, mark: str) -> OldPanel | None:
        """An old panel by its mark; None where there is none."""
        return next((box for name, box in self.all_boxes if name == mark), None)

    def panel_of(self, panel_id: str) -> Panel | None:
        """A panel beside the main one, by its id."""
        return next((panel for panel in self.panels if panel.id == panel_id), None)

    def future(self, future_id: str) -> Future | None:
        """The future of an id; None where there is none."""
        return next((future for future in self.futures if future.id == future_id), None)

    @property
    def next_tag(self) -> int:
        """The tag of a circuit of which nothing is known yet."""
        return self.tag_for(())

    def tag_for(self, spaces: tuple[str, ...]) -> int:
        """The number a new circuit's tag gets: the next one, or its old space's (those of the second box from 101 on, of the third from 201) as
        long as that is not given to another."""
        taken = {circuit.tag for circuit in self.circuits}
        least = self.pull_off.first_tag
        if self.pull_off.tag_numbers == "space":
            where = parse_old(spaces[0]) if spaces else None
            marks = [mark for mark, _box in self.all_boxes]
            if where and where.box in marks and (number := where.space + 100 * marks.index(where.box)) not in taken:
                return number
            least = 100 * (len(marks) - 1) + self.all_boxes[-1][1].spaces + 1
        return max((*taken, least - 1)) + 1


def blank_job() -> Job:
    """An empty job."""
    return Job()
