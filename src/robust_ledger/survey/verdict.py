"""The verdict on a service that stays: whether it carries the load, and the ways out where it does not."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.codebook.conductors import rating_text
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import number_text
from robust_ledger.load.answers import answer_within
from robust_ledger.load.methods import NAMES
from robust_ledger.load.result import LoadResult
from robust_ledger.load.whatif import calculated, without
from robust_ledger.survey.chain import found_limits


def kept_limit(load: LoadResult, main: Entry) -> tuple[float, str] | None:
    """What a service that stays is good for [A] and what of it binds; None while nothing of it is known. The main itself goes first
    where others are equal to it."""
    job, codebook = load.inputs.job, load.inputs.codebook
    known = [(main.amount, "main")] if main.known else []
    found = found_limits(job, load.governing, codebook)
    known += [(limit.amount, words) for words, limit in found if limit.known and limit.amount > 0]
    label_a = job.existing.meter_label_a
    if label_a and not job.decisions.meter_replaced:
        known.append((label_a, "meter socket"))
    return min(known, key=lambda one: one[0]) if known else None


def verdict_findings(load: LoadResult, main: Entry) -> Iterator[Finding]:
    """STOP where the service that stays does not carry the calculated load, with what an electrician would do; ASK where its rating is
    the only thing that keeps from telling."""
    job, amperes = load.inputs.job, load.governing
    if not job.scope.keeps_service or job.decisions.main_a is not None or not amperes.known:
        return
    limit = kept_limit(load, main)
    if limit is None or amperes.amount <= limit[0]:
        return
    method = NAMES[load.method.name].lower()
    binds = "" if limit[1] == "main" else f" ({limit[1]})"
    yield Findings(load.inputs.codebook, "service").find(
        "service.existing_small",
        at=Place("old_panel:main_a"),
        rating=number_text(limit[0]),
        amperes=amperes,
        method=method,
        binds=binds,
        over_a=amperes.amount - limit[0],
        ways=" ".join(_ways_out(job, load, limit[0])),
    )


def single_findings(load: LoadResult, main: Entry) -> Iterator[Finding]:
    """A single load above what the main passes, and continuous loads that at 125% are together above it [230.90, 215.2, 230.42]."""
    inputs = load.inputs
    codebook, find = inputs.codebook, Findings(inputs.codebook, "load").find
    if not main.known:
        return
    factor, continuous = codebook.number("continuous_factor"), []
    for one in inputs.loads:
        plate = inputs.nameplates[one.id]
        if not plate.known or one.nameplate.volts <= 0:
            continue
        volts = inputs.line_volts.amount if one.two_hots else inputs.line_volts.amount / 2
        amps = plate.amount / (volts if one.two_hots or inputs.job.dwelling.supply == "120/240" else 120)
        if amps > main.amount:
            yield find(
                "service.single",
                at=Place.load(one.id),
                of=one.id,
                one=one.name,
                amps=amps,
                main=main,
                plate=plate,
                volts=volts,
                rating_text=rating_text(codebook, amps),
                kva=main.amount * volts / 1000,
            )
        elif one.kind is LoadKind.EV_CHARGER or one.continuous:
            continuous.append((one, amps))
    together = sum(amps for _one, amps in continuous)
    if len(continuous) > 1 and together * factor > main.amount:
        names = " + ".join(f"{one.name} {amps:.0f} A" for one, amps in continuous)
        yield find(
            "service.continuous",
            at=Place.load(continuous[0][0].id),
            counted=together * factor,
            main=main,
            names=names,
            factor=factor,
            int=int(main.amount / factor),
            rating_text=rating_text(codebook, together * factor),
        )


def _ways_out(job: Job, load: LoadResult, limit_a: float) -> Iterator[str]:
    """Upgrade, hold back, leave out: each with its figure."""
    yield f"Upgrade the service to {rating_text(load.inputs.codebook, max(load.governing.amount, 100))}."
    setpoint = answer_within(job, load.inputs, limit_a)
    if setpoint is not None and setpoint.known:
        held = next((step.text() for step in setpoint.steps if step.name == "held back"), "")
        yield f"Or hold back {held} by energy management at {setpoint.text()}."
    for added in sorted((x for x in job.loads if x.when is When.ADDED), key=lambda x: x.name):
        rest = calculated(without(job, [added]), load.inputs).amperes
        if rest.known and rest.amount <= limit_a:
            yield f"Or leave out {added.name}: {rest.text()}."
            return
    others = [NAMES[name] for name, one in load.methods.items() if one.open and _fits(one.governing, limit_a)]
    if others:
        yield f"By the {others[0].lower()}, which is allowed too, it carries the load."


def _fits(amperes: Entry, limit_a: float) -> bool:
    return amperes.known and amperes.amount <= limit_a
