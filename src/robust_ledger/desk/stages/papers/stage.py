"""Papers: sheets as they will print, the material, and tables to and from a spreadsheet."""

from __future__ import annotations

from typing import cast

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.stages.papers.sheets import SheetsPage
from robust_ledger.desk.stages.papers.spec import SPEC


class PapersStage(PagedStage):
    """Pages around the papers."""

    spec = SPEC

    def ask_export(self) -> None:
        """Ask for a folder and write the packet that is chosen there."""
        cast(SheetsPage, self.page("sheets")).ask_export()
