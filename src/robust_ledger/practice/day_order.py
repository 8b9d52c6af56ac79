"""The order that a learner gives the dark hours, against the needs of the tasks and the shortest dark there is."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random

from msgspec import Struct

from robust_ledger.changeover.demands import Demands
from robust_ledger.changeover.rules import ordered
from robust_ledger.changeover.solver import dark_alone
from robust_ledger.changeover.tasks import Task
from robust_ledger.plan import Plan
from robust_ledger.practice.codes import Code


class Ordered(Struct, frozen=True):
    """An order judged: what is wrong with it in words, its dark minutes with one person, and the least there are, proven. `given` False:
    the learner has ordered nothing."""

    given: bool
    wrong: tuple[str, ...]
    dark_min: int
    least_min: int


def pool(truth: Plan, code: Code) -> tuple[Task, ...]:
    """The tasks a learner puts in order, shuffled: those of the dark among all the others of the day."""
    tasks = list(truth.changeover.tasks)
    Random(f"day/{code}").shuffle(tasks)
    return tuple(tasks)


def order_judged(order: Sequence[str], truth: Plan) -> Ordered:
    """The order of a hand-in. A task of the dark that is not in it, and one that stands before what it needs, are wrong; one that need not be
    done in the dark makes the dark longer."""
    every = truth.changeover.tasks
    by_id = {one.id: one for one in every}
    dark = [one for one in ordered(every) if one.phase == "dark"]
    least = dark_alone(every, Demands(1))
    mine = [by_id[key] for key in dict.fromkeys(order) if key in by_id]
    if not mine:
        return Ordered(False, (), 0, least)
    place = {one.id: number for number, one in enumerate(mine)}
    wrong = [f'"{one.words}" is left out: it is done in the dark' for one in dark if one.id not in place]
    for one in mine:
        late = [by_id[need].words for need in one.needs if place.get(need, -1) > place[one.id]]
        wrong += [f'"{one.words}" stands before "{need}", which it needs' for need in late]
    lacking = sum(one.usual_min for one in dark if one.id not in place)
    return Ordered(True, tuple(wrong), sum(one.usual_min for one in mine) + lacking, least)
