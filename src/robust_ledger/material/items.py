"""The material of a job, counted from the plan down to the last bushing. What is not known how often stays unknown."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence

from robust_ledger.changeover.torque import Parts
from robust_ledger.installation.joints import live_branches
from robust_ledger.installation.model import Raceway, Run
from robust_ledger.job.conductors import NOT_COPPER, Conductors
from robust_ledger.job.keys import MAIN
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
MAINS = {"breaker": "with its main", "back_fed": "with a back-fed main", "lugs": "main lug only (MLO)"}
BOUGHT = ("meter socket", "disconnect", "meter-main", "transfer equipment")
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
    for node in of.installation.nodes.values():
        if node.kind != "panel" or not node.spaces or not node.change.made:
            continue
        bus = f", {node.bus_a:g} A bus" if node.bus_a is not None else ""
        words = f"{node.name}: {node.spaces} spaces{bus}, {MAINS[node.main]}"
        yield _one(GROUPS[0], f"panel.{node.key}", words, "new panels", Place("panel:spaces"))
        blanks = of.benches[node.panel_id].entry_of("panel.blanks") if node.key == MAIN else None
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
    """What comes new of the service beside its conductors: boxes, weatherhead, surge device, interlock, bonding termination."""
    made = of.installation
    for node in made.nodes.values():
        if not node.change.made or node.kind not in BOUGHT:
            continue
        rating = of.service.main if node.kind == "meter socket" else node.rating
        size = rating.text() if rating is not None and rating.known else "rating not known"
        if node.kind == "meter socket":
            words, why = f"meter socket, {size}, by the utility's list", "meter sockets replaced"
            yield _one(GROUPS[1], "meter_socket", words, why, Place("decisions:meter_replaced"))
        else:
            kind = node.marked[0] if node.marked else "service disconnect"
            where = f", {node.where}" if node.where else ""
            words = f"{kind}{where}, {size}{f', {node.spaces} spaces' if node.spaces else ''}"
            yield _one(GROUPS[1], node.key, words, "new disconnects", Place("scope:disconnect"))
    for run in made.wired:
        if run.raceway is not None and run.raceway.change.made and run.raceway.over_roof:
            trade = run.raceway.trade_size or "size not known"
            for key, words in (
                ("weatherhead", "weatherhead"),
                ("flashing", "roof flashing and storm collar"),
                ("hub", "meter hub"),
            ):
                yield _one(GROUPS[1], key, f"{words}, {trade}", "new risers", Place("renews:riser"))
    fitted = of.installation.fitted
    if fitted.spd:
        yield _one(GROUPS[1], "spd", f"surge protective device, {fitted.spd}", "planned", Place("equipment:spd"))
    if fitted.interlock:
        words = "interlock kit, listed for the panel"
        yield _one(GROUPS[1], "interlock", words, "generator behind an interlock", Place("equipment:generator_a"))
    if fitted.intersystem:
        place = Place("grounding:intersystem")
        yield _one(GROUPS[1], "intersystem", "intersystem bonding termination", "none there", place)


def _raceway(of: Parts) -> Iterator[Item]:
    """Raceways that are new: lengths as sold, couplings, straps from their spacing, locknuts and bushings."""
    for run in of.installation.wired:
        if run.raceway is not None and run.raceway.change.made:
            yield from _of_raceway(of, run, run.raceway)


def _of_raceway(of: Parts, run: Run, raceway: Raceway) -> Iterator[Item]:
    key = "" if run.key == "riser" else f".{run.end}"
    which = "" if run.key == "riser" else f", {run.words}"
    kind, trade = RACEWAY.get(raceway.kind), raceway.trade_size or "size not known"
    if kind is None:
        place = Place("service_run:raceway") if run.key == "riser" else raceway.size.place
        words = f"raceway of the {'riser' if run.key == 'riser' else run.words}, its kind not known"
        yield _item(GROUPS[2], f"raceway{key}", words, [Step("length", None, "ft", place=place)])
        return
    work = Working(f"material.raceway{key}", f"{kind}, {trade}, lengths of {STICK_FT:g} ft{which}")
    length = work.given(raceway.length.words, raceway.length.amount, "ft", raceway.length.place)
    sticks = float(-(-length.amount // STICK_FT)) if length.known else None
    work.quotient("lengths, a part counts whole", length, Step("each", STICK_FT, "ft"), "")
    entry = work.entry(work.take(Step("lengths", sticks)))
    yield Item(f"raceway{key}", GROUPS[2], entry.label, entry)
    couplings = None if sticks is None else max(0.0, sticks - 1)
    yield _item(GROUPS[2], f"couplings{key}", f"couplings, {trade}{which}", [Step("between the lengths", couplings)])
    buried = bool(
        of.installation.nodes[run.end].building
    )  # to another building it lies in the earth: no straps on its way
    if not buried:
        straps = _straps(of, raceway, key, which)
        yield Item(f"straps{key}", GROUPS[2], straps.label, straps)
    bushing = "insulating bushings" if raceway.kind.startswith("pvc") else "locknuts with insulating bushings"
    ends = [Step("ends of it in an enclosure", 1 if run.start == "utility" else 2)]
    yield _item(GROUPS[2], f"bushings{key}", f"{bushing}, {trade}{which}", ends)


def _straps(of: Parts, raceway: Raceway, key: str, which: str) -> Entry:
    """Straps of a raceway: those the mast's own spacing wants, else by the section of its kind."""
    place = Place("overhead:strap_between_in")
    work = Working(f"material.straps{key}", f"straps, {raceway.trade_size or 'size not known'}{which}", place)
    between_in = raceway.strap_between_in
    if between_in is None and raceway.kind.startswith("pvc"):
        row = of.codebook.table("pvc_supports").row("trade_size", raceway.trade_size.removesuffix(" in"))
        between_in = float(row["between_in"]) if row else None
    elif between_in is None:
        between_in = 120.0
    length = work.given(raceway.length.words, raceway.length.amount, "ft", raceway.length.place)
    spacing = work.given("between straps at the most", between_in, "in", place)
    if not length.known or not spacing.known:
        return work.entry(work.given("straps", None))
    spans = -(-length.amount * 12 // spacing.amount)
    work.take(Step("spans, a part counts whole", spans))
    return work.entry(work.take(Step("one at each end of a span", spans + 1)))


def _conductors(of: Parts) -> Iterator[Item]:
    """Feet of each conductor in each color, all pieces together."""
    together: dict[tuple[str, str], list[Step]] = {}
    for cut in cuts_of(of):
        if cut.earth:
            continue
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
    """Rods with their clamps, clamps on pipes and other electrodes, conductors to them, bonding bushings."""
    clamps = [joint for joint in of.installation.joints if joint.part == "clamp" and joint.change.made]
    driven = [joint for joint in clamps if joint.key.startswith("rod.") and not joint.key.startswith("rod.found.")]
    buildings = len(driven) - sum(joint.node == "electrode.rods" for joint in driven)
    steps = [of.rods.step("rods to drive")] if of.rods is not None and (not of.rods.known or of.rods.amount) else []
    steps += [Step("rods of other buildings", buildings)] if buildings else []
    if steps:
        yield _item(GROUPS[4], "rods", "ground rods, 8 ft, listed", steps)
        there = sum(joint.key.startswith("rod.found.") for joint in clamps)
        more = [Step("rods that are there", there)] if there else []
        yield _item(GROUPS[4], "clamps", "rod clamps, listed for burial", [*steps, *more])
    for joint in clamps:
        if not joint.key.startswith("rod."):
            size = joint.wire.text() if joint.wire is not None and joint.wire.known else "size not known"
            yield _one(GROUPS[4], f"clamp.{joint.key}", f"{joint.words}, for {size}", "one each")
    for cut in cuts_of(of):
        if cut.earth:
            step = cut.entry.step(cut.where, place=Place.entry(cut.entry.id))
            yield _item(GROUPS[4], cut.run, f"{cut.where[:1].upper()}{cut.where[1:]}, {cut.wire}", [step], "ft")
    bushings = [joint for joint in of.installation.joints if joint.part == "bushing"]
    if bushings:
        words = f"bonding bushings with their bonding jumper, {_bushing_trade(of)}"
        yield _item(GROUPS[4], "bonding_bushings", words, [Step("ends of a metal service raceway", len(bushings))])


def _bushing_trade(of: Parts) -> str:
    riser = next((run.raceway for run in of.installation.wired if run.start == "utility"), None)
    return (riser.trade_size if riser is not None else "") or "size not known"


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
    aluminum = sum(is_aluminum(joint.wire) for joint in of.installation.joints)
    if aluminum:
        tubes = -(-aluminum // TERMINATIONS_A_TUBE)
        work = Working("material.antioxidant", "antioxidant, tubes", Place("conventions:antioxidant"))
        work.take(Step("aluminum terminations", aluminum))
        work.take(Step("a tube is good for", TERMINATIONS_A_TUBE))
        entry = work.entry(work.take(Step("tubes", tubes)))
        yield Item("antioxidant", GROUPS[7], entry.label, entry)
    if holes := of.installation.openings:
        yield _item(GROUPS[7], "duct_seal", "duct seal, pounds", [Step("raceways from outside", holes)])
    for label in of.installation.labels:
        if label.key == "emergency":
            yield _one(GROUPS[7], "emergency_label", "label of the emergency disconnect", "as the section asks")


def is_aluminum(wire: Entry | None) -> bool:
    """Whether a wire is of aluminum."""
    return wire is not None and isinstance(wire.value, Conductors) and wire.value.metal == "al"
