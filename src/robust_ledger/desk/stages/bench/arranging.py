"""What Arrange answers with, as the page shows it: each layout with the plan it leads to. It is worked out beside the window; the solver is
loaded then."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import place, place_in
from robust_ledger.job.job import Job
from robust_ledger.ledger.progress import Progress
from robust_ledger.ledger.text import number_text
from robust_ledger.panel.arrange import Answer, Option
from robust_ledger.plan import Plan, plan

if TYPE_CHECKING:
    from robust_ledger.panel.request import Advice


class Choice(Struct, frozen=True):
    """One line of the choices: the layout as it is, or an arrangement with the plan it leads to."""

    option: Option | None
    plan: Plan
    together: bool = False  # of all panels

    @property
    def words(self) -> str:
        """What it costs: splices, legs, circuits that leave their old row and side."""
        every = [bench.splices.amount for bench in self.plan.benches.values()]
        counts = number_text(sum(every)) if self.together else self.plan.bench.splices.text()
        a, b = self.plan.bench.legs[0], self.plan.bench.legs[1]
        legs = f"{a.amount:.0f} / {b.amount:.0f} A" if a.known and b.known else "legs ?"
        if self.option is not None and self.plan.job.decisions.wishes.balance_by != "expected":
            legs = f"{self.option.imbalance_a:.1f} A apart"
        splices = f"{counts} splice{'s' if counts != '1' else ''}"
        if self.option is None:
            return f"as it is\n{splices} · {legs}"
        proof = "" if self.option.proven else " · not proven"
        tandems = f" · {self.option.tandems} tandems" if self.option.tandems else ""
        return f"{self.option.name}\n{splices} · {legs}{tandems}{proof}"


def one_panel(of: Plan, whole: Job, progress: Progress) -> tuple[Answer, list[Plan]]:
    """The best layouts of the panel in view, each with its plan. Raises ArrangeError, CanceledError."""
    from robust_ledger.measure.simulate.basis import wanted_of
    from robust_ledger.panel.request import arrange

    answer = arrange(wanted_of(of), progress)
    made = (plan(place(whole, option.placements, of.panel_id)) for option in answer.options)
    return answer, [one.seen_from(of.panel_id) for one in made]


def all_panels(of: Plan, whole: Plan, progress: Progress) -> tuple[Answer, list[Plan]]:
    """The best layouts of all panels together, seen from the one in view. Raises ArrangeError, CanceledError."""
    from robust_ledger.measure.simulate.basis import wanted_of_all
    from robust_ledger.panel.request import arrange_all

    wants = wanted_of_all(whole)
    answer, ids = arrange_all(list(wants.values()), progress), list(wants)
    options = [replace(option, panels={key: ids[n] for key, n in option.groups.items()}) for option in answer.options]
    made = [plan(place_in(whole.job, one.placements, one.panels)) for one in options]
    return replace(answer, options=tuple(options)), [one.seen_from(of.panel_id) for one in made]


def what_would_save(of: Plan, answer: Answer, progress: Progress) -> Advice:
    """Why each splice is left and what would save it. Raises ArrangeError, CanceledError."""
    from robust_ledger.measure.simulate.basis import wanted_of
    from robust_ledger.panel.request import advise

    return advise(wanted_of(of), answer.options[0], progress)
