"""Walk-through, days before: scope, the chain, earth, fit, overhead, the panel's place and size, inherited defects."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.job.parts.heading import Scope
from robust_ledger.plan import Plan

_PAGE_OF = {
    "job:scope": "scope",
    "old_panel:marks": "defects",
    "decisions:spares": "location",
    "decisions:defect_school": "defects",
    "panel:spaces": "location",
}
_PAGE_OF_PART = {"replaced": "chain", "defect": "defects", "service_run": "chain", "old_panel": "chain"}


class WalkthroughStage(PagedStage):
    """Pages by topic; those the scope does not ask about have no button."""

    prefix = "walkthrough"
    title = "Walk-through"
    pages = (
        ("scope", "S&cope"),
        ("chain", "Ch&ain"),
        ("earth", "Ea&rth"),
        ("fit", "&Fit"),
        ("overhead", "&Overhead"),
        ("location", "&Place and count"),
        ("defects", "&Defects"),
    )

    def start(self) -> None:
        """With the scope said, the chain is what one wants to see first."""
        if self.store.job.scope is not Scope.UNSAID and "chain" not in self.made:
            self.turn_to("chain")
        super().start()

    def show_plan(self, plan: Plan) -> None:
        for number, (name, _words) in enumerate(self.pages):
            self.tabs.button(number).setVisible(name == "scope" or name in plan.asked)
        if self.current != "scope" and self.current not in plan.asked:
            self.turn_to("scope")
        super().show_plan(plan)

    def page_of(self, place: str) -> str:
        part = place.partition(":")[0]
        wanted = _PAGE_OF.get(place) or _PAGE_OF_PART.get(part, part)
        return wanted if wanted in dict(self.pages) else self.current
