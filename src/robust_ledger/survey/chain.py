"""The service as a chain: each link as found, what it limits the main to, and whether it stays, goes or is the utility's."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ampacity_a, ratings_a, size_text
from robust_ledger.job.models import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.working import Working
from robust_ledger.service.alternatives import Alternative
from robust_ledger.service.raceway import RACEWAY_WORDS, holds, raceway_entry
from robust_ledger.service.sizing import bare_size, terminal_column

STAGE = "service"


@dataclass(frozen=True, slots=True)
class Link:
    """One link. `limit` is the largest main [A] it holds as found, unknown until it is read; `verdict` what becomes of it
    for the main of the job, `fails` when it stays and does not hold."""

    name: str
    title: str
    limit: Entry
    made_new: bool
    utility: bool
    fails: bool
    verdict: str

    @property
    def stays(self) -> bool:
        """Whether it goes on limiting the service: neither made new nor the utility's."""
        return not self.made_new and not self.utility


def links(job: Job, alternatives: Sequence[Alternative], main: Entry, codebook: Codebook) -> tuple[Link, ...]:
    """From the utility's conductors to the panel's bus. A raceway or a separate disconnect that is not there is no link."""
    chain, found = job.chain, []
    drop = "Lateral" if chain.underground else "Drop"
    found.append(_given("drop", drop, chain.drop_a, "chain:drop_a", "the utility's to say", job, main))
    if job.service_run.raceway != "cable":
        found.append(_link("riser", "Riser raceway", _raceway_limit(job, alternatives, codebook), job, main))
    riser = conductor_limit("riser_conductors", "Riser conductors", chain.riser_conductors, job, codebook)
    found.append(_link("riser_conductors", "Riser conductors", riser, job, main))
    label_a = job.old_panel.meter_label_a
    found.append(
        _given("meter", "Meter socket", label_a, "old_panel:meter_label_a", "read the socket's label", job, main)
    )
    load_side = conductor_limit("load_conductors", "Load-side conductors", chain.load_conductors, job, codebook)
    found.append(_link("load_conductors", "Load-side conductors", load_side, job, main))
    if chain.disconnect_a is not None or not job.panel.first_disconnect:
        found.append(_given("disconnect", "Disconnect", chain.disconnect_a, "chain:disconnect_a", "", job, main))
    if job.scope.keeps_service:
        now_a = job.old_panel.main_a
        found.append(_given("service", "Service that stays", now_a, "old_panel:main_a", "read the old main", job, main))
    found.append(_given("panel", "Panel bus", job.panel.bus_a, "panel:bus_a", "", job, main))
    return tuple(found)


def weakest(chain: Sequence[Link]) -> tuple[float, str] | None:
    """The lowest limit [A] among the links that stay and are known, and its name; None while none is known."""
    known = [(link.limit.amount, link.title.lower()) for link in chain if link.stays and link.limit.known]
    return min(known) if known else None


def conductor_limit(name: str, title: str, found: str, job: Job, codebook: Codebook) -> Entry:
    """The largest standard main [A] that service conductors as found («2 Cu», «4/0 Al») hold, by the job's rule
    [310.12, T310.16]."""
    work = Working(f"chain.{name}", f"{title}: largest main", f"chain:{name}")
    words = found.split()
    size, metal = (words[0], words[-1].lower()) if len(words) >= 2 else ("", "")
    if metal not in ("cu", "al"):
        return work.entry(work.given(f"{title.lower()}: size and metal, to be read", None, "A", work.place))
    factor = codebook.step("dwelling_factor", "dwelling rule")
    low, high = codebook.number("dwelling_rule_min_a"), codebook.number("dwelling_rule_max_a")
    best: float | None = None
    for rating in ratings_a(codebook):
        column, _why = terminal_column(job, rating, codebook)
        ampacity = ampacity_a(codebook, size, metal, column)
        open_here = low <= rating <= high and job.decisions.conductor_rule == "dwelling"
        if ampacity is not None and ampacity >= rating * (factor.amount if open_here else 1.0) - 1e-9:
            best = rating
    column, why = terminal_column(job, best or low, codebook)
    work.note("terminals", why, [codebook.cite("terminal_temperature")])
    table = codebook.table("ampacity").cite
    work.take(
        Step(f"{size_text(size, metal)} at {column} °C", ampacity_a(codebook, size, metal, column), "A", cites=(table,))
    )
    if best is not None and low <= best <= high and job.decisions.conductor_rule == "dwelling":
        work.take(factor)
    result = work.take(Step("largest standard main they hold", best, "A", cites=(codebook.cite("standard_ratings"),)))
    return work.entry(result, [codebook.cite("dwelling_conductors"), codebook.cite("ampacity")])


