"""Every termination of the day with its torque: derived from the plan, by the label where it was read, and what the log says of it [110.14(D)]."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil
from robust_ledger.job.conductors import Conductors, size_text
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.parts.panels import Torque
from robust_ledger.job.parts.record import Tightened, Unit
from robust_ledger.job.tree import fed_by_key, panel_name
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.bench import Bench
from robust_ledger.service.result import ServiceResult

WITHIN = 0.10  # of the torque that is due: beyond it a reading is over or under
YEAR_DAYS = 366  # a tool counts as in date for so long after its calibration


class Termination(Struct, frozen=True):
    """A place where a screw is tightened. `due_in_lb` None: the label says nothing and neither does the usual table; `label_unit`: the unit its
    label has; `verify`: it is a usual figure, not the label's; `factory`: a joint that the factory made, to be gone over."""

    key: str
    words: str
    part: str
    wire: Conductors | None
    due_in_lb: float | None
    label_unit: Unit
    verify: bool
    factory: bool
    entry: Entry

    @property
    def aluminum(self) -> bool:
        """Whether the wire under it is of aluminum."""
        return self.wire is not None and self.wire.metal == "al"

    @property
    def wire_text(self) -> str:
        """The wire as the trade writes it, one of several in parallel: "10 CCA"; "" where it is not known."""
        return size_text(self.wire.size, self.wire.metal) if self.wire is not None else ""


class Parts(Struct, frozen=True):
    """What of the plan has terminations. `rods`: rods to drive; None where that is not known."""

    job: Job
    codebook: Codebook
    benches: Mapping[str, Bench]
    branches: Sequence[Branch]
    service: ServiceResult
    rods: Entry | None


def terminations(of: Parts) -> tuple[Termination, ...]:
    """Every termination, from the meter to the last ground, each panel's own after one another."""
    made = [*_meter(of), *_disconnect(of), *_grounding(of)]
    for panel_id in of.benches:
        panel = of.job.panel_of(panel_id)
        stays = panel is not None and panel.there  # its own lugs and joints are not touched
        made += (
            _branches(of, panel_id)
            if stays
            else [*_mains(of, panel_id), *_branches(of, panel_id), *_factory(of, panel_id)]
        )
    return tuple(made)


def _meter(of: Parts) -> Iterator[Termination]:
    if not of.job.decisions.meter_replaced:
        return
    hot, neutral = of.service.figures.conductors, of.service.figures.pulled_neutral
    for side in ("line", "load"):
        for name in ("A", "B"):
            yield _made(of, f"meter.{side}.{name}", f"Meter, {side} side, leg {name}", "meter", hot)
        yield _made(of, f"meter.{side}.N", f"Meter, {side} side, neutral", "meter", neutral)


def _disconnect(of: Parts) -> Iterator[Termination]:
    """A new disconnect ahead of the panel: both sides, the neutral, and the GEC where the service begins in it."""
    if of.job.scope.disconnect != "new":
        return
    hot, neutral = of.service.figures.conductors, of.service.figures.pulled_neutral
    for side, wire in (("line", hot), ("load", of.service.figures.landing)):
        for name in ("A", "B"):
            yield _made(of, f"disconnect.{side}.{name}", f"Disconnect, {side} side, leg {name}", "lug", wire)
        yield _made(of, f"disconnect.{side}.N", f"Disconnect, {side} side, neutral", "lug", neutral)
    if of.job.first_ahead:
        yield _made(of, "disconnect.gec", "GEC at the disconnect", "neutral bar", of.service.figures.gec)


def _grounding(of: Parts) -> Iterator[Termination]:
    gec = of.service.figures.gec
    rods = int(of.rods.amount) if of.rods is not None and of.rods.known else 0
    for number in range(1, rods + 1):
        yield _made(of, f"rod.{number}", f"Clamp of ground rod {number}", "clamp", gec)
    if of.job.service_run.nipple:
        for end in ("meter", "panel"):
            yield _made(of, f"bushing.{end}", f"Bonding bushing at the {end}", "bushing", of.service.figures.mbj)


