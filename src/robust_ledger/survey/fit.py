"""Fit: between which heights the bottom of the new enclosure may hang, and which constraint binds."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.fit import Fit
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

IN = "in"


class FitFigures(Struct, frozen=True):
    """Heights above the standing surface [in]: the bounds on the panel's bottom, the band they leave, the height taken, the highest handle, and
    how far top and bottom move."""

    bounds: tuple[Entry, ...]
    low: Entry
    high: Entry
    low_by: Entry | None  # the bound that decides the edge; None where none does
    high_by: Entry | None
    bottom: Entry
    handle: Entry
    top_shift: Entry
    bottom_shift: Entry

    def binds(self, edge: Entry) -> str:
        """What decides an edge of the band, in words; "" where nothing does."""
        by = self.high_by if edge is self.high else self.low_by
        return by.label if by is not None else ""

    def entries(self) -> Iterator[Entry]:
        """Every one of them."""
        yield from (*self.bounds, self.low, self.high, self.bottom, self.handle, self.top_shift, self.bottom_shift)


def fit_figures(job: Job, codebook: Codebook) -> FitFigures:
    """Every bound on the height of the panel's bottom [in above the standing surface], the band they leave, the height
    taken, and what has to be cut or extended."""
    uppers = [entry for entry in (_by_handle(job, codebook), _by_ceiling(job), _by_meter(job, "high")) if entry]
    lowers = [entry for entry in (_by_least(job), _by_slack(job), _by_meter(job, "low")) if entry]
    (low, low_by), (high, high_by) = _edge("low", lowers), _edge("high", uppers)
    bottom = _bottom(job, low, high)
    top_shift, bottom_shift = (_shift(job, bottom, side) for side in ("top", "bottom"))
    return FitFigures(
        bounds=(*uppers, *lowers),
        low=low,
        high=high,
        low_by=low_by,
        high_by=high_by,
        bottom=bottom,
        handle=_handle(job, bottom, codebook),
        top_shift=top_shift,
        bottom_shift=bottom_shift,
    )


def known_fit(fit: Fit) -> bool:
    """Whether the new enclosure's height is told: without it there is no band."""
    return fit.new.height_in is not None and fit.new.height_in > 0


def _height(work: Working, job: Job) -> Step:
    height = job.fit.new.height_in
    return work.given(
        "height of the new enclosure", height if known_fit(job.fit) else None, IN, Place("fit:new.height_in")
    )


def _by_handle(job: Job, codebook: Codebook) -> Entry | None:
    """The highest breaker handle stays within reach; a handle that is not entered is taken at the enclosure's top."""
    fit = job.fit
    work = Working("fit.upper.handle", "by the handle", Place("fit:handle_in"))
    most = work.take(codebook.step("handle_most_in", "highest handle"))
    if fit.handle_in is not None:
        handle = work.given(
            "handle above the bottom", fit.handle_in if fit.handle_in > 0 else None, IN, Place("fit:handle_in")
        )
    else:
        handle = work.take(
            Step("handle height not entered: top of can used (conservative)", _height(work, job).value, IN)
        )
    bound = work.difference("bottom at most", most, handle, IN)
    if fit.platform_in:
        bound = work.total("measured from the floor", [bound, _platform(work, fit)], IN)
    return work.entry(bound, [codebook.cite("handle_height")])


def _platform(work: Working, fit: Fit) -> Step:
    return work.given("platform in front", fit.platform_in, IN, Place("fit:platform_in"))


def _by_ceiling(job: Job) -> Entry | None:
    fit = job.fit
    if fit.ceiling_in is None:
        return None
    work = Working("fit.upper.ceiling", "by the ceiling", Place("fit:ceiling_in"))
    ceiling = work.given("ceiling", fit.ceiling_in if fit.ceiling_in > 0 else None, IN, Place("fit:ceiling_in"))
    words = (
        "headroom for the cables" if fit.headroom_in is not None else "headroom not entered: none, the ceiling itself"
    )
    headroom = work.given(words, max(0.0, fit.headroom_in or 0), IN, Place("fit:headroom_in"))
    below = work.difference("under the headroom", ceiling, headroom, IN)
    return work.entry(work.difference("bottom at most", below, _height(work, job), IN))


def _by_meter(job: Job, side: str) -> Entry | None:
    """Where meter and panel hang together, the utility's window for the meter's center moves the panel with it."""
    fit = job.fit
    edge = job.utility.meter_low_in if side == "low" else job.utility.meter_high_in
    if edge is None or fit.meter_to_panel_in is None:
        return None
    name = "fit.lower.meter" if side == "low" else "fit.upper.meter"
    work = Working(name, "by the meter window", Place.of("utility", f"meter_{side}_in"))
    window = work.given(
        f"meter's center at {'least' if side == 'low' else 'most'}", edge, IN, Place.of("utility", f"meter_{side}_in")
    )
    offset = work.given("panel's bottom above it", fit.meter_to_panel_in, IN, Place("fit:meter_to_panel_in"))
    return work.entry(work.total("bottom", [window, offset], IN))


