"""The points of a hand-in, of a hundred: what was found, missed and invented, how truly it was read; from level 4 on the load, the layout and the
order of the dark hours as well."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.parts.practice import Named, Practice
from robust_ledger.plan import Plan, plan
from robust_ledger.practice.codes import Code, PracticeError, read_code
from robust_ledger.practice.day_order import Ordered, order_judged
from robust_ledger.practice.exercise import HOUSE_LEVEL, Exercise, panel_of, truth_of
from robust_ledger.practice.judged import Verdict, judged
from robust_ledger.practice.layout import Laid, layout_judged
from robust_ledger.practice.reading import Misread, Read, read

INVENTED_POINTS = 5  # each fault that is not there costs so many
READ_ONLY_PART = 0.5  # of a fault's points, where the learner called out what it follows from and did not say it
LOAD_OFF_PART = 0.10  # a load so far off gets no point
SPLICE_POINTS, WRONG_POINTS, LATE_MIN = (
    2,
    3,
    10,
)  # a splice too many; a task at the wrong place; minutes of dark that cost a point


class Weights(Struct, frozen=True):
    """What each part of an exercise counts."""

    faults: int
    reading: int
    load: int = 0
    layout: int = 0
    order: int = 0


PANEL, HOUSE = Weights(70, 30), Weights(45, 15, 15, 10, 15)


class Sized(Struct, frozen=True):
    """The load that a learner comes to [VA], None while unknown, and what it is by the same method."""

    load_va: float | None
    true_va: float


class Part(Struct, frozen=True):
    """A part of the score: its name, the points, the most there are, and how they come about."""

    name: str
    points: float
    most: int
    how: str


class Score(Struct, frozen=True):
    """The points of a hand-in with everything they are made of. `minutes` from the beginning to the hand-in, None where the job does not say;
    `over_min`: how much of it was past the clock."""

    code: str
    points: int
    parts: tuple[Part, ...]
    found: tuple[Verdict, ...]
    missed: tuple[Verdict, ...]
    invented: tuple[Verdict, ...]
    misread: tuple[Misread, ...]
    circuits: int
    minutes: float | None = None
    over_min: float = 0.0
    sized: Sized | None = None
    laid: Laid | None = None
    ordered: Ordered | None = None

    @property
    def circuits_a_minute(self) -> float | None:
        """How fast the circuits were called out; None where the time is not known."""
        return self.circuits / self.minutes if self.minutes else None


def code_of(job: Job) -> Code:
    """The code of the panel that a job was practiced on, kept in it, else from its title. Raises PracticeError."""
    head, _, code = job.heading.title.partition(" ")
    code = job.practice.code or (code if head == "Practice" else "")
    if not code:
        raise PracticeError("The job is of no practice panel: it has no code.")
    return read_code(code)


def scored(job: Job, made: Exercise | None = None, named: Sequence[Named] = ()) -> Score:
    """The score of a hand-in; `named` are faults that the learner names beside it. Raises PracticeError."""
    made = made or panel_of(code_of(job))
    theirs, truth = plan(replace(job, practice=Practice())), truth_of(made.code)
    verdicts, reading = judged(job, made, theirs, truth, named), read(job, made)
    is_house = made.code.level >= HOUSE_LEVEL
    weights = HOUSE if is_house else PANEL
    parts = [
        _faults(len(made.planted), verdicts.found, len(verdicts.invented), weights.faults),
        _reading(reading, weights.reading),
    ]
    sized, laid, ordered = None, None, None
    if is_house:
        sized, laid, ordered = (
            _sized(theirs, truth),
            layout_judged(job, made.code),
            order_judged(job.practice.order, truth),
        )
        parts += [_load(sized, weights.load), _layout(laid, weights.layout), _order(ordered, weights.order)]
    minutes = minutes_of(job)
    return Score(
        str(made.code),
        round(sum(part.points for part in parts)),
        tuple(parts),
        verdicts.found,
        verdicts.missed,
        verdicts.invented,
        reading.misread,
        reading.circuits,
        minutes,
        max(0.0, (minutes or 0.0) - made.clock_min) if made.clock_min else 0.0,
        sized,
        laid,
        ordered,
    )


def minutes_of(job: Job) -> float | None:
    """From the beginning to the hand-in; None where one of them is not kept, or the clock went backward."""
    try:
        begin, end = datetime.fromisoformat(job.practice.started), datetime.fromisoformat(job.practice.handed_in)
        passed = (end - begin).total_seconds() / 60
    except (ValueError, TypeError):
        return None
    return passed if passed > 0 else None


def _faults(count: int, found: Sequence[Verdict], invented: int, most: int) -> Part:
    named = sum(1 for one in found if one.named)
    shares = named + READ_ONLY_PART * (len(found) - named)
    how = f"{named} of {count} named, {len(found) - named} only called out, {invented} invented"
    return Part("faults", max(0.0, most * shares / count - INVENTED_POINTS * invented), most, how)


def _reading(reading: Read, most: int) -> Part:
    right = reading.count - len(reading.misread)
    return Part("reading", most * right / reading.count, most, f"{right} of {reading.count} read truly")


def _sized(theirs: Plan, truth: Plan) -> Sized:
    """The load by the learner's method, theirs and the true one; a measured one stands on no nameplate: the optional one is taken."""
    method = theirs.load.dealt.method
    mine, true = theirs.load.calculations[method].total, truth.load.calculations[method].total
    return Sized(mine.amount if mine.known else None, true.amount)


def _load(sized: Sized, most: int) -> Part:
    if sized.load_va is None:
        return Part("load", 0.0, most, f"not known, it is {sized.true_va:,.0f} VA")
    off = sized.load_va - sized.true_va
    part = 1.0 if abs(off) < 0.5 else max(0.0, 1 - abs(off) / (LOAD_OFF_PART * sized.true_va))
    words = (
        "to the VA"
        if abs(off) < 0.5
        else f"{abs(off):,.0f} VA too {'much' if off > 0 else 'little'}, it is {sized.true_va:,.0f} VA"
    )
    return Part("load", most * part, most, f"{sized.load_va:,.0f} VA, {words}")


def _layout(laid: Laid, most: int) -> Part:
    if laid.splices is None or laid.fewest is None:
        fewest = "" if laid.fewest is None else f"; the fewest splices are {laid.fewest}, proven"
        return Part("layout", 0.0, most, f"{'nothing was placed' if not laid.placed else 'splices not known'}{fewest}")
    more = max(0.0, laid.splices - laid.fewest)
    return Part(
        "layout",
        max(0.0, most - SPLICE_POINTS * more),
        most,
        f"{laid.splices:g} splices, the fewest are {laid.fewest}, proven",
    )


def _order(made: Ordered, most: int) -> Part:
    if not made.given:
        return Part("dark hours", 0.0, most, f"not put in order; the shortest dark is {made.least_min} min, proven")
    longer = max(0, made.dark_min - made.least_min)
    points = most - WRONG_POINTS * len(made.wrong) - longer / LATE_MIN
    how = (
        f"{made.dark_min} min dark, the shortest is {made.least_min} min, proven; {len(made.wrong)} at the wrong place"
    )
    return Part("dark hours", max(0.0, points), most, how)
