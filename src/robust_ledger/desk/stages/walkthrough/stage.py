"""Walk-through, days before: scope, the chain, earth, fit, overhead, the panel's place and size, inherited defects."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage
from robust_ledger.desk.kit.qt import there
from robust_ledger.desk.stages.walkthrough.spec import SPEC
from robust_ledger.plan import Plan


class WalkthroughStage(PagedStage):
    """Pages by topic; those the scope does not ask about have no button."""

    spec = SPEC

    def start(self) -> None:
        """With the scope said, the chain is what one wants to see first."""
        if self.store.job.scope.said and "chain" not in self.made:
            self.turn_to("chain")
        super().start()

    def show_plan(self, plan: Plan) -> None:
        if not self.made and plan.job.scope.said:  # what is there is shown first: the page before it need not be made
            self.current = "chain"
            there(self.tabs.button([page.name for page in self.spec.pages].index("chain"))).setChecked(True)
        for number, page in enumerate(self.spec.pages):
            there(self.tabs.button(number)).setVisible(page.name == "scope" or page.name in plan.walk.asked)
        if self.current != "scope" and self.current not in plan.walk.asked:
            self.turn_to("scope")
        super().show_plan(plan)