def _mains(of: Parts, panel_id: str) -> Iterator[Termination]:
    box, name = of.benches[panel_id].job.panel, _panel(of, panel_id)
    figures = of.service.figures
    hot: Entry | None = figures.landing
    neutral: Entry | None = figures.pulled_neutral
    if panel_id != MAIN:  # one without a feeder of its own has none known
        feeder = figures.feeders.get(panel_id)
        hot, neutral = (feeder.conductors, feeder.neutral) if feeder is not None else (None, None)
    part = "main" if box.has_main else "lug"
    where = "Main breaker" if box.has_main else "Main lug"
    for leg in ("A", "B"):
        yield _made(of, f"{panel_id}.main.{leg}", f"{name}{where}, leg {leg}", part, hot, panel_id)
    yield _made(of, f"{panel_id}.main.N", f"{name}Neutral lug", "lug", neutral, panel_id)
    if panel_id == MAIN and not of.job.first_ahead:
        yield _made(
            of, f"{panel_id}.gec", f"{name}GEC on the neutral bar", "neutral bar", of.service.figures.gec, panel_id
        )


def _branches(of: Parts, panel_id: str) -> Iterator[Termination]:
    """Hots, a neutral where it has one, a ground, of every circuit that is on in this panel."""
    for branch in live_branches(of.branches):
        if branch.panel != panel_id:
            continue
        shared = branch.partner and str(branch.partner) < str(branch.key)  # the neutral of two hots is one wire
        name = f"{_panel(of, panel_id)}{branch.name}"
        wire, fed = branch.wire, fed_by_key(branch.key)
        if feeder := of.service.figures.feeders.get(fed):  # the feeder of another panel has conductors of its own
            wire = feeder.conductors
        for pole in range(branch.poles):
            side = f" leg {'AB'[pole]}" if branch.poles == 2 else ""
            yield _made(of, f"{branch.key}.hot{pole + 1}", f"{name}, breaker{side}", "breaker", wire, panel_id)
        if (branch.poles == 1 or branch.uses_neutral or fed) and not shared:
            at = "its breaker" if branch.to_device else "the neutral bar"
            part = "breaker" if branch.to_device else "neutral bar"
            yield _made(of, f"{branch.key}.neutral", f"{name}, neutral on {at}", part, wire, panel_id)
        yield _made(of, f"{branch.key}.ground", f"{name}, ground", "ground bar", wire, panel_id)


def _factory(of: Parts, panel_id: str) -> Iterator[Termination]:
    """Joints the factory made: they loosen on the truck."""
    name = _panel(of, panel_id)
    joints = {"main": "main to the bus", "neutral": "neutral bar", "ground": "ground bar"}
    if of.benches[panel_id].job.panel.first_disconnect:
        joints["bond"] = "bonding screw or strap"
    for key, words in joints.items():
        work = Working(f"day.torque.{panel_id}.factory.{key}", f"{name}Factory joint: {words}")
        entry = work.entry(
            work.note("gone over by the label, or as tight as it was found", "check", [of.codebook.cite("torque")])
        )
        yield Termination(
            f"{panel_id}.factory.{key}",
            f"{name}Factory joint: {words}",
            "factory",
            None,
            None,
            "in-lb",
            False,
            True,
            entry,
        )


def live_branches(branches: Sequence[Branch]) -> list[Branch]:
    """Circuits that get a breaker on this day."""
    return [branch for branch in branches if branch.origin is not Origin.FUTURE and not branch.off]


def _panel(of: Parts, panel_id: str) -> str:
    """The name of a panel before its termination, of those beside the main one."""
    name = panel_name(of.job, panel_id)
    return "" if panel_id == MAIN else f"{name[:1].upper()}{name[1:]}: "


def _made(of: Parts, key: str, words: str, part: str, wire: Entry | None, panel_id: str = MAIN) -> Termination:
    value = wire.value if wire is not None else None
    conductors = value if isinstance(value, Conductors) and value.size[:1].isdigit() else None
    size = conductors.size if conductors is not None else ""
    work = Working(f"day.torque.{key}", words, wire.place if wire is not None else Place(""))
    if wire is not None:
        work.entry_step(wire, "wire")
    labels = of.benches[panel_id].job.panel.torques if panel_id in of.benches else of.job.panel.torques
    label = _label(labels, part, size, of.codebook)
    if label is not None:
        step = work.take(Step("by the label", label.inch_pounds, "lbf·in", place=Place("panel:torques")))
        entry = work.entry(step, [of.codebook.cite("torque")])
        return Termination(key, words, part, conductors, label.inch_pounds, label.unit, False, False, entry)
    usual = _usual(part, size, of.codebook)
    step = work.take(Step("usual for this size, verify at the label", usual, "lbf·in", place=Place("panel:torques")))
    entry = work.entry(step, [of.codebook.cite("torque_usual")])
    return Termination(key, words, part, conductors, usual, "in-lb", True, False, entry)


