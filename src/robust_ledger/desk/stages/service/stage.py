"""Service: the one-line drawing and the choices, every size, the alternatives, fault current, feeder and equipment."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.stages.service.spec import SPEC


class ServiceStage(PagedStage):
    """Pages around what the service becomes."""

    spec = SPEC
