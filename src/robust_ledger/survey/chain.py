"""The service as a chain: each link as found, what it limits the main to, and whether it stays, goes or is the utility's."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import ratings_a
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Finding, Severity, Step
from robust_ledger.ledger.findings import Findings
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.ledger.working import Working
from robust_ledger.service.alternatives import Alternative
from robust_ledger.service.ampacity import allowed_a, conditions, picked, terminal_column
from robust_ledger.service.bonds import split_mains
from robust_ledger.service.feeder import feeder_conductor_entry
from robust_ledger.service.raceway import RACEWAY_WORDS, holds, raceway_for

STAGE = "walkthrough"


class Link(Struct, frozen=True):
    """One link. `limit` is the largest main [A] it holds as found, unknown until it is read; `planned` what it holds after
    the job; `verdict` what becomes of it for the main of the job, `fails` when it stays and does not hold. A `branch` hangs
    off the way and binds only its own breaker."""

    name: str
    title: str
    limit: Entry
    planned: Entry
    made_new: bool
    utility: bool
    fails: bool
    verdict: str
    branch: bool = False

    @property
    def stays(self) -> bool:
        """Whether it goes on limiting the service: neither made new nor the utility's, nor off to one side."""
        return not self.made_new and not self.utility and not self.branch


def links(job: Job, alternatives: Sequence[Alternative], main: Entry, codebook: Codebook) -> tuple[Link, ...]:
    """From the utility's conductors to the panel's bus. A raceway or a separate disconnect that is not there is no link."""
    chain, found = job.chain, []
    drop = "Lateral" if chain.underground else "Utility drop"
    found.append(_given("drop", drop, chain.drop_a, Place("chain:drop_a"), "ask the utility", job, main))
    if job.service_run.raceway != "cable":
        found.append(_link("riser", "Riser raceway", _raceway_limit(job, alternatives, codebook), job, main))
    riser = conductor_limit(
        "riser_conductors", "Service-entrance conductors (line side)", chain.riser_conductors, job, codebook
    )
    found.append(_link("riser_conductors", "Service-entrance conductors (line side)", riser, job, main))
    label_a = job.old_panel.meter_label_a
    found.append(
        _given(
            "meter",
            "Meter socket",
            label_a,
            Place("old_panel:meter_label_a"),
            "read the socket's label",
            job,
            main,
        )
    )
    load_side = conductor_limit("load_conductors", "Meter-to-panel conductors", chain.load_conductors, job, codebook)
    found.append(_link("load_conductors", "Meter-to-panel conductors", load_side, job, main))
    if job.disconnect_ahead or not job.panel.first_disconnect:
        found.append(_given("disconnect", "Disconnect", chain.disconnect_a, Place("chain:disconnect_a"), "", job, main))
    if job.scope.keeps_service:
        now_a = job.old_panel.main_a
        found.append(
            _given("service", "Existing service", now_a, Place("old_panel:main_a"), "read the old main", job, main)
        )
    mains = split_mains(job)
    own = Entry("service.main", "Main of the panel", mains[0], "A") if mains else main
    found.append(_given("panel", "Panel bus", job.panel.bus_a, Place("panel:bus_a"), "", job, own))
    if job.has_sub_panel:
        found.append(_feeder(job, codebook))
    return tuple(found)


def _feeder(job: Job, codebook: Codebook) -> Link:
    """The sub-panel's feeder: off the way, on its own breaker."""
    sub = job.sub_panel
    work = Working("chain.feeder", f"Feeder to the {sub.name}", Place("sub_panel:breaker_a"))
    limit = work.entry(work.given("its breaker", sub.breaker_a, "A", Place("sub_panel:breaker_a")))
    conductors = feeder_conductor_entry(job, codebook)
    work = Working("chain.feeder.planned", f"Feeder to the {sub.name}, planned", Place("sub_panel:breaker_a"))
    work.entry_step(conductors)
    planned = work.entry(work.given("its breaker", sub.breaker_a, "A", Place("sub_panel:breaker_a")))
    verdict = f"by {conductors.text()}" if conductors.known else f"feeder: {conductors.why_unknown}"
    return Link("feeder", f"Feeder: {sub.name}", limit, planned, False, False, False, verdict, branch=True)