def _by_least(job: Job) -> Entry | None:
    if job.fit.least_in is None:
        return None
    work = Working("fit.lower.least", "your minimum", Place("fit:least_in"))
    return work.entry(work.given("as said", job.fit.least_in, IN, Place("fit:least_in")))


def _by_slack(job: Job) -> Entry | None:
    """Cables from above reach no lower than the old top less their slack."""
    fit = job.fit
    if fit.enters == "bottom" or fit.old_bottom_in is None or fit.old.height_in is None:
        return None
    work = Working("fit.lower.cables", "by the cables", Place("fit:slack_in"))
    old_bottom = work.given("old bottom", fit.old_bottom_in, IN, Place("fit:old_bottom_in"))
    old_top = work.total(
        "old top", [old_bottom, work.given("old height", fit.old.height_in, IN, Place("fit:old.height_in"))], IN
    )
    slack = work.given("slack of the cables", fit.slack_in, IN, Place("fit:slack_in"))
    top = work.difference("new top at least", old_top, slack, IN)
    return work.entry(work.difference("bottom at least", top, _height(work, job), IN))


def _edge(side: str, bounds: list[Entry]) -> tuple[Entry, Entry | None]:
    """The tightest of the bounds, and which it is; unknown as long as one of them is, and the floor where none is good for it up."""
    work = Working(f"fit.{side}", f"{'Lowest' if side == 'low' else 'Highest'} bottom of the panel")
    known = []
    for bound in bounds:
        if bound.known:
            known.append(bound)
            work.entry_step(bound)
        else:
            work.note(f"{bound.label}: not known", bound.why_unknown)
    if len(known) < len(bounds) or not known:
        if side == "low" and not bounds:
            return work.entry(work.take(Step("nothing is good for it up: the floor", 0.0, IN))), None
        missing = "; ".join(dict.fromkeys(b.why_unknown for b in bounds)) or "the new enclosure's height"
        return work.entry(work.given(missing, None, IN)), None
    pick = max if side == "low" else min
    binding = pick(known, key=lambda entry: entry.amount)
    result = work.take(Step(f"binds: {binding.label}", binding.amount, IN))
    return work.entry(result, binding.cites), binding


def _bottom(job: Job, low: Entry, high: Entry) -> Entry:
    """The height taken: the user's, else the old top kept where the band allows it."""
    fit = job.fit
    work = Working("fit.bottom", "Bottom of the new panel", Place("fit:new_bottom_in"))
    if fit.new_bottom_in is not None:
        return work.entry(work.given("chosen", fit.new_bottom_in, IN, Place("fit:new_bottom_in")))
    height = _height(work, job)
    if fit.old_bottom_in is None or fit.old.height_in is None or not height.known:
        return work.entry(work.given("the old enclosure's bottom and height, to keep its top", None, IN))
    old_bottom = work.given("old bottom", fit.old_bottom_in, IN, Place("fit:old_bottom_in"))
    top = work.total(
        "old top", [old_bottom, work.given("old height", fit.old.height_in, IN, Place("fit:old.height_in"))], IN
    )
    kept = work.difference("with the old top kept", top, height, IN)
    kept = work.larger("not below the band", [kept, work.entry_step(low)]) if low.known else kept
    kept = work.smaller("not above the band", [kept, work.entry_step(high)]) if high.known else kept
    return work.entry(kept)


def _handle(job: Job, bottom: Entry, codebook: Codebook) -> Entry:
    fit = job.fit
    work = Working("fit.handle", "Highest handle", Place("fit:handle_in"))
    at = work.entry_step(bottom)
    if fit.platform_in:
        at = work.difference("above the platform", at, _platform(work, fit), IN)
    handle = work.given("handle above the bottom", fit.handle_in, IN, Place("fit:handle_in"))
    work.take(codebook.step("handle_most_in", "at most"))
    return work.entry(work.total("handle", [at, handle], IN), [codebook.cite("handle_height")])


def _shift(job: Job, bottom: Entry, side: str) -> Entry:
    """How far top or bottom moves: positive means up. What enters there is cut back or extended by it."""
    fit, is_top = job.fit, side == "top"
    place = Place("fit:old.height_in") if is_top else Place("fit:old_bottom_in")
    work = Working(f"fit.{side}_shift", f"The {side} moves", place)
    old = work.given("old bottom", fit.old_bottom_in, IN, Place("fit:old_bottom_in"))
    new = work.entry_step(bottom)
    if is_top:
        height = work.given("old height", fit.old.height_in, IN, Place("fit:old.height_in"))
        old = work.total("old top", [old, height], IN)
        new = work.total("new top", [new, _height(work, job)], IN)
    moves = work.difference(f"the {side} moves up by", new, old, IN)
    if moves.known and fit.enters in (side, "both"):
        work.note("what enters there", _cut(moves.amount, side), name="cut")
    return work.entry(moves)


