"""The service as a chain: each link as found, what it limits the main to, and whether it stays, goes or is the utility's."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import next_rating_a, ratings_a
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import in_order, main_node, takes_spaces
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.ledger.working import Working
from robust_ledger.service.alternatives import Alternative
from robust_ledger.service.ampacity import allowed_a, column_of_run, conditions, found_laid, marked, picked
from robust_ledger.service.figures import FeederFigures, ServiceFigures
from robust_ledger.service.kept_equipment import DISCONNECT, conductors_stay, guard_entry, kept_ratings, staying_runs
from robust_ledger.service.raceway import NO_RACEWAY, RACEWAY_WORDS, holds, raceway_for
from robust_ledger.service.sizing import open_to_83

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


def has_riser(job: Job) -> bool:
    """Whether a raceway of ours holds the line side: known, no cable, and no lateral of the utility's."""
    return job.existing.raceway not in NO_RACEWAY and not job.existing.underground


def links(
    job: Job,
    alternatives: Sequence[Alternative],
    load: Entry,
    figures: ServiceFigures,
    codebook: Codebook,
) -> tuple[Link, ...]:
    """From the utility's conductors to the panel's bus. A raceway or a separate disconnect that is not there is no link."""
    main = figures.main
    there, found, guard = job.existing, [], guard_entry(job, main, codebook)
    drop = "Lateral" if there.underground else "Utility drop"
    found.append(_given("drop", drop, there.drop_a, Place("existing:drop_a"), "ask the utility", job, main))
    if has_riser(job):
        found.append(_link("riser", "Riser raceway", _raceway_limit(job, alternatives, codebook), job, main))
    for name, title, at in (
        ("riser_conductors", "Service-entrance conductors (line side)", there.riser_conductors),
        ("load_conductors", "Meter-to-panel conductors", there.load_conductors),
    ):
        if name == "load_conductors":
            place = Place("existing:meter_label_a")
            found.append(
                _given("meter", "Meter socket", there.meter_label_a, place, "read the socket's label", job, main)
            )
        found.append(_link(name, title, conductor_limit(name, title, at, job, load, codebook), job, guard))
    if job.disconnect_ahead or not job.panel.first_disconnect:
        found.append(_given("disconnect", "Disconnect", there.disconnect_a, DISCONNECT, "", job, main))
    if job.scope.keeps_service:
        rated = [rating_a for _words, rating_a, _place in kept_ratings(job) if rating_a is not None]
        now_a = min(rated) if rated else None
        place = Place("old_panel:main_a")
        found.append(_given("service", "Existing service", now_a, place, "read the old main", job, main))
    own = figures.panel_device if job.scope.split or takes_spaces(job, main_node(job)) else main
    found.append(_given("panel", "Panel bus", job.panel.bus_a, Place("panel:bus_a"), "", job, own))
    feeders = figures.feeders
    found += [_feeder(panel, feeders[panel.id]) for panel in in_order(job) if panel.id in feeders]
    return tuple(found)


def _feeder(panel: Panel, feeder: FeederFigures) -> Link:
    """The feeder of another panel: off the way, on its own breaker."""
    rating, conductors = feeder.rating, feeder.conductors
    work = Working(f"chain.feeder.{panel.id}", f"Feeder to the {panel.name}", rating.place)
    limit = work.entry(work.entry_step(rating, "its breaker"))
    work = Working(f"chain.feeder.{panel.id}.planned", f"Feeder to the {panel.name}, planned", rating.place)
    work.entry_step(conductors)
    planned = work.entry(work.entry_step(rating, "its breaker"))
    verdict = f"by {conductors.text()}" if conductors.known else f"feeder: {conductors.why_unknown}"
    return Link(
        f"feeder.{panel.id}", f"Feeder: {panel.name}", limit, planned, False, False, False, verdict, branch=True
    )


