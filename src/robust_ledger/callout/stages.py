"""Which stage understands a line: every stage has its grammar here, and one registers here to have the line."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.callout.anywhere import read_anywhere
from robust_ledger.callout.bench import read_bench
from robust_ledger.callout.changeover import read_day
from robust_ledger.callout.circuit import MOST_LETTERS, read_callout
from robust_ledger.callout.corrections import read_again, read_correction, read_on
from robust_ledger.callout.defects import read_defect
from robust_ledger.callout.fields import read_fields
from robust_ledger.callout.formal import is_formal, read_formal
from robust_ledger.callout.frame_lexicon import odd_figures
from robust_ledger.callout.frames import is_doubted, read_frames
from robust_ledger.callout.futures import read_future
from robust_ledger.callout.loads import read_load
from robust_ledger.callout.manifest import LINES
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.writing import of_reading
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan, plan


class Context(Struct):
    """What a line is read against. The plan is made when a grammar first asks for it."""

    job: Job
    codebook: Codebook
    made: Plan | None = None
    last: int | None = None  # tag of the circuit that was said last
    said: Spoken | None = None  # what was written down last

    @property
    def plan(self) -> Plan:
        """The plan of the job, of the panel in view."""
        if self.made is None:
            self.made = plan(self.job)
        return self.made


def _circuit(line: str, on: Context) -> Spoken:
    return of_reading(read_callout(line, on.job, on.codebook), line)


def _fields(name: str, stage: str = "") -> Callable[[str, Context], Spoken]:
    """The reader of a vocabulary of fields, on the stage it belongs to."""
    return lambda line, on: replace(read_fields(line, on.job, on.codebook, name), stage=stage or name)


# The readers of each stage's line, by the names of the manifest; a stage registers here to have one.
GRAMMARS: dict[str, tuple[Callable[[str, Context], Spoken], ...]] = {
    "walkthrough": (_fields("walkthrough"), lambda line, on: read_defect(line, on.job)),
    "pulloff": (_circuit,),
    "load": (
        lambda line, on: read_load(line, on.job, on.codebook),
        _fields("house", "load"),
        lambda line, on: read_future(line, on.job),
    ),
    "service": (_fields("service"),),
    "bench": (lambda line, on: read_bench(line, on.plan),),
    "changeover": (lambda line, on: read_day(line, on.plan),),
}
# Stages whose facts are understood in any order of words too, where no phrase takes the whole line.
FRAMED = frozenset(("walkthrough", "load", "service", "changeover"))
_GUESSED = (
    "pulloff",
    "load",
    "walkthrough",
    "service",
    "bench",
    "changeover",
)  # of two that understand a line alike, the one that comes first


def read_line(line: str, on: Context, stage: str = "") -> Spoken:
    """Read a line on a stage, or on the one that understands it best; orders and formal lines are understood on all."""
    if len(line) > MOST_LETTERS and not is_formal(line):
        return Spoken(stage, fault=Fault("Nobody says so much in one breath; make several lines of it.", 0, 40))
    if is_formal(line):
        return read_formal(line, on.job)
    if (order := read_anywhere(line)) is not None:
        return order
    if stage in ("", "pulloff") and (about := read_correction(line, on.job, on.codebook, on.last)) is not None:
        return about
    if on.said is not None and (again := read_again(line, on.job, on.codebook, on.said)) is not None:
        return again
    own = _read(stage, line, on) if stage in GRAMMARS else None
    if (own is None or not own.facts) and (further := read_on(line, on.job, on.codebook, on.said)) is not None:
        return further
    if own is not None and not _elsewhere(own, line):
        return own
    return _guessed(line, on, own)


def _read(stage: str, line: str, on: Context, loosely: bool = True) -> Spoken:
    """The best reading of a line on a stage: a phrase that takes all of it, else, `loosely`, facts in any order of words."""
    best = _best([reader(line, on) for reader in GRAMMARS[stage]])
    if stage not in FRAMED:
        return best
    if best.complete and not best.struck:
        odd = odd_figures(best.facts)
        return replace(best, asks=(*best.asks, *odd)) if odd else best
    if not loosely:
        return best
    if is_doubted(line):
        return Spoken(stage, fault=Fault("Said to be unknown: it stays so, and nothing is written.", 0, len(line)))
    return _best([best, read_frames(line, on.job, on.codebook, stage)])


def _elsewhere(own: Spoken, line: str) -> bool:
    """Whether a line may belong to another stage: it is not understood whole on its own; a circuit, when no space is said."""
    if own.stage == "pulloff":
        wired = own.facts.keys() & {"breaker_a", "gauge"}
        return not own.complete and "space" in own.wanted and not wired and len(line.split()) > 2
    return bool(own.struck) or (own.fault is not None and not own.understood)


def _guessed(line: str, on: Context, own: Spoken | None) -> Spoken:
    """The reading of the stage that understands a line whole; else that of the stage it was said on, or of a circuit."""
    every: list[Spoken] = []
    first = own
    for name in _GUESSED:
        if own is not None and name == own.stage:
            continue
        made = _read(name, line, on, loosely=own is None or not own.facts)
        if made.passed:  # with words nobody knows it is no line of another stage
            made = replace(made, struck=made.passed, passed=())
        if own is not None and made.complete and _is_loose(name, line, on):  # "nineteen sixty two house" is no circuit
            made = replace(made, asks=(*made.asks, f"said of the {LINES[name].heads[-1]}?"))
        if made.complete and not made.struck:
            every.append(made)
        elif first is None:
            first = made
    if every:
        return min(every, key=lambda one: (one.cost > 3.0, _GUESSED.index(one.stage)))
    return first if first is not None else Spoken("")


def _is_loose(name: str, line: str, on: Context) -> bool:
    """Whether a line is of another stage in its own words only: no phrase of that stage takes all of it, or it is no typed circuit."""
    if name == "pulloff":
        return not line.lstrip()[:1].isdigit()
    return name in FRAMED and not _read(name, line, on, loosely=False).complete


def _best(readings: list[Spoken]) -> Spoken:
    """Of several grammars of a stage the one that understands most of the line."""
    whole = [reading for reading in readings if reading.complete]
    if whole:
        return min(whole, key=lambda one: (len(one.struck), one.cost))
    return next((one for one in readings if one.understood), readings[0])
