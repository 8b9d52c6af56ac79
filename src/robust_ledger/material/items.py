"""The material of a job, counted from the plan down to the last bushing. What is not known how often stays unknown."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence

from robust_ledger.changeover.torque import Parts, live_branches, terminations
from robust_ledger.job.conductors import NOT_COPPER
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.working import Working
from robust_ledger.material.cuts import cuts_of
from robust_ledger.material.item import Item

GROUPS = (
    "Panel and breakers",
    "Service",
    "Raceway",
    "Conductors",
    "Grounding",
    "Cables and connectors",
    "Splices",
    "Labels and sealing",
)
STICK_FT = 10.0  # a length of raceway as it is sold
TERMINATIONS_A_TUBE = 60  # antioxidant, four-ounce tube: our figure
RACEWAY = {
    "rmc": "rigid metal conduit",
    "imc": "intermediate metal conduit",
    "emt": "electrical metallic tubing",
    "pvc40": "PVC conduit, schedule 40",
    "pvc80": "PVC conduit, schedule 80",
}


def items_of(of: Parts) -> tuple[Item, ...]:
    """Every item, group by group."""
    made = [
        *_panels(of), *_breakers(of), *_service(of), *_raceway(of), *_conductors(of), *_grounding(of), *_cables(of), *_splices(of), *_labels(of),
    ]  # fmt: skip
    return tuple(sorted(made, key=lambda item: GROUPS.index(item.group)))


def _item(
    group: str, key: str, words: str, steps: Sequence[Step], unit: str = "", cites: Iterable[Citation] = ()
) -> Item:
    """An item as the sum of its steps."""
    work = Working(f"material.{key}", words)
    taken = [work.take(step) for step in steps]
    total = taken[0] if len(taken) == 1 else work.total("together", taken, unit)
    return Item(key, group, words, work.entry(Step("how many", total.value, unit, "", tuple(cites))))


def _one(group: str, key: str, words: str, why: str, place: Place = NOWHERE) -> Item:
    return _item(group, key, words, [Step(why, 1, "", place=place)])


def _panels(of: Parts) -> Iterator[Item]:
    for panel_id, bench in of.benches.items():
        box, name = bench.job.panel, panel_name(of.job, panel_id)
        panel = of.job.panel_of(panel_id)
        if not box.spaces or (panel is not None and panel.there):
            continue
        main = {"breaker": "with its main", "back_fed": "with a back-fed main", "lugs": "main lug only (MLO)"}[box.main]
        words = f"{name}: {box.spaces} spaces, {box.bus_a:g} A bus, {main}"
        yield _one(GROUPS[0], f"panel.{panel_id}", words, "new panels", Place("panel:spaces"))
        blanks = bench.entry_of("panel.blanks") if panel_id == MAIN else None
        if blanks is not None:
            yield _item(GROUPS[0], "fillers", "filler plates for open spaces", [blanks.step("spaces left open")])


def _breakers(of: Parts) -> Iterator[Item]:
    """Breakers by kind, poles and rating, panel by panel; a tandem holds two."""
    live = live_branches(of.branches)
    for panel_id, bench in of.benches.items():
        mine = [one for one in live if one.panel == panel_id and one.has_breaker]
        halves: Counter[str] = Counter()
        counted: Counter[tuple[str, str]] = Counter()
        for one in mine:
            position = bench.placement.positions.get(one.key, "")
            if position[-1:] in ("a", "b"):
                halves[position[:-1]] += 1
                continue
            rating = f"{one.breaker.amount:g} A" if one.breaker.known else "rating not known"
            counted[str(one.device), rating] += 1
        where = "" if panel_id == MAIN else f", {panel_name(of.job, panel_id)}"
        for (device, rating), count in sorted(counted.items()):
            key = f"breaker.{panel_id}.{device}.{rating}".replace(" ", "-").lower()
            yield _item(GROUPS[0], key, f"breaker, {device}, {rating}{where}", [Step("circuits", count)])
        if halves:
            yield _item(
                GROUPS[0],
                f"breaker.{panel_id}.tandem",
                f"tandem breakers{where}",
                [Step("spaces with two circuits", len(halves))],
            )
    ties = [
        one
        for one in live
        if one.partner and one.poles == 1 and not one.on_one_handle and str(one.partner) < str(one.key)
    ]
    if ties:
        cites = [of.codebook.cite("multiwire_disconnect")]
        yield _item(
            GROUPS[0],
            "handle_ties",
            "handle ties, listed",
            [Step("pairs that share a neutral", len(ties))],
            cites=cites,
        )


def _service(of: Parts) -> Iterator[Item]:
    job, new = of.job, of.job.scope.renews
    main = of.service.main
    if job.decisions.meter_replaced:
        size = f"{main.amount:g} A" if main.known else "rating not known"
        yield _one(
            GROUPS[1],
            "meter_socket",
            f"meter socket, {size}, by the utility's list",
            "meter sockets replaced",
            Place("decisions:meter_replaced"),
        )
    if job.scope.disconnect == "new":
        ahead = of.service.figures.ahead
        size = ahead.text() if ahead is not None and ahead.known else "rating not known"
        yield _one(
            GROUPS[1],
            "disconnect",
            f"service disconnect, outdoors, {size}",
            "new disconnects",
            Place("scope:disconnect"),
        )
    if "riser" in new and not job.existing.underground:
        yield _one(GROUPS[1], "weatherhead", f"weatherhead, {_trade(of)}", "new risers", Place("renews:riser"))
        yield _one(
            GROUPS[1], "flashing", f"roof flashing and storm collar, {_trade(of)}", "new risers", Place("renews:riser")
        )
        yield _one(GROUPS[1], "hub", f"meter hub, {_trade(of)}", "new risers", Place("renews:riser"))
    if job.equipment.spd:
        kind = f"type {job.equipment.spd_type}" if job.equipment.spd_type else "type by its label"
        yield _one(GROUPS[1], "spd", f"surge protective device, {kind}", "planned", Place("equipment:spd"))
    if job.equipment.generator_a:
        yield _one(
            GROUPS[1],
            "interlock",
            "interlock kit, listed for the panel",
            "generator behind an interlock",
            Place("equipment:generator_a"),
        )
    if not job.grounding.intersystem and (new or job.decisions.meter_replaced or job.scope.disconnect == "new"):
        yield _one(
            GROUPS[1], "intersystem", "intersystem bonding termination", "none there", Place("grounding:intersystem")
        )


def _trade(of: Parts) -> str:
    size = of.service.figures.raceway
    value = size.value if size.known else None
    return f"{value} in" if value and value != "none" else "size not known"


def _raceway(of: Parts) -> Iterator[Item]:
    """A new riser: lengths as sold, couplings, straps from their spacing, locknuts and bushings."""
    job = of.job
    if "riser" not in job.scope.renews or job.raceway == "cable":
        return
    kind = RACEWAY.get(job.raceway)
    if kind is None:
        yield _item(
            GROUPS[2],
            "raceway",
            "raceway of the riser, its kind not known",
            [Step("length", None, "ft", place=Place("existing:raceway"))],
        )
        return
    riser_ft = job.service_run.riser_ft if job.service_run.riser_ft is not None else job.overhead.riser_ft
    work = Working("material.raceway", f"{kind}, {_trade(of)}, lengths of {STICK_FT:g} ft")
    length = work.given("riser", riser_ft, "ft", Place("service_run:riser_ft"))
    sticks = None if riser_ft is None else float(-(-riser_ft // STICK_FT))
    work.quotient("lengths, a part counts whole", length, Step("each", STICK_FT, "ft"), "")
    entry = work.entry(work.take(Step("lengths", sticks)))
    yield Item("raceway", GROUPS[2], entry.label, entry)
    couplings = None if sticks is None else max(0.0, sticks - 1)
    yield _item(GROUPS[2], "couplings", f"couplings, {_trade(of)}", [Step("between the lengths", couplings)])
    straps = _straps(of, riser_ft)
    yield Item("straps", GROUPS[2], straps.label, straps)
    bushing = "insulating bushings" if job.raceway.startswith("pvc") else "locknuts with insulating bushings"
    yield _item(
        GROUPS[2],
        "bushings",
        f"{bushing}, {_trade(of)}",
        [Step("ends of the riser in an enclosure", 1), Step("ends of the way to the panel", 2)],
    )


def _straps(of: Parts, riser_ft: float | None) -> Entry:
    """Straps of the riser: those the mast's own spacing wants, else by the section of its raceway."""
    found = of.job.overhead.strap_between_in
    work = Working("material.straps", f"straps, {_trade(of)}", Place("overhead:strap_between_in"))
    between_in = found
    if between_in is None and of.job.raceway.startswith("pvc"):
        row = of.codebook.table("pvc_supports").row("trade_size", _trade(of).removesuffix(" in"))
        between_in = float(row["between_in"]) if row else None
    elif between_in is None:
        between_in = 120.0
    length = work.given("riser", riser_ft, "ft", Place("service_run:riser_ft"))
    spacing = work.given("between straps at the most", between_in, "in", Place("overhead:strap_between_in"))
    if not length.known or not spacing.known:
        return work.entry(work.given("straps", None))
    spans = -(-length.amount * 12 // spacing.amount)
    work.take(Step("spans, a part counts whole", spans))
    return work.entry(work.take(Step("one at each end of a span", spans + 1)))


def _conductors(of: Parts) -> Iterator[Item]:
    """Feet of each conductor in each color, all pieces together."""
    together: dict[tuple[str, str], list[Step]] = {}
    for cut in cuts_of(of):
        step = cut.entry.step(cut.where)
        value = None if step.value is None else step.amount * cut.pieces
        how = f"{cut.pieces} pieces of {step.text()}" if cut.pieces > 1 else ""
        together.setdefault((cut.wire, cut.color), []).append(
            Step(cut.where, value, "ft", how, place=Place.entry(cut.entry.id))
        )
    for (wire, color), steps in together.items():
        key = f"wire.{wire}.{color}".replace(" ", "-").lower()
        yield _item(GROUPS[3], key, f"{wire}, {color}", steps, "ft")


def _grounding(of: Parts) -> Iterator[Item]:
    rods = of.rods
    if rods is not None and (not rods.known or rods.amount):
        step = rods.step("rods to drive")
        yield _item(GROUPS[4], "rods", "ground rods, 8 ft, listed", [step])
        yield _item(GROUPS[4], "clamps", "rod clamps, listed for burial", [step])
        wire = of.service.gec.text() if of.service.gec.known else "size not known"
        yield _item(
            GROUPS[4],
            "gec",
            f"GEC to the rods, {wire}",
            _way(of, of.job.grounding.gec_ft, Place("grounding:gec_ft")),
            "ft",
        )
    metal = of.job.raceway in ("rmc", "imc", "emt")
    if metal and ("riser" in of.job.scope.renews or of.job.equipment.bonding_bushings):
        yield _item(
            GROUPS[4],
            "bonding_bushings",
            f"bonding bushings with their bonding jumper, {_trade(of)}",
            [Step("ends of a metal service raceway", 2)],
        )


def _cables(of: Parts) -> Iterator[Item]:
    """Connectors by the trade size of their knockouts; new cables by their wires."""
    sizes: Counter[str] = Counter()
    for bench in of.benches.values():
        for hole in bench.knockouts.holes:
            if hole.cables:
                sizes[max((cable.trade_size for cable in hole.cables), key=lambda text: (len(text), text))] += 1
    for size, count in sorted(sizes.items()):
        words = f"cable connectors, {size} in" if size != "?" else "cable connectors, size not known"
        yield _item(
            GROUPS[5],
            f"connector.{size}",
            words,
            [Step("holes with a cable", count, place=Place("panel:interior.knockouts"))],
        )
    for branch in live_branches(of.branches):
        if branch.new_cable and branch.key.kind != "equip":
            wires = branch.poles + int(branch.poles == 1 or branch.uses_neutral)
            words = f"cable for {branch.feeds or branch.name}: {branch.wire.text()}, {wires} wires and ground"
            yield _item(
                GROUPS[5],
                f"cable.{branch.key}",
                words,
                _way(of, of.job.change(branch.key).cable_ft, Place.branch(branch.key)),
                "ft",
            )


def _way(of: Parts, way_ft: float | None, place: Place) -> list[Step]:
    """A length that somebody has to measure, with waste; not known until then."""
    whole = None if way_ft is None else float(-(-way_ft * (1 + of.job.stock.waste_percent / 100) // 1))
    how = "" if way_ft is None else f"{way_ft:g} ft with {of.job.stock.waste_percent:g}% waste, to the next foot"
    return [Step("its way, to be measured" if whole is None else "its way", whole, "ft", how, place=place)]


def _splices(of: Parts) -> Iterator[Item]:
    """Connectors by wire size; those between aluminum and copper apart; boxes by the volume they need."""
    connectors: Counter[str] = Counter()
    mixed: Counter[str] = Counter()
    boxes: Counter[str] = Counter()
    for bench in of.benches.values():
        for key, reach in bench.reach.items():
            branch = bench.circuits.by_key.get(key)
            if branch is None or not reach.splices:
                continue
            size = branch.wire_size or "?"
            mixes = branch.wire_metal in NOT_COPPER
            (mixed if mixes else connectors)[f"{branch.wire_metal}.{size}" if mixes else size] += reach.splices
            found = bench.one_of_family(f"splice.{key}")
            if found is not None:
                boxes[str(found.value) if found.known else "box, size not known"] += 1
    for size, count in sorted(connectors.items()):
        yield _item(
            GROUPS[6], f"splice.{size}", f"splice connectors for two {size} AWG copper", [Step("splices", count)]
        )
    for kind, count in sorted(mixed.items()):
        metal, _, size = kind.partition(".")
        yield _item(
            GROUPS[6],
            f"splice.{kind}",
            f"connectors listed for {NOT_COPPER[metal]} to copper, {size} AWG",
            [Step(f"splices of {NOT_COPPER[metal]}", count)],
            cites=[of.codebook.cite("aluminum")],
        )
    for box, count in sorted(boxes.items()):
        yield _item(
            GROUPS[6],
            f"box.{box}",
            f"{box}, with cover",
            [Step("circuits spliced outside the panel at the most", count)],
        )


def _labels(of: Parts) -> Iterator[Item]:
    live = live_branches(of.branches)
    yield _item(GROUPS[7], "stickers", "number stickers for cover plates", [Step("circuits", len(live))])
    tags = sum(one.poles for one in live)
    yield _item(GROUPS[7], "tags", "wire tags, a pair for two hots", [Step("hots", tags)])
    aluminum = sum(termination.aluminum for termination in terminations(of))
    if aluminum:
        tubes = -(-aluminum // TERMINATIONS_A_TUBE)
        work = Working("material.antioxidant", "antioxidant, tubes", Place("conventions:antioxidant"))
        work.take(Step("aluminum terminations", aluminum))
        work.take(Step("a tube is good for", TERMINATIONS_A_TUBE))
        entry = work.entry(work.take(Step("tubes", tubes)))
        yield Item("antioxidant", GROUPS[7], entry.label, entry)
    over = "riser" in of.job.scope.renews and not of.job.existing.underground
    holes = 2 * int(over) + int("load_conductors" in of.job.scope.renews or of.job.decisions.meter_replaced)
    if holes:
        yield _item(GROUPS[7], "duct_seal", "duct seal, pounds", [Step("raceways from outside", holes)])
    if of.service.emergency_label:
        yield _one(GROUPS[7], "emergency_label", "label of the emergency disconnect", "as the section asks")