def found_limits(job: Job, load: Entry, codebook: Codebook) -> list[tuple[str, Entry]]:
    """What conductors and a disconnect that stay hold, for the alternatives: words and limit."""
    kept = []
    for name, words, found in staying_runs(job):
        if found:
            kept.append((words.lower(), conductor_limit(name, words, found, job, load, codebook)))
    if job.kept_disconnect and job.existing.disconnect_a is not None:
        work = Working("chain.disconnect", "Disconnect: largest main", DISCONNECT)
        kept.append(("disconnect", work.entry(work.given("as read", job.existing.disconnect_a, "A", DISCONNECT))))
    return kept


def weakest(chain: Sequence[Link]) -> tuple[float, str] | None:
    """The lowest limit [A] among the links that stay and are known, and its name; None while none is known."""
    known = [(link.limit.amount, link.title.lower()) for link in chain if link.stays and link.limit.known]
    return min(known) if known else None


def conductor_limit(name: str, title: str, found: str, job: Job, load: Entry, codebook: Codebook) -> Entry:
    """The largest standard main [A] that service conductors as found ("2 Cu", "4/0 Al") hold, by the job's practice
    [310.12, 240.4(B), T310.16]."""
    work = Working(f"chain.{name}", f"{title}: largest main", Place.of("existing", name))
    read = Conductors.read(found)
    if read is None:
        return work.entry(work.given(f"{title.lower()}: size and metal, to be read", None, "A", work.place))
    best = _largest_main(work, read, job, load, codebook, job.existing.insulation_c)
    result = work.take(
        Step("largest standard main they are good for", best, "A", cites=(codebook.cite("standard_ratings"),))
    )
    return work.entry(result, [codebook.cite("dwelling_conductors"), codebook.cite("ampacity")])


def _largest_main(
    work: Working, read: Conductors, job: Job, load: Entry, codebook: Codebook, insulation_c: int | None
) -> float | None:
    """The largest main of all that the conductors hold, with what decides it written down."""
    size, metal, rule = read.size, read.metal, job.decisions.conductor_rule
    factor = codebook.step("dwelling_factor", "83% rule")
    laid = replace(found_laid(job), insulation_c=insulation_c or 75)
    wiring_conditions, best, ruled = conditions(work, laid, codebook), None, False
    for rating in ratings_a(codebook):
        column = column_of_run(job, laid, size, rating, codebook)[0]
        ampacity = allowed_a(codebook, size, metal, column, wiring_conditions, laid.own_c)
        if ampacity is None:
            continue
        best = best or 0.0
        open_here = rule == "dwelling" and not open_to_83(job, rating, False, codebook)
        next_up = rule != "strict" and not open_here and not (load.known and load.amount > ampacity)
        reach = (next_rating_a(codebook, ampacity) or 0) if next_up else ampacity
        if reach >= rating * (factor.amount if open_here else 1.0) - 1e-9:
            best, ruled = rating, open_here
    work.note("insulation", "not read: 75 °C taken" if insulation_c is None else f"{insulation_c} °C")
    column, why, cite = column_of_run(job, laid, size, best or 100, codebook)
    work.note("temperature column", why, [codebook.cite(cite)])
    table = codebook.table("ampacity").cite
    label = f"{size_text(size, metal)} at {column} °C" + (", where it lies" if wiring_conditions else "")
    work.take(Step(label, allowed_a(codebook, size, metal, column, wiring_conditions, laid.own_c), "A", cites=(table,)))
    if ruled:
        work.take(factor)
    elif rule != "strict":
        work.note("practice", "by the load, main of the next size up", [codebook.cite("next_size_up")])
    return best


