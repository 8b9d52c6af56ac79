"""Taps: conductors with no device where they begin, good for the device they end at and for a share of the one ahead [240.21(B)]."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil, sound_rating_a
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.tree import place_of as at
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.working import Working
from robust_ledger.service.ampacity import picked
from robust_ledger.service.figures import FeederFigures


def end_entry(panel: Panel, codebook: Codebook) -> Entry:
    """The device a tap ends at [A]: the main of the node; unknown where it has lugs, and while nobody has read it."""
    work = Working(f"feeder.{panel.id}.own", f"Device the tap to the {panel.name} ends at", at(panel, "box.main_a"))
    has_one = panel.box.has_main or not panel.takes_circuits
    rating_a = sound_rating_a(codebook, panel.box.main_a) if has_one else None
    label = "its main" if has_one else "it has lugs, no main"
    return work.entry(work.given(label, rating_a, "A", at(panel, "box.main_a")), [codebook.cite("tap")])


def least_entry(panel: Panel, ahead: Entry, end: Entry, carried: Entry, codebook: Codebook) -> Entry:
    """The ampacity a tap needs [A]: its load, the device it ends at, and a tenth of the device ahead in a raceway of up to 10 ft, a third up to
    25 ft; outdoors to another building no share of it at any length. A length nobody has taken counts as more than 10 ft."""
    work = Working(f"feeder.{panel.id}.tap", f"Ampacity of the tap to the {panel.name}", at(panel, "length_ft"))
    if not end.known or not ahead.known:
        return work.entry(work.entry_step(end if not end.known else ahead))
    name, rule = share_of(panel, codebook)
    parts = [work.entry_step(end)]
    if carried.known:
        parts.append(work.entry_step(carried))
    if name:
        share = [work.entry_step(ahead, "device ahead"), work.take(codebook.step(name, "share of it"))]
        parts.append(work.product("not below", share, "A"))
    else:
        work.note("share of the device ahead", "none outdoors to another building", [codebook.cite(rule)])
    return work.entry(work.larger("the largest of them", parts), [codebook.cite(rule)])


def share_of(panel: Panel, codebook: Codebook) -> tuple[str, str]:
    """The name of the share of the device ahead that a tap has to be good for, "" for none, and the rule behind it."""
    length_ft = panel.length_ft
    if panel.separate_building and length_ft is not None and length_ft > codebook.number("tap_long_ft"):
        return "", "tap_outside"
    if length_ft is not None and length_ft <= codebook.number("tap_short_ft") and panel.in_raceway:
        return "tap_short_share", "tap_short"
    return "tap_long_share", "tap_long"


def ground_entry(ground: Entry, hots: Entry, codebook: Codebook) -> Entry:
    """The equipment grounding conductor of a tap: by the device ahead of it, never larger than the tap's own conductors [250.122(G)]."""
    by_device, own = picked(ground), picked(hots)
    if by_device is None or own is None:
        return ground
    if (area_cmil(codebook, by_device.size) or 0) <= (area_cmil(codebook, own.size) or 0):
        return ground
    work = Working(ground.id, ground.label, ground.place)
    work.entry_step(ground, "by the device ahead")
    work.entry_step(hots)
    result = work.take(Step("not larger than the tap's conductors", Conductors(own.size, by_device.metal)))
    return work.entry(result, [codebook.cite("tap_ground")])


def tap_findings(
    panel: Panel, made: FeederFigures, find: Callable[..., Finding], codebook: Codebook
) -> Iterator[Finding]:
    """A tap that ends at no device, at one nobody has read, that is too long for one, or whose length is not known."""
    if made.own is not None and not made.own.known:
        unread = panel.box.has_main or not panel.takes_circuits
        yield find(
            "feeder.tap_end", at=at(panel, "box.main_a" if unread else "box.main"), unread=unread, panel=panel.name
        )
    most = codebook.step("tap_long_ft")
    if panel.length_ft is None:
        short = codebook.step("tap_short_ft")
        yield find("feeder.tap_length", at=at(panel, "length_ft"), panel=panel.name, short=short, most=most)
    elif panel.length_ft > most.amount:
        yield find(
            "feeder.tap_long",
            at=at(panel, "length_ft"),
            outside=panel.separate_building,
            panel=panel.name,
            length_ft=panel.length_ft,
            most=most,
            rules=("tap_outside",) if panel.separate_building else ("tap_long",),
        )