def _cut(moves_in: float, side: str) -> str:
    """In words what happens to raceways that enter at a side that moves up by so much."""
    if abs(moves_in) < 1e-9:
        return "stays as it is"
    cut = (moves_in > 0) == (side == "top")
    return f"raceways {'cut back' if cut else 'extended'} by {abs(moves_in):g} in"


def fit_findings(job: Job, figures: FitFigures, codebook: Codebook) -> Iterator[Finding]:
    """A band that is empty, a height outside it, working space, studs and the opening in the wall."""
    fit, find = job.fit, Findings(codebook).find
    low, high, bottom = figures.low, figures.high, figures.bottom
    if low.known and high.known and low.amount > high.amount:
        yield find(
            "fit.band",
            at=Place("fit:new_bottom_in"),
            low=low,
            binds=figures.binds(low),
            high=high,
            binds_high=figures.binds(high),
        )
    elif bottom.known and low.known and high.known and not low.amount <= bottom.amount <= high.amount:
        over = bottom.amount > high.amount
        edge = high if over else low
        yield find(
            "fit.height",
            at=Place("fit:new_bottom_in"),
            over=over,
            bottom=bottom,
            edge=edge,
            binds=figures.binds(edge),
            low=low,
            high=high,
        )
    handle = figures.handle
    if handle.known and handle.amount > codebook.number("handle_most_in"):
        yield find(
            "fit.handle",
            at=Place("fit:handle_in"),
            handle=handle,
            most=codebook.step("handle_most_in"),
            over_in=handle.amount - codebook.number("handle_most_in"),
        )
    for field, words in (("space_width_in", "wide"), ("space_depth_in", "deep"), ("space_height_in", "high")):
        value, limit = getattr(fit, field), codebook.step(field)
        if value is not None and value < limit.amount:
            yield find("fit.window", at=Place.of("fit", field), key=field, value=value, words=words, limit=limit)
    yield from _wall_findings(job, codebook)
    if fit.meter_in is not None:
        above = job.utility.meter_high_in is not None and fit.meter_in > job.utility.meter_high_in
        below = job.utility.meter_low_in is not None and fit.meter_in < job.utility.meter_low_in
        if above or below:
            yield find("fit.meter", at=Place("fit:meter_in"), above=above, meter_in=fit.meter_in, window=_window(job))


def _window(job: Job) -> str:
    """The utility's window for the meter in words."""
    low, high = job.utility.meter_low_in, job.utility.meter_high_in
    if low is not None and high is not None:
        return f"between {low:g} and {high:g} in"
    return f"at {low:g} in or higher" if low is not None else f"at {high:g} in or lower"


def _wall_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    fit, find = job.fit, Findings(codebook).find
    width, depth, height = fit.new.width_in, fit.new.depth_in, fit.new.height_in
    if fit.flush and width is not None and fit.bay_in is not None and width > fit.bay_in:
        yield find("fit.bay", at=Place("fit:bay_in"), width=width, bay_in=fit.bay_in)
    wall_in = (fit.stud_in or 0) + max(0.0, fit.finish_in)
    if fit.flush and depth is not None and fit.stud_in is not None and depth > wall_in:
        yield find(
            "fit.stud",
            at=Place("fit:stud_in"),
            depth=depth,
            stud_in=fit.stud_in,
            finish_in=fit.finish_in,
            wall_in=wall_in,
            out_in=depth - wall_in,
        )
    if fit.cutout_in is not None and height is not None and fit.cutout_in > height:
        yield find("fit.cutout", at=Place("fit:cutout_in"), gap_in=fit.cutout_in - height)


def band_text(figures: FitFigures | None) -> str:
    """The band in a sentence; "" where the scope does not ask about it."""
    if figures is None:
        return ""
    low, high, bottom = figures.low, figures.high, figures.bottom
    if not (low.known and high.known):
        missing = low if not low.known else high
        return f"The band for the panel's bottom is not known: {missing.why_unknown}."
    if low.amount > high.amount:
        return f"No height fits: at least {low.text()} ({figures.binds(low)}), at most {high.text()} ({figures.binds(high)})."
    taken = f" Taken: {bottom.text()}." if bottom.known else ""
    return f"The panel's bottom may be from {low.text()} ({figures.binds(low)}) to {high.text()} ({figures.binds(high)}).{taken}"