def found_limits(job: Job, codebook: Codebook) -> list[tuple[str, Entry]]:
    """What conductors and a disconnect that stay hold, for the alternatives: words and limit."""
    chain, kept = job.chain, []
    for name, words, found in _conductors(job):
        if name not in chain.replaced and found:
            kept.append((words.lower(), conductor_limit(name, words, found, job, codebook)))
    if chain.disconnect_a is not None and "disconnect" not in chain.replaced:
        work = Working("chain.disconnect", "Disconnect: largest main", Place("chain:disconnect_a"))
        kept.append(
            ("disconnect", work.entry(work.given("as read", chain.disconnect_a, "A", Place("chain:disconnect_a"))))
        )
    return kept


def _conductors(job: Job) -> tuple[tuple[str, str, str], ...]:
    return (
        ("riser_conductors", "Service-entrance conductors (line side)", job.chain.riser_conductors),
        ("load_conductors", "Meter-to-panel conductors", job.chain.load_conductors),
    )


def weakest(chain: Sequence[Link]) -> tuple[float, str] | None:
    """The lowest limit [A] among the links that stay and are known, and its name; None while none is known."""
    known = [(link.limit.amount, link.title.lower()) for link in chain if link.stays and link.limit.known]
    return min(known) if known else None


def conductor_limit(name: str, title: str, found: str, job: Job, codebook: Codebook) -> Entry:
    """The largest standard main [A] that service conductors as found ("2 Cu", "4/0 Al") hold, by the job's rule
    [310.12, T310.16]."""
    work = Working(f"chain.{name}", f"{title}: largest main", Place.of("chain", name))
    read = Conductors.read(found)
    if read is None:
        return work.entry(work.given(f"{title.lower()}: size and metal, to be read", None, "A", work.place))
    size, metal = read.size, read.metal
    factor = codebook.step("dwelling_factor", "83% rule")
    low, high = codebook.number("dwelling_rule_min_a"), codebook.number("dwelling_rule_max_a")
    best: float | None = None
    lying = conditions(work, job, codebook)
    for rating in ratings_a(codebook):
        column, _why = terminal_column(job, rating, codebook)
        ampacity = allowed_a(codebook, size, metal, column, lying)
        open_here = low <= rating <= high and job.decisions.conductor_rule == "dwelling"
        if ampacity is not None and ampacity >= rating * (factor.amount if open_here else 1.0) - 1e-9:
            best = rating
    column, why = terminal_column(job, best or low, codebook)
    work.note("terminals", why, [codebook.cite("terminal_temperature")])
    table = codebook.table("ampacity").cite
    carries = allowed_a(codebook, size, metal, column, lying)
    label = f"{size_text(size, metal)} at {column} °C" + (", where it lies" if lying else "")
    work.take(Step(label, carries, "A", cites=(table,)))
    if best is not None and low <= best <= high and job.decisions.conductor_rule == "dwelling":
        work.take(factor)
    result = work.take(
        Step("largest standard main they are good for", best, "A", cites=(codebook.cite("standard_ratings"),))
    )
    return work.entry(result, [codebook.cite("dwelling_conductors"), codebook.cite("ampacity")])


def _raceway_limit(job: Job, alternatives: Sequence[Alternative], codebook: Codebook) -> Entry:
    """The largest main [A] whose conductors, in the job's metal, the raceway that is there holds."""
    work = Working("chain.riser", "Riser raceway: largest main", Place("service_run:trade_size"))
    run = job.service_run
    work.note("raceway there", f"{run.trade_size or '?'} in {RACEWAY_WORDS[run.raceway]}")
    best: Alternative | None = None
    told = False
    for one in alternatives:
        fits = _one_fits(one, run.trade_size, codebook)
        told = told or fits is not None
        if fits and one.metal == job.decisions.metal:
            best = one
    if not told:
        return work.entry(
            work.given("riser raceway: its trade size, to be read", None, "A", Place("service_run:trade_size"))
        )
    if best is None:
        return work.entry(
            work.take(Step("no main of 100 A or more fits", 0.0, "A", cites=(codebook.cite("raceway_fill"),)))
        )
    work.entry_step(best.raceway, f"needed for {best.rating_a:g} A")
    result = work.take(Step("largest main whose conductors fit", best.rating_a, "A"))
    return work.entry(result, [codebook.cite("raceway_fill")])


