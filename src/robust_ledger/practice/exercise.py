"""A made-up old panel with hidden faults, from its code: the truth as a job, the faults in it, and the empty job that the learner fills."""

from __future__ import annotations

from functools import lru_cache
from random import Random

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.practice import Practice
from robust_ledger.plan import Plan, plan
from robust_ledger.practice.codes import PRACTICE_VERSION, Code
from robust_ledger.practice.faults import fault_kinds
from robust_ledger.practice.house import SERVICES, House, Service, furnished, hidden, order_of, sauna
from robust_ledger.practice.wiring import Panel, hide, sound

SPACES = (12, 16, 20, 24)
HOUSE_LEVEL, CLOCK_LEVEL = 4, 5
CLOCK_MIN, CALLS_MIN = 40, 12  # the time of level 5, and when its customer calls


class Planted(Struct, frozen=True):
    """A fault that was hidden: its kind, the spaces it is at, and the circuit's tag in the truth; neither for one of the house."""

    kind: str
    spaces: tuple[str, ...] = ()
    tag: int = 0

    @property
    def finding_id(self) -> str:
        """The finding that the plan of the truth has for it."""
        finding = fault_kinds()[self.kind].finding
        if not self.tag:
            return finding
        space = f":{self.spaces[0]}" if self.kind == "odd_tandem" else ""
        return f"{finding}{space}:tag:{self.tag}"


class Exercise(Struct, frozen=True):
    """A practice panel. `truth`: the job of whoever called everything out truly; `planted`: the faults in it; `start`: the learner's job.
    From level 4 on it has a `house`; `feed`: the spaces of the breaker that feeds the lower bus of a split one."""

    code: Code
    truth: Job
    planted: tuple[Planted, ...]
    start: Job
    house: House | None = None
    feed: tuple[str, ...] = ()

    @property
    def clock_min(self) -> int:
        """After how many minutes the time is up; 0 without a clock."""
        return CLOCK_MIN if self.code.level >= CLOCK_LEVEL else 0

    @property
    def call(self) -> str:
        """What the customer says when calling; empty where nobody does."""
        added = self.truth.load("sauna")
        if added is None:
            return ""
        return f"The customer calls: a sauna heater of {added.nameplate.amount:g} kW at 240 V comes in as well."


def exercise(code: Code) -> Exercise:
    """The panel of a code, always the same one."""
    dice = Random(f"{PRACTICE_VERSION}/{code.level}/{code.seed}")
    spaces = dice.choice(SPACES)
    kinds = _chosen(dice, code.level)
    panel, feed = sound(dice, spaces, code.level, "split_bus" in kinds)
    planted: list[Planted] = []
    of_house: list[str] = []
    for kind in kinds:
        if fault_kinds()[kind].at == "house":
            of_house += [kind] if kind not in of_house else []
            continue
        found = hide(kind, panel, dice)
        if found is not None:
            planted.append(Planted(kind, *found))
    planted += [Planted(kind) for kind in of_house]
    if not any(fault_kinds()[one.kind].level == code.level for one in planted):
        planted += _one_of_its_own(code.level, panel, dice)

    start = with_part(blank_job(), "heading", title=f"Practice {code}")
    start = replace(with_part(start, "old_panel", spaces=spaces), practice=Practice(code=str(code)))
    service = dice.choice(SERVICES) if code.level >= HOUSE_LEVEL else SERVICES[0]
    start = order_of(start, service, spaces) if code.level >= HOUSE_LEVEL else start
    truth = replace(start, circuits=tuple(panel.circuits), practice=Practice())
    truth = with_part(truth, "old_panel", main_a=service.main_a, tandem_spaces=panel.tandem_spaces)
    if any(one.kind == "bare_behind" for one in planted):
        truth = with_part(truth, "existing", disconnect_a=service.main_a, disconnect_at="outdoors")
        truth = with_part(truth, "main_feed", wires=4)
        truth = with_part(truth, "panel", first_disconnect=False)
    if feed:
        below = (int(feed[-1]) + 1) // 2 * 2 + 1
        truth = with_part(truth, "old_panel", kind="split_bus", split_at=below, main_a=None, blank_spaces=feed)
    truth, house = _housed(dice, truth, service, of_house, code.level)
    return Exercise(
        code, truth, tuple(sorted(planted, key=lambda one: (not one.tag, one.tag, one.kind))), start, house, feed
    )


def _chosen(dice: Random, level: int) -> list[str]:
    """Which faults are to be hidden: of the newest sort one at least, of any up to the level some more; of the last level some of each."""
    by_level = {n: [key for key, kind in fault_kinds().items() if kind.level == n] for n in range(1, level + 1)}
    every = [key for keys in by_level.values() for key in keys]
    if not by_level[level]:
        first = [dice.choice(keys) for keys in by_level.values() if keys]
        return [*first, *(dice.choice(every) for _ in range(dice.randrange(1, 4)))]
    return [dice.choice(by_level[level]), *(dice.choice(every) for _ in range(dice.randrange(1, 2 + level)))]


def _one_of_its_own(level: int, panel: Panel, dice: Random) -> list[Planted]:
    """Where no circuit was fit for the fault of the level that was chosen: another one of that level; of the last, which has none, nothing."""
    kinds = [key for key, kind in fault_kinds().items() if kind.level == level and kind.at == "space"]
    dice.shuffle(kinds)
    return next(([Planted(kind, *found)] for kind in kinds if (found := hide(kind, panel, dice)) is not None), [])


def _housed(dice: Random, truth: Job, service: Service, kinds: list[str], level: int) -> tuple[Job, House | None]:
    """The house around it with its faults, and what is added to it; none below its level."""
    if level < HOUSE_LEVEL:
        return truth, None
    is_split = truth.old_panel.kind == "split_bus"
    truth, house = furnished(dice, truth, service)
    if is_split:
        truth = with_part(truth, "old_panel", main_a=None)
    for kind in kinds:
        if kind != "split_bus":
            truth = hidden(kind, truth, service, dice)
    if level >= CLOCK_LEVEL:
        truth = replace(truth, loads=(*truth.loads, sauna(dice)))
    return truth, house


@lru_cache(maxsize=8)
def panel_of(code: Code) -> Exercise:
    """The panel of a code, made once."""
    return exercise(code)


@lru_cache(maxsize=2)
def truth_of(code: Code) -> Plan:
    """The plan of its truth, made once."""
    return plan(panel_of(code).truth)
