"""Volts, amperes and volt-amperes from any two of them, and the 80% check of a continuous load."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working


def convert(volts: float | None, amperes: float | None, va: float | None) -> Entry:
    """The third of volts [V], amperes [A] and volt-amperes [VA], as an entry with its one step; at unity power factor
    volt-amperes are watts. Unknown unless exactly two are given above zero."""
    work = Working("converter", "Volts × amperes = volt-amperes")
    given = [x for x in (volts, amperes, va) if x is not None]
    if len(given) != 2 or min(given) <= 0:
        return work.entry(work.given("two of volts, amperes and volt-amperes, above zero", None))
    v, a, s = Step("volts", volts, "V"), Step("amperes", amperes, "A"), Step("volt-amperes", va, "VA")
    if va is None:
        return work.entry(work.product("volt-amperes", [v, a], "VA", name="sum"))
    if amperes is None:
        return work.entry(work.quotient("amperes", s, v, "A", name="sum"))
    return work.entry(work.quotient("volts", s, a, "V", name="sum"))


def continuous_check(amperes: float, breaker_a: float | None, codebook: Codebook) -> Entry:
    """The smallest standard breaker [A] for a continuous load, and whether `breaker_a` is good for it at 80% [210.20(A)]."""
    work = Working("converter.continuous", "Breaker for a load of three hours or more")
    load = work.given("continuous load", amperes, "A")
    factor = work.take(codebook.step("continuous_factor", "for three hours or more"))
    needed = work.product("at least", [load, factor], "A", factor.cites, "needed")
    if breaker_a is not None:
        share = work.quotient("load ÷ breaker", load, Step("breaker", breaker_a, "A"), "")
        held = share.amount <= 1 / factor.amount + 1e-9
        work.note(f"80% of {breaker_a:g} A", "is good for it" if held else "is not good for it", name="held")
    rating = next_rating_a(codebook, needed.amount) if needed.known else None
    return work.entry(work.take(Step("next standard rating", rating, "A", cites=(codebook.cite("standard_ratings"),))))