def _raceway_limit(job: Job, alternatives: Sequence[Alternative], codebook: Codebook) -> Entry:
    """The largest main [A] whose conductors, in the job's metal, the raceway that is there holds."""
    work = Working("chain.riser", "Riser raceway: largest main", "service_run:trade_size")
    run = job.service_run
    work.note("raceway there", f"{run.trade_size or '?'} in {RACEWAY_WORDS[run.raceway]}")
    best: Alternative | None = None
    told = False
    for one in alternatives:
        fits = holds(str(one.raceway.value), run.trade_size, codebook) if one.raceway.known else None
        told = told or fits is not None
        if fits and one.metal == job.decisions.metal:
            best = one
    if not told:
        return work.entry(work.given("riser raceway: its trade size, to be read", None, "A", "service_run:trade_size"))
    if best is None:
        return work.entry(
            work.take(Step("no main of 100 A or more fits", 0.0, "A", cites=(codebook.cite("raceway_fill"),)))
        )
    work.entry_step(best.raceway, f"needed for {best.rating_a:g} A")
    result = work.take(Step("largest main whose conductors fit", best.rating_a, "A"))
    return work.entry(result, [codebook.cite("raceway_fill")])


def _given(name: str, title: str, limit_a: float | None, place: str, missing: str, job: Job, main: Entry) -> Link:
    work = Working(f"chain.{name}", f"{title}: largest main", place)
    sound = limit_a if limit_a is not None and limit_a > 0 else None
    label = "as read" if sound is not None else f"{title.lower()}: {missing or 'rating, to be read'}"
    return _link(name, title, work.entry(work.given(label, sound, "A", place)), job, main)


def _link(name: str, title: str, limit: Entry, job: Job, main: Entry) -> Link:
    """Judge a link against the main of the job."""
    made_new = name in job.chain.replaced or (name == "meter" and job.decisions.meter_replaced)
    utility = name == "drop"
    short = limit.known and main.known and limit.amount < main.amount
    fails = short and not made_new and not utility
    if made_new:
        verdict = "made new"
    elif not limit.known:
        verdict = limit.why_unknown
    elif utility:
        verdict = "the utility's to enlarge" if short else "the utility's, holds"
    else:
        verdict = f"replace, holds {limit.text()} only" if short else f"keep, holds {limit.text()}"
    return Link(name, title, limit, made_new, utility, fails, verdict)


def chain_findings(job: Job, main: Entry, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Links that stay and are smaller than the main; meter socket and bus are told by the service itself."""
    chain = job.chain
    if chain.disconnect_a is not None and job.panel.first_disconnect:
        yield Finding(
            "service.bond_twice",
            Severity.STOP,
            STAGE,
            "panel:first_disconnect",
            "Neutral and ground would be bonded twice",
            f"A disconnect of {chain.disconnect_a:g} A stands ahead of a panel that is marked as the first one.",
            "Bond at the disconnect alone: take the mark off the panel, or the disconnect out of the chain.",
            (codebook.cite("bond_once"), codebook.cite("bars_apart")),
        )
    if not main.known:
        return
    for name, title, found in (
        ("riser_conductors", "Riser conductors", chain.riser_conductors),
        ("load_conductors", "Load-side conductors", chain.load_conductors),
    ):
        limit = conductor_limit(name, title, found, job, codebook)
        if name not in chain.replaced and limit.known and limit.amount < main.amount:
            yield _short(name, title, f"{found} hold a main of {limit.text()}", main, codebook)
    if chain.disconnect_a is not None and "disconnect" not in chain.replaced and chain.disconnect_a < main.amount:
        yield _short("disconnect", "Disconnect", f"it is rated {chain.disconnect_a:g} A", main, codebook)
    hot, grounded = bare_size(ungrounded), bare_size(neutral)
    run = job.service_run
    if run.raceway == "cable" or "riser" in chain.replaced or not hot or not grounded:
        return
    needed = raceway_entry("x", [hot[0], hot[0], grounded[0]], run, codebook)
    if needed.known and holds(str(needed.value), run.trade_size, codebook) is False:
        words = f"the new conductors need {needed.text()}, there is {run.trade_size} in"
        yield _short("riser", "Riser raceway", words, main, codebook)


def _short(name: str, title: str, words: str, main: Entry, codebook: Codebook) -> Finding:
    return Finding(
        f"service.link:{name}",
        Severity.FIX,
        STAGE,
        f"chain:{name}",
        f"{title} too small for {main.text()}",
        f"As found, {words}.",
        "Mark it to be made new, or take a smaller main.",
        (codebook.cite("service_rating"),),
    )
