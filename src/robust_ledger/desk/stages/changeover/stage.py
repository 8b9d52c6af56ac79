"""Changeover: the day as it is planned, as it goes, and its record."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.stages.changeover.spec import SPEC


class ChangeoverStage(PagedStage):
    """Pages around the day itself."""

    spec = SPEC