def _one_fits(one: Alternative, trade_size: str, codebook: Codebook) -> bool | None:
    """Whether the one raceway there holds an alternative; sets in parallel have a raceway each."""
    hot = picked(one.used)
    if not one.raceway.known or hot is None:
        return None
    fits = holds(str(one.raceway.value), trade_size, codebook)
    return fits if fits is None else fits and hot.sets == 1


def _given(name: str, title: str, limit_a: float | None, place: Place, missing: str, job: Job, main: Entry) -> Link:
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
        verdict = "new"
    elif not limit.known:
        verdict = limit.why_unknown
    elif utility:
        verdict = "utility must upgrade" if short else "by utility, OK"
    else:
        verdict = f"replace, good for {limit.text()} only" if short else f"keep, good for {limit.text()}"
    return Link(name, title, limit, _planned(name, title, limit, made_new, main), made_new, utility, fails, verdict)


def _planned(name: str, title: str, limit: Entry, made_new: bool, main: Entry) -> Entry:
    """What the link holds after the job: made new for the main, else as found."""
    work = Working(f"chain.{name}.planned", f"{title}: after this job", limit.place)
    if made_new:
        work.note("new", "for the main of the job")
        return work.entry(work.entry_step(main))
    return work.entry(work.entry_step(limit, "as found"))


def chain_findings(job: Job, main: Entry, ungrounded: Entry, neutral: Entry, codebook: Codebook) -> Iterator[Finding]:
    """Links that stay and are smaller than the main; meter socket and bus are told by the service itself."""
    chain = job.chain
    if not main.known:
        return
    for name, title, found in _conductors(job):
        limit = conductor_limit(name, title, found, job, codebook)
        if name not in chain.replaced and limit.known and limit.amount < main.amount:
            yield _short(name, title, f"{found} are good for a main of {limit.text()}", main, codebook)
    if chain.disconnect_a is not None and "disconnect" not in chain.replaced and chain.disconnect_a < main.amount:
        yield _short("disconnect", "Disconnect", f"it is rated {chain.disconnect_a:g} A", main, codebook)
    run, hot = job.service_run, picked(ungrounded)
    if run.raceway == "cable" or "riser" in chain.replaced or hot is None:
        return
    needed = raceway_for("x", job, ungrounded, neutral, codebook)
    if not needed.known:
        return
    if hot.sets > 1:
        words = f"the new conductors need {hot.sets} raceways of {needed.text()}, there is one"
        yield _short("riser", "Riser raceway", words, main, codebook)
    elif holds(str(needed.value), run.trade_size, codebook) is False:
        words = f"the new conductors need {needed.text()}, there is {run.trade_size} in"
        yield _short("riser", "Riser raceway", words, main, codebook)


def _short(name: str, title: str, words: str, main: Entry, codebook: Codebook) -> Finding:
    return Findings("service", codebook, STAGE).make(
        f"link:{name}",
        Severity.FIX,
        at=Place("service_run:trade_size")
        if name == "riser"
        else Place("chain:disconnect_a")
        if name == "disconnect"
        else Place.of("chain", name),
        title=f"{title} too small for {main.text()}",
        text=f"As found, {words}.",
        remedy="Mark it to be new, or take a smaller main.",
        rules=("service_rating",),
    )


def summary(chain: Sequence[Link], main: Entry) -> str:
    """What the links say together, in a sentence or two."""
    failing = [link.title.lower() for link in chain if link.fails]
    low = weakest(chain)
    if not main.known:
        return f"The main is not known: {main.why_unknown}."
    bound = f" Limited to {number_text(low[0])} A by the {low[1]}." if low else ""
    if failing:
        return f"To go to {main.text()}, replace: {', '.join(failing)}.{bound}"
    unknown = [link.title.lower() for link in chain if link.stays and not link.limit.known]
    read = f" Still to be read: {', '.join(unknown)}." if unknown else ""
    return f"Every existing link is good for a main of {main.text()}.{bound}{read}"
