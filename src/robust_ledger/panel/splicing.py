"""Where short wires are spliced: in the panel as far as its gutters hold them, or in a box, and how large that has to be [312.8, 314.16]."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache

from robust_ledger.branch.model import Branch
from robust_ledger.branch.result import CircuitsResult
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.conductors import size_text
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import parse_position
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.placement import Placement
from robust_ledger.panel.reach import Enclosures, Reach, Wire

DEPTH = Place("fit:new.depth_in")


def splice_entry(branch: Branch, wire: Wire, reach: Reach, gutter: Entry | None, codebook: Codebook) -> Entry:
    """The box for the splice of a circuit whose wire is short [in³]: every hot and neutral twice, from both cables; the grounds together
    as one; inside clamps as one [314.16(B)]. Its smallest trade size. `gutter`: how full that one is with all splices."""
    work = Working(f"splice.{branch.key}", f"{branch.name}: box for its splice", Place.branch(branch.key))
    work.take(Step("wires that are short", reach.splices, ""))
    inside = "not known: this enclosure is not measured"
    if gutter is not None:
        room = gutter.known and gutter.amount <= 100 * codebook.number("gutter_splices_most")
        known = "no room" if gutter.known else f"not known: {gutter.why_unknown}"
        inside = f"room for it: {gutter.text()}" if room else known
    work.note("in the panel itself", inside, [codebook.cite("panel_splices")])
    size = branch.wire_size
    row = codebook.table("box_volume").row("size", size) if size else None
    if size is None or row is None:
        known = f"volume of {size_text(size)} in a box" if size else "size of its wire"
        return work.entry(work.given(known, None, "in³"))
    cite = codebook.table("box_volume").cite
    each = work.take(Step(f"each {size_text(size)}", float(row["volume_in3"]), "in³", cites=(cite,)))
    wires = 2 * (wire.poles + wire.neutral)
    parts = [work.product("hots and neutral, from both cables", [Step("conductors", wires, ""), each], "in³")]
    if wire.ground:
        # Two of them: one in every edition; only from five on do the editions differ.
        parts.append(
            work.product("grounds together", [Step("count", 1, ""), each], "in³", [codebook.cite("box_grounds")])
        )
    parts.append(work.product("clamps inside", [Step("count", 1, ""), each], "in³"))
    total = work.total("together", parts, "in³")
    fitting = next((b for b in codebook.table("boxes").rows if float(b["volume_in3"]) >= total.amount - 1e-9), None)
    name = f"{fitting['box']}, {fitting['volume_in3']} in³" if fitting else "larger than the boxes listed"
    return work.entry(work.note("smallest box", name, [codebook.table("boxes").cite]), [cite])


@lru_cache(maxsize=256)
def _area(codebook: Codebook, size: str | None) -> float | None:
    """Cross-section of a wire with its insulation [in²]; None for one that is not in the table."""
    row = codebook.table("conductor").row("size", size) if size else None
    return float(row["thwn2_area_in2"]) if row else None


def gutter_entries(
    circuits: CircuitsResult,
    placement: Placement,
    wires: Mapping[CircuitKey, Wire],
    reach: Mapping[CircuitKey, Reach],
    boxes: Enclosures,
) -> list[Entry]:
    """How full the fuller gutter is, by its conductors and with the splices [%]: all wires of a side pass one cross-section, which is
    the careful side; its width is from the enclosure's side to the terminals, its depth the enclosure's."""
    job, codebook, by_key = circuits.job, circuits.codebook, circuits.by_key
    depth_in = job.fit.new.depth_in if (job.fit.new.depth_in or 0) > 0 else None
    table, sides = codebook.table("conductor"), {False: [0.0, 0], True: [0.0, 0]}
    unknown = 0
    for key, position in placement.positions.items():
        branch, wire = by_key[key], wires.get(key)
        if wire is None:
            continue
        area_in2 = _area(codebook, branch.wire_size)
        if area_in2 is None:
            unknown += 1
            continue
        space, _half = parse_position(position) or (1, "")
        side = sides[space % 2 == 0]
        side[0] += (wire.poles + wire.neutral + wire.ground) * area_in2
        side[1] += reach[key].splices if key in reach else 0
    connector = codebook.step("splice_in2", "each splice with its connector")
    made = []
    for name, label, counted in (("gutter", "conductors", 0), ("gutter_splices", "conductors and splices", 1)):
        bulk_in2 = {right: side[0] + counted * side[1] * connector.amount for right, side in sides.items()}
        right = bulk_in2[True] > bulk_in2[False]
        area, splices = sides[right]
        work = Working(f"panel.{name}", f"Fill of the {'right' if right else 'left'} gutter by {label}", DEPTH)
        width = work.take(Step("from the side to the terminals", boxes.new.terminals_in[0], "in"))
        depth = work.given("depth of the enclosure", depth_in, "in", DEPTH)
        cross = work.product("cross-section of the gutter", [width, depth], "in²")
        taken = work.take(Step("conductors on that side", area, "in²", cites=(table.cite,)))
        if counted and splices:
            bulk = work.product("splices", [Step("count", splices, ""), work.take(connector)], "in²")
            taken = work.total("together", [taken, bulk], "in²")
        if unknown:
            work.note("circuits whose wire size is not known, not counted", str(unknown))
        fill = work.quotient("fill", taken, cross, "")
        cites = [codebook.cite("panel_splices")]
        made.append(work.entry(work.product("in percent", [fill, Step("percent", 100, "%")], "%"), cites))
    return made


def gutter_findings(entries: Mapping[str, Entry], codebook: Codebook) -> Iterator[Finding]:
    """Gutters too full for their conductors, or for the splices beside them."""
    find = Findings(codebook, "bench").find
    wires, splices = entries["panel.gutter"], entries["panel.gutter_splices"]
    most, with_splices = 100 * codebook.number("gutter_most"), 100 * codebook.number("gutter_splices_most")
    if wires.known and wires.amount > most:
        yield find("panel.gutter", at=DEPTH, amount=wires.amount, most=most)
    elif splices.known and splices.amount > with_splices:
        yield find("panel.gutter_splices", at=DEPTH, amount=splices.amount, with_splices=with_splices)