def _label(labels: Sequence[Torque], part: str, size: str, codebook: Codebook) -> Torque | None:
    """What the labels say of a part and a wire size; one without sizes holds for every one."""
    area = area_cmil(codebook, size) if size else None
    for one in labels:
        if one.part != part:
            continue
        if not one.smallest:
            return one
        ends = [area_cmil(codebook, end) for end in (one.smallest, one.largest or one.smallest)]
        if area is not None and None not in ends and min(e or 0 for e in ends) <= area <= max(e or 0 for e in ends):
            return one
    return None


@cache
def _rows() -> tuple[dict[str, Any], ...]:
    text = Path(__file__).with_name("torque.toml").read_text(encoding="utf-8")
    return tuple(tomllib.loads(text)["row"])


def _usual(part: str, size: str, codebook: Codebook) -> float | None:
    """The usual torque [lbf·in]; None for a wire that is not known, or larger than the table has."""
    area = area_cmil(codebook, size) if size else None
    if area is None:
        return None
    row = next((one for one in _rows() if (area_cmil(codebook, one["up_to"]) or 0) >= area), None)
    return float(row["lug" if part in ("main", "lug", "meter", "clamp") else "screw"]) if row else None


class Logged(Struct, frozen=True):
    """A termination with what the log has of it: what is still missing, in words, and what is wrong with it."""

    of: Termination
    row: Tightened
    missing: tuple[str, ...]
    wrong: str

    @property
    def done(self) -> bool:
        """Whether nothing is missing and nothing wrong about it."""
        return not self.missing and not self.wrong


def logged(rows: Sequence[Termination], job: Job) -> tuple[Logged, ...]:
    """The log, a row for each termination, in their order."""
    return tuple(_logged(row, job.record.torque.rows.get(row.key, Tightened())) for row in rows)


def _logged(of: Termination, row: Tightened) -> Logged:
    if of.factory:
        return Logged(of, row, () if row.marked else ("check",), "")
    missing = [words for words, there in (("first pass", row.first), ("second pass", row.second)) if there is None]
    if not row.marked:
        missing.append("mark")
    wrong = ""
    for name, value in (("first", row.first), ("second", row.second)):
        if value is not None and of.due_in_lb is not None and not wrong:
            off = value / of.due_in_lb - 1
            if abs(off) > WITHIN:
                wrong = f"{name} pass {abs(off):.0%} {'over' if off > 0 else 'under'}"
    return Logged(of, row, tuple(missing), wrong)


def log_entry(rows: Sequence[Logged]) -> Entry:
    """How many terminations are done, of how many."""
    work = Working("day.torque_done", "Terminations tightened, gone over and marked")
    all_of = work.given("terminations", len(rows))
    left = work.given("not done", sum(not row.done for row in rows))
    return work.entry(work.difference("done", all_of, left, ""))


def tool_fault(job: Job) -> str:
    """What is not in order with the torque tool on the day; "" where nothing is."""
    log, day = job.record.torque, read_day(job.day.date)
    if not log.calibrated:
        return "The torque tool's calibration is not known."
    calibrated = read_day(log.calibrated)
    if calibrated is None:
        return f'"{log.calibrated}" is no date; the torque tool\'s calibration is not known.'
    if day is not None and calibrated > day:
        return "The torque tool's calibration is after the day itself."
    if day is not None and (day - calibrated).days > YEAR_DAYS:
        return f"The torque tool was calibrated on {log.calibrated}, more than a year before the day."
    return ""


def read_day(text: str) -> date | None:
    """A date as it is kept, "2026-12-01"; None for anything else."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        return None
