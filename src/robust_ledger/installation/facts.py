"""What the installation is derived from: the job, and what the rooms below have worked out of it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

from msgspec import Struct

from robust_ledger.branch.model import Branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import ahead_box, in_order, is_enclosure
from robust_ledger.service.figures import ServiceFigures
from robust_ledger.service.kept_equipment import RUNS
from robust_ledger.service.result import ServiceResult
from robust_ledger.survey.grounding import GroundingFigures

FOUND = {"riser": RUNS[0][0], "load": RUNS[1][0]}
RENEWED = {"riser": ("riser", "riser_conductors"), "load": ("load_conductors",)}


class Facts(Struct, frozen=True, dict=True):
    """The job, its service, grounding (None where the scope does not ask about it) and circuits."""

    job: Job
    service: ServiceResult
    grounding: GroundingFigures | None
    branches: Sequence[Branch]
    codebook: Codebook

    @property
    def figures(self) -> ServiceFigures:
        """The figures of the service by their names."""
        return self.service.figures

    @cached_property
    def box(self) -> Panel | None:
        """The panel that is the enclosure of the disconnect ahead."""
        return ahead_box(self.job)

    @cached_property
    def further(self) -> tuple[Panel, ...]:
        """The panels beside the main one that have a feeder, each after the one that feeds it."""
        return tuple(panel for panel in in_order(self.job) if not is_enclosure(self.job, panel))

    def renews(self, run: str) -> bool:
        """Whether this job makes a run of the service conductors new: "riser" or "load"."""
        return any(one in self.job.scope.renews for one in RENEWED[run])

    def found_wire(self, run: str) -> str:
        """What was read of the conductors of such a run; "" where nothing was."""
        return str(getattr(self.job.existing, FOUND[run]))
