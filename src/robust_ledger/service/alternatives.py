"""Every main from 100 to 400 A in copper and aluminum: what it takes, and whether each link of the service holds."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ratings_a
from robust_ledger.job.conductors import METAL_TEXT, METALS
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.service.ampacity import picked
from robust_ledger.service.bonding import bonding_jumper_entry, electrode_entry
from robust_ledger.service.raceway import NO_RACEWAY, RACEWAY_WORDS, holds, raceway_for
from robust_ledger.service.sizing import neutral_conductor_entry, service_conductor_entry

LOWEST_A, HIGHEST_A = 100, 400
RULES = ("dwelling", "full", "strict")
_WORDS = {
    "dwelling": "conductors by the 83% rule",
    "full": "conductors by the load, next size up",
    "strict": "conductors by the whole rating",
    "neutral": "neutral",
    "raceway": "raceway needed",
    "electrode": "GEC",
    "bonding_jumper": "bonding jumper",
}


class Check(Struct, frozen=True):
    """One link against an alternative: whether it holds (None = not known), and in which words."""

    holds: bool | None
    words: str


class Alternative(Struct, frozen=True):
    """A main [A] with conductors of one metal: conductors by each practice, neutral, raceway,
    GEC, bonding jumper, and a check for every link."""

    rating_a: float
    metal: str
    dwelling: Entry
    full: Entry
    strict: Entry
    neutral: Entry
    raceway: Entry
    electrode: Entry
    bonding_jumper: Entry
    used: Entry
    checks: tuple[Check, ...]

    @property
    def key(self) -> str:
        """What tells it apart: rating and metal."""
        return f"{self.rating_a:g}.{self.metal}"

    @property
    def passes(self) -> bool:
        """No link fails. What is not known does not fail, but is told."""
        return all(check.holds is not False for check in self.checks)

    @property
    def verdict(self) -> str:
        """Why it fails, or what is still to be found out, or that it holds."""
        failing = [check.words for check in self.checks if check.holds is False]
        unknown = [check.words for check in self.checks if check.holds is None]
        return "; ".join(failing or unknown) or "every link is large enough"

    @property
    def entries(self) -> tuple[Entry, ...]:
        """Every entry of the alternative."""
        return self.dwelling, self.full, self.strict, self.neutral, self.raceway, self.electrode, self.bonding_jumper


def alternatives(
    job: Job, load: Entry, neutral_load: Entry, kept: Sequence[tuple[str, Entry]], codebook: Codebook
) -> list[Alternative]:
    """All of them, the smallest main first and the job's metal before the other. `kept`: words and largest main of the
    conductors and disconnect that stay."""
    metals = sorted(METALS, key=lambda metal: metal != job.decisions.metal)
    mains = [rating for rating in ratings_a(codebook) if LOWEST_A <= rating <= HIGHEST_A]
    return [
        _alternative(job, rating, metal, load, neutral_load, kept, codebook) for rating in mains for metal in metals
    ]


def _alternative(
    job: Job,
    rating_a: float,
    metal: str,
    load: Entry,
    neutral_load: Entry,
    kept: Sequence[tuple[str, Entry]],
    codebook: Codebook,
) -> Alternative:
    name = f"service.alternative.{rating_a:g}.{metal}"
    main = Entry("service.main", "Main", rating_a, "A")

    def named(what: str, entry: Entry) -> Entry:
        return replace(entry, id=f"{name}.{what}", label=f"{rating_a:g} A {METAL_TEXT[metal]}: {_WORDS[what]}")

    by_rule = {rule: service_conductor_entry(job, main, load, metal, rule, codebook) for rule in RULES}
    used = by_rule[job.decisions.conductor_rule]
    neutral = neutral_conductor_entry(job, used, neutral_load, main, codebook)
    raceway = raceway_for(f"{name}.raceway", job, used, neutral, codebook)
    return Alternative(
        rating_a,
        metal,
        named("dwelling", by_rule["dwelling"]),
        named("full", by_rule["full"]),
        named("strict", by_rule["strict"]),
        named("neutral", neutral),
        named("raceway", raceway),
        named("electrode", electrode_entry(used, codebook)),
        named("bonding_jumper", bonding_jumper_entry(used, codebook)),
        used,
        (*_checks(job, rating_a, load, used, raceway, codebook), *_kept_checks(rating_a, kept)),
    )


def _kept_checks(rating_a: float, kept: Sequence[tuple[str, Entry]]) -> Iterator[Check]:
    """The links as found that stay."""
    for words, limit in kept:
        if not limit.known:
            yield Check(None, f"{words} not read")
        elif rating_a > limit.amount:
            yield Check(False, f"{words} {limit.text()}")


def _checks(
    job: Job, rating_a: float, load: Entry, conductors: Entry, raceway: Entry, codebook: Codebook
) -> Iterator[Check]:
    """Load, meter socket, bus, conductor and raceway, each with its reason."""
    if not load.known:
        yield Check(None, f"the load is not known: {load.why_unknown}")
    elif rating_a < load.amount:
        yield Check(False, f"{Step('', load.amount - rating_a, 'A').text()} below the load")
    label_a = job.existing.meter_label_a
    if not job.decisions.meter_replaced:
        if label_a is None:
            yield Check(None, "the meter socket's label is not read")
        elif rating_a > label_a:
            yield Check(False, f"meter {label_a:g} A")
    if rating_a > job.panel.bus_a:
        yield Check(False, f"bus {job.panel.bus_a:g} A")
    if not conductors.known:
        yield Check(False, "no conductors of the table carry it")
        return
    yield from _raceway_check(job, conductors, raceway, codebook)


def _raceway_check(job: Job, conductors: Entry, raceway: Entry, codebook: Codebook) -> Iterator[Check]:
    """A raceway that stays, against the conductors that would go into it."""
    run, hot = job.existing, picked(conductors)
    if run.raceway in NO_RACEWAY or run.underground or "riser" in job.scope.renews or hot is None:
        return
    words = RACEWAY_WORDS[run.raceway]
    fits = holds(str(raceway.value), run.trade_size, codebook) if raceway.known else False
    if not raceway.known:
        yield Check(False, f"no {words} of the table takes the conductors")
    elif hot.sets > 1:
        yield Check(False, f"needs {hot.sets} raceways of {raceway.text()}, one is there")
    elif fits is None:
        yield Check(None, f"needs {raceway.text()} {words}; its trade size is not entered")
    elif not fits:
        yield Check(False, f"raceway {run.trade_size}, needs {raceway.text()}")