def _raceway_limit(job: Job, alternatives: Sequence[Alternative], codebook: Codebook) -> Entry:
    """The largest main [A] whose conductors, in the job's metal, the raceway that is there holds."""
    work = Working("chain.riser", "Riser raceway: largest main", Place("existing:trade_size"))
    run = job.existing
    work.note("raceway there", f"{run.trade_size or '?'} in {RACEWAY_WORDS[run.raceway]}")
    best: Alternative | None = None
    told = False
    for alternative in alternatives:
        fits = _one_fits(alternative, run.trade_size, codebook)
        told = told or fits is not None
        if fits and alternative.metal == job.decisions.metal:
            best = alternative
    if not told:
        return work.entry(
            work.given("riser raceway: its trade size, to be read", None, "A", Place("existing:trade_size"))
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
    made_new = (
        name in job.scope.renews
        or (name == "meter" and job.decisions.meter_replaced)
        or (name == "disconnect" and job.scope.disconnect == "new")
    )
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


def chain_findings(
    job: Job, main: Entry, load: Entry, ungrounded: Entry, neutral: Entry, codebook: Codebook
) -> Iterator[Finding]:
    """Links that stay and are smaller than the main; meter socket and bus are told by the service itself."""
    yield from _utility(job, codebook)
    if not main.known:
        return
    guard = guard_entry(job, main, codebook)
    for name, title, found in staying_runs(job):
        limit = conductor_limit(name, title, found, job, load, codebook)
        best = conductor_limit(name, title, found, marked(job), load, codebook) if limit.known else limit
        if limit.known and limit.amount < guard.amount <= (best.amount if best.known else 0):
            yield Findings(codebook, STAGE).find(
                "service.link_terminals",
                at=Place("panel:terminals_c"),
                of=name,
                title=title,
                found=found,
                limit=limit,
                main=guard,
            )
        elif limit.known and limit.amount < guard.amount:
            yield _short(name, title, f"{found} are good for a main of {limit.text()}", guard, codebook, limit.text())
        elif limit.known and job.existing.insulation_c is None:
            yield from _insulation(name, title, found, job, load, main, codebook)
    there_a = job.existing.disconnect_a
    if there_a is not None and job.kept_disconnect and there_a < main.amount:
        yield _short("disconnect", "Disconnect", f"it is rated {there_a:g} A", main, codebook, f"{there_a:g} A")
    hot = picked(ungrounded)
    if not has_riser(job) or "riser" in job.scope.renews or hot is None or conductors_stay(job):
        return
    needed = raceway_for("x", job, ungrounded, neutral, codebook)
    if not needed.known:
        return
    if hot.sets > 1:
        words = f"the new conductors need {hot.sets} raceways of {needed.text()}, there is one"
        yield _short("riser", "Riser raceway", words, main, codebook)
    elif holds(str(needed.value), job.existing.trade_size, codebook) is False:
        words = f"the new conductors need {needed.text()}, there is {job.existing.trade_size} in"
        yield _short("riser", "Riser raceway", words, main, codebook)


def _utility(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """The utility's own conductors, where the service becomes larger: theirs to judge, ours to ask."""
    if job.scope.new_service and job.existing.drop_a is None:
        words = "lateral" if job.existing.underground else "drop"
        yield Findings(codebook, STAGE).find("service.utility_drop", at=Place("existing:drop_a"), words=words)


def _insulation(
    name: str, title: str, found: str, job: Job, load: Entry, main: Entry, codebook: Codebook
) -> Iterator[Finding]:
    """Insulation that was not read is asked for where it decides: at 60 °C the conductors would be too small."""
    read = Conductors.read(found)
    old = _largest_main(Working.trial(), read, job, load, codebook, 60) if read else None
    if old is None or old < main.amount:
        yield Findings(codebook, STAGE).find(
            "service.insulation",
            at=Place("existing:insulation_c"),
            of=name,
            title=title,
            found=found,
            main=main,
            old=old,
        )


def _short(name: str, title: str, words: str, main: Entry, codebook: Codebook, largest: str = "") -> Finding:
    return Findings(codebook, STAGE).find(
        "service.link",
        at=Place("existing:trade_size")
        if name == "riser"
        else Place("existing:disconnect_a")
        if name == "disconnect"
        else Place.of("existing", name),
        of=name,
        conductors=name.endswith("conductors"),
        title=title,
        main=main,
        words=words,
        largest=largest,
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
