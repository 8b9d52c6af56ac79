"""What every sheet, list, hold and drawing says of one tree is the same, over three thousand generated ones. The sheets' own data is read: the
boxes of the drawing, the pieces of the cut list, the rows of the torque log, lines of holds, checklist, field book and labels."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from installation.trees import tree
from robust_ledger.changeover.demands import DayError
from robust_ledger.changeover.holds import hold_of
from robust_ledger.changeover.room import DayTasks
from robust_ledger.fieldbook.book import book_data
from robust_ledger.installation.bonds import BOND_WORDS
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import MAIN
from robust_ledger.papers.sheets.checklist import lines as checklist_lines
from robust_ledger.papers.sheets.directory import _switched_off
from robust_ledger.plan import Plan, plan

MANY, A_LOT = 3000, 100
LOTS = range(MANY // A_LOT)


@pytest.fixture(autouse=True)
def no_search(monkeypatch):
    """The order of the day is searched for, and no part of what is compared here."""

    def unplanned(*_args):
        raise DayError("not planned here")

    monkeypatch.setattr(DayTasks, "schedule", unplanned)


def of_lot(lot: int) -> list[tuple[Job, Plan]]:
    jobs = [tree(seed) for seed in range(lot * A_LOT, (lot + 1) * A_LOT)]
    return [(job, plan(job)) for job in jobs]


# --- by the job's facts alone ------------------------------------------------------------------------------------------


def new_runs(job: Job, drawn: dict[str, str]) -> set[str]:
    """The runs whose conductors this job puts in; `drawn` tells what feeds each box of the drawing."""
    renews = set(job.scope.renews)
    made = {"riser"} if renews & {"riser", "riser_conductors"} else set()
    if "load_conductors" in renews and ("disconnect" in drawn or drawn[MAIN] == "meter"):
        made.add("load")
    if drawn[MAIN] != "meter":
        node = job.panel_of(drawn[MAIN])
        kept = node.there if node is not None else job.existing.disconnect_at != "" and job.scope.disconnect != "new"
        if not kept or "feeder" in renews:
            made.add("feeder.panel")
    for panel in job.panels:
        if panel.id in drawn and not panel.found and not (panel.in_meter and drawn[panel.id] == "meter"):
            made.add(f"feeder.{panel.id}")
    return made


# --- the properties ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("lot", LOTS)
def test_the_sheets_say_one_thing(lot):
    for job, made in of_lot(lot):
        try:
            check(job, made)
        except AssertionError as fault:
            raise AssertionError(f"tree {lot * A_LOT}…: {[panel.id for panel in job.panels]}\n{fault}") from fault


def check(job: Job, made: Plan) -> None:
    boxes = {box.key: box for box in made.one_line}
    behind = {key: box.behind for key, box in boxes.items()}
    assert all(at in boxes for at in behind.values() if at), "every box hangs on another"
    bonds(job, made, boxes)
    conductors(job, made, boxes, behind)
    loads(job, made, behind)


def old_three(job: Job, key: str) -> bool:
    """Whether an old feeder of three wires to another building may stay, with the bond at its end [250.32(B) Ex.]."""
    panel = job.panel_of(key)
    return (
        panel is not None and panel.found and panel.wires == 3 and panel.separate_building and panel.metal_path is False
    )


def bonds(job: Job, made: Plan, boxes: dict) -> None:
    """One bond on every way, and one more where an old feeder stays; hold, checklist, field book, table, directory and labels say it as
    the drawing does."""
    bonded = {key: box.bond for key, box in boxes.items() if box.bond}
    held = [item.words for item in hold_of(made.changeover, "energize").items]
    ticked = [words for words, _section in checklist_lines(made)]
    book = [item["words"] for hold in book_data(made)["holds"] for item in hold["items"]]
    for key, kind in bonded.items():
        words = BOND_WORDS[kind]
        name = made.installation.nodes[key].name
        assert f"{name[:1].upper()}{name[1:]}: {words}" in held, (key, kind)
        assert f"{name[:1].upper()}{name[1:]}: {words}" in book, (key, kind)
        assert f"{boxes[key].title}: {words}" in ticked, (key, kind)
        told = made.entries[f"service.bond.{key}"].text()
        assert told.startswith({"in": "bonded", "out": "separate", "supply": "no bonding jumper", "open": "?"}[kind])
    assert sum(any(words in line for words in BOND_WORDS.values()) for line in held) == len(bonded)
    for key in bonded:
        way, at = [], key
        while at in bonded:
            way.append(
                "old"
                if bonded[at] == "in" and old_three(job, at) and boxes[at].wires == 3 and "supply" not in way
                else bonded[at].replace("open", "out")  # left as it is until its wires are counted
            )
            at = boxes[at].behind
        if "in" not in way and "old" in way:  # it is the first disconnect itself
            way[len(way) - 1 - way[::-1].index("old")] = "in"
        assert way.count("in") == (1 if set(way) != {"supply"} else 0), (key, way)
        rest = [one for one in way if one != "old"]
        assert rest == sorted(rest, key=("out", "in", "supply").index), (
            "apart after the bond, the can by the neutral before it"
        )
    service = {label.node for label in made.installation.labels if label.key.startswith("fault.")}
    assert service <= {key for key, kind in bonded.items() if kind == "in"}
    for panel_id in made.benches:
        if panel_id in boxes:
            said = _switched_off(made.seen_from(panel_id))
            assert ("in this panel" in said) is (
                panel_id in {n.key for n in made.installation.nodes.values() if n.service}
            )


def conductors(job: Job, made: Plan, boxes: dict, behind: dict[str, str]) -> None:
    """What is drawn as new is cut, once; both its ends are tightened, with the same wire; what stays is not cut."""
    end_of = {"riser": "meter", "load": "disconnect" if "disconnect" in boxes else MAIN, "feeder.panel": MAIN}
    new = new_runs(job, behind)
    cut: dict[str, list] = {}
    for piece in made.material.cuts:
        if not piece.earth:
            cut.setdefault(piece.run, []).append(piece)
    assert set(cut) == new
    rows = {row.key: row for row in made.changeover.terminations}
    logged = {row["key"]: row for row in book_data(made)["torque"]}
    assert list(rows) == list(logged) and len(rows) == len(made.changeover.terminations), (
        "each key once, on the phone too"
    )
    for run, pieces in cut.items():
        node = end_of.get(run, run.removeprefix("feeder."))
        lines = [line.text for line in boxes[node].feed]
        four = any(text.startswith("EGC ") for text in lines)
        assert len(pieces) == (4 if four else 3), (run, lines)
        hot, neutral = pieces[0], pieces[2]
        wire = hot.wire if hot.pieces == 1 else f"{hot.pieces} × {hot.wire}"
        assert any(f"2 × {wire if wire != 'size not known' else '?'}" in text for text in lines), (run, wire, lines)
        assert any(text.startswith("neutral ") for text in lines)
        ends = [key for key in rows if lands(run, node, key, job)]
        assert len(ends) == (3 if run == "riser" else 2 * len(pieces)), (run, ends)
        hots = {rows[key].wire_text for key in ends if key.endswith((".A", ".B", ".hot1", ".hot2"))}
        assert hots == {hot.wire if hot.wire != "size not known" else ""}, (run, hots)
        assert {rows[key].wire_text for key in ends if key.endswith((".N", ".neutral"))} == {
            neutral.wire if neutral.wire != "size not known" else ""
        }
        if four:
            ground = {rows[key].wire_text for key in ends if key.endswith((".G", ".ground"))}
            assert ground == {pieces[3].wire if pieces[3].wire != "size not known" else ""}, (run, ground)
    earth(made, rows)


def lands(run: str, node: str, key: str, job: Job) -> bool:
    """Whether a row of the log is an end of a run, by its key."""
    if run == "riser":
        return key.startswith("meter.line.")
    if run == "load":
        return key in {f"meter.load.{name}" for name in "ABNG"} or (
            key.startswith((f"{node}.line.", f"{node}.main.")) and "factory" not in key
        )
    ends = key.startswith((f"{node}.line.", f"{node}.main."))
    return ends or key.startswith((f"equip:feeder.{node}.", f"meter.load.{node}.")) or f".lugs.{node}." in key


def earth(made: Plan, rows: dict) -> None:
    """Electrode conductors and bonds: in the cut list and at both ends in the log exactly where they are new."""
    cut = {piece.run: piece for piece in made.material.cuts if piece.earth}
    for run in made.installation.earth:
        ends = [end for one in run.conductors for end in one.joints]
        assert (run.key in cut) is run.change.made
        assert all(piece.amount is not None or piece.place for piece in run.pieces), "what is not known can be entered"
        for end in ends:
            assert (end.key in rows) is end.change.worked_at, (run.key, end.key)
            if end.change.made:
                assert rows[end.key].wire is None or rows[end.key].wire == run.conductors[0].conductors


def loads(job: Job, made: Plan, behind: dict[str, str]) -> None:
    """A node carries at least what each that is fed from it carries; what is not known below makes it unknown."""
    figures = made.service.figures.feeders
    for key, one in figures.items():
        above = figures.get(behind[key])
        if above is None:
            continue
        assert not above.carried.known or (one.carried.known and above.carried.amount >= one.carried.amount - 1e-9), (
            behind[key],
            key,
        )


# --- twins --------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(0, 600, 3))
def test_one_fact_of_the_tree_changes_what_shows_it_and_nothing_else(seed):
    """A feeder that stays and one that is new: its own pieces, rows and words, those of none beside it."""
    job = tree(seed)
    fed = [
        panel for panel in job.panels if panel.is_fed and not panel.in_meter and panel.wires != 3 and not panel.there
    ]
    if not fed:
        return
    one = fed[0]
    other = replace(
        job, panels=tuple(replace(p, found=not p.found, conductors="") if p.id == one.id else p for p in job.panels)
    )
    before, after = (
        plan(replace(job, panels=tuple(replace(p, conductors="") if p.id == one.id else p for p in job.panels))),
        plan(other),
    )
    if one.id not in before.installation.nodes or before.installation.nodes[one.id].lost:
        return
    runs = ({run.key: run for run in made.installation.wired} for made in (before, after))
    was, now = runs
    key = f"feeder.{one.id}"
    assert was[key].change is not now[key].change
    assert {name: run.change for name, run in was.items() if name != key} == {
        name: run.change for name, run in now.items() if name != key
    }
    cut = ({piece.run for piece in made.material.cuts if not piece.earth} for made in (before, after))
    assert next(cut) ^ next(cut) == {key}
