"""Arc-fault and ground-fault protection as a table of cases per edition, both ways; which breaker follows, and what where none is listed."""

from __future__ import annotations

import pytest
from builders import JUDGED, K, called_out, finding_ids, house, load
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.branch.asked import Ask
from robust_ledger.branch.ground_fault import ground_fault
from robust_ledger.branch.protection import arc_fault, protection
from robust_ledger.branch.serves import PLACE_WORDS, serves
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import change_branch, change_circuit, with_part
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.panels import ListedDevice
from robust_ledger.plan import plan

KEPT = CircuitChange()


def ask(words: str, work: str = "new", poles: int = 1, rating: float | None = 20, loads=()) -> Ask:
    return Ask(serves(words, "", loads, KEPT), poles, rating, work)


RANGE = load(K.COOKING, "11kW", "range")
DRYER = load(K.DRYER, "5kW", "dryer", room="laundry")
PUMP = load(K.HEAT_PUMP, "20A@240", "heat pump", room="outdoor")
CHARGER = load(K.EV_CHARGER, "40A@240", "charger", room="garage")
HEATER = load(K.HEATING, "3kW", "heater", room="garage")
SAUNA = load(K.APPLIANCE, "6kW", "sauna heater", room="basement")

REQ, NO, IF, AHJ, UNKNOWN = (
    "required",
    "not required",
    "not by panel change; yes if extended",
    "ask the AHJ",
    "not known",
)


@pytest.mark.parametrize(
    ("words", "work", "poles", "rating", "word"),
    [
        ("east bedroom receptacles", "new", 1, 15, REQ), ("hall lights", "new", 1, 15, REQ), ("kitchen counter", "new", 1, 20, REQ),
        ("laundry receptacle", "new", 1, 20, REQ), ("dishwasher", "new", 1, 20, REQ), ("finished basement receptacles", "new", 1, 20, REQ),
        ("bathroom receptacles", "new", 1, 20, NO), ("garage receptacles", "new", 1, 20, NO), ("outdoor receptacles", "new", 1, 20, NO),
        ("unfinished basement", "new", 1, 20, NO), ("attic light", "new", 1, 15, NO), ("crawl space light", "new", 1, 15, NO),
        ("furnace", "new", 1, 15, NO), ("bathroom and bedroom receptacles", "new", 1, 20, REQ),  # one listed room is enough
        ("bedroom heater", "new", 2, 20, NO), ("workshop in the den", "new", 1, 30, NO), ("", "new", 1, 20, UNKNOWN),
        ("den receptacles", "none", 1, 15, IF), ("den receptacles", "short", 1, 15, NO),
        ("den receptacles", "lengthened", 1, 15, REQ), ("den receptacles", "extended", 1, 15, REQ),
        ("den receptacles", "receptacles", 1, 15, REQ), ("dishwasher", "appliance", 1, 20, IF), ("garage receptacles", "extended", 1, 20, NO),
    ],
)  # fmt: skip
@pytest.mark.parametrize("edition", JUDGED)
def test_arc_fault_by_room_rating_and_work(edition, words, work, poles, rating, word):
    verdict = arc_fault(ask(words, work, poles, rating), False, load_codebook(edition))
    assert verdict.word == word and verdict.why and verdict.cites
    section = {"2017": "210.12(D)", "2020": "210.12(D)", "2023": "210.12(E)"}[edition]
    if work in ("extended", "short") and word in (REQ, NO) and "den" in words:
        assert verdict.cites[0].section == section
    if work == "receptacles":
        assert verdict.cites[0].section == "406.4(D)(4)"


@pytest.mark.parametrize(("work", "wants", "word"), [("none", False, IF), ("none", True, REQ), ("short", True, REQ)])
def test_an_authority_may_ask_for_arc_fault_at_a_panel_change(work, wants, word):
    assert arc_fault(ask("den receptacles", work), wants, load_codebook("2023")).word == word
    assert arc_fault(ask("garage receptacles", work), wants, load_codebook("2023")).word == NO


@pytest.mark.parametrize(
    ("words", "poles", "rating", "loads", "by_edition"),
    [
        ("bathroom receptacles", 1, 20, (), (REQ, REQ, REQ)), ("garage receptacles", 1, 20, (), (REQ, REQ, REQ)),
        ("outdoor receptacles", 1, 20, (), (REQ, REQ, REQ)), ("laundry receptacle", 1, 20, (), (REQ, REQ, REQ)),
        ("unfinished basement", 1, 20, (), (REQ, REQ, REQ)), ("finished basement receptacles", 1, 20, (), (NO, REQ, REQ)),
        ("kitchen counter", 1, 20, (), (REQ, REQ, REQ)), ("refrigerator", 1, 20, (), (UNKNOWN, UNKNOWN, REQ)),
        ("disposer", 1, 20, (), (UNKNOWN, UNKNOWN, REQ)), ("dishwasher", 1, 20, (), (REQ, REQ, REQ)),
        ("sump pump", 1, 20, (), (REQ, REQ, REQ)), ("sump pump in the utility room", 1, 20, (), (REQ, REQ, REQ)),
        ("microwave", 1, 20, (), (UNKNOWN, UNKNOWN, REQ)), ("bedroom receptacles", 1, 15, (), (NO, NO, NO)),
        ("bathroom light", 1, 15, (), (NO, NO, NO)),
        ("crawl space light", 1, 15, (), (REQ, REQ, REQ)), ("furnace", 1, 15, (), (NO, NO, NO)),
        ("range", 2, 50, (RANGE,), (NO, UNKNOWN, REQ)), ("dryer", 2, 30, (DRYER,), (NO, REQ, REQ)),
        ("heat pump", 2, 45, (PUMP,), (NO, UNKNOWN, UNKNOWN)), ("heat pump", 2, 60, (PUMP,), (NO, NO, NO)),
        ("charger", 2, 50, (CHARGER,), (REQ, REQ, REQ)), ("charger", 2, 60, (CHARGER,), (NO, REQ, REQ)),
        ("garage heater", 2, 20, (HEATER,), (NO, NO, REQ)), ("sauna heater", 2, 35, (SAUNA,), (NO, NO, NO)),
        ("", 1, 20, (), (UNKNOWN, UNKNOWN, UNKNOWN)),
    ],
)  # fmt: skip
def test_ground_fault_by_place_appliance_and_edition(words, poles, rating, loads, by_edition):
    for edition, word in zip(JUDGED, by_edition, strict=True):
        verdict = ground_fault(ask(words, "new", poles, rating, loads), load_codebook(edition))
        assert verdict.word == word, (edition, verdict)
        assert verdict.cites and verdict.why


def test_what_is_there_and_not_touched_may_stay():
    book = load_codebook("2023")
    for work, word in (
        ("none", IF),
        ("short", IF),
        ("lengthened", IF),
        ("extended", REQ),
        ("receptacles", REQ),
        ("new", REQ),
        ("appliance", IF),
    ):
        assert ground_fault(ask("bathroom receptacles", work), book).word == word
    assert "406.4(D)(3)" in [c.section for c in ground_fault(ask("bathroom receptacles", "receptacles"), book).cites]


@pytest.mark.parametrize(
    ("words", "partner", "device"),
    [
        ("den receptacles", None, "arc-fault 1-pole"), ("garage receptacles", None, "ground-fault 1-pole"),
        ("kitchen counter", None, "dual-function 1-pole"), ("attic light", None, "standard 1-pole"),
        ("den receptacles", "hall lights", "arc-fault 2-pole"), ("den receptacles", "garage receptacles", "dual-function 2-pole"),
        ("attic light", "garage receptacles", "ground-fault 2-pole"), ("attic light", "attic fan", "standard 2-pole"),
    ],
)  # fmt: skip
def test_the_breaker_that_follows(words, partner, device):
    made = protection(ask(words), ask(partner) if partner else None, "breaker", (), False, load_codebook("2023"))
    assert str(made.device) == device and made.listed is None
    assert made.electronic == (not device.startswith("standard"))
    at_outlet = protection(ask(words, "extended"), None, "first_outlet", (), False, load_codebook("2023"))
    assert at_outlet.device.kind == "standard" and not at_outlet.electronic


def test_a_breaker_the_label_does_not_name_brings_the_lawful_ways():
    listed: tuple[ListedDevice, ...] = ("standard 1-pole", "standard 2-pole", "arc-fault 2-pole")
    book = load_codebook("2023")
    made = protection(
        ask("kitchen counter", "extended"), ask("dining receptacles", "extended"), "breaker", listed, False, book
    )
    assert str(made.device) == "dual-function 2-pole" and made.listed is False
    assert [way.split(" ")[0] for way in made.ways] == ["an", "protection", "split", "another"]
    assert protection(ask("attic light"), None, "breaker", listed, False, book).listed is True
    job = called_out(house(1500), "1 20 12 kitchen counter", "3 20 12 dining receptacles mw 1")
    job = with_part(job, "panel", devices=listed)
    for tag in (1, 2):
        job = change_branch(job, f"tag:{tag}", work="extended")
    assert "bench.device:tag:1" in finding_ids(plan(job))
    both = change_branch(change_branch(job, "tag:1", protect_at="first_outlet"), "tag:2", protect_at="first_outlet")
    assert not [one for one in finding_ids(plan(both)) if one.startswith("bench.device")]


def test_a_neutral_comes_to_the_breaker_that_watches_it():
    job = called_out(house(1500), "1 20 12 den receptacles")
    made = plan(change_branch(job, "tag:1", work="extended"))
    assert made.circuits.branches[0].to_device and "neutral to its bar" not in str(made.bench.wires["tag:1"].bars)
    assert not plan(job).circuits.branches[0].to_device


@pytest.mark.parametrize(
    ("words", "places"),
    [
        ("range of the flat", set()), ("range hood", {"kitchen"}), ("bed 2 outlets", {"bedroom"}), ("basement lights", {"unfinished_basement"}),
        ("washer", {"laundry"}), ("vanity", {"bath"}), ("porch and hall lights", {"outdoors", "hall"}), ("family room", {"living"}),
        ("stairs to the attic", {"hall", "attic"}), ("heat pump", {"outdoors"}), ("furnace and kitchen", {"utility", "kitchen"}),
    ],
)  # fmt: skip
def test_rooms_are_read_from_words(words, places):
    assert serves(words, "", (), KEPT).places == places
    assert serves(words, "", (), CircuitChange(places=("garage",))).places == {"garage"}, (
        "what the user says goes first"
    )


@given(
    st.sampled_from(JUDGED), st.sampled_from(sorted(PLACE_WORDS)), st.sampled_from(["new", "none", "short", "extended", "receptacles"]),
    st.sampled_from([10, 15, 20, 30, None]), st.integers(1, 2), st.booleans(),
)  # fmt: skip
def test_every_verdict_has_a_reason_and_doing_more_never_asks_for_less(edition, place, work, rating, poles, lights):
    book = load_codebook(edition)
    change = CircuitChange(places=(place,), serves="both" if lights else "receptacles")

    def asked(kind: str) -> Ask:
        return Ask(serves("x", "", (), change), poles, rating, kind)

    rank = {NO: 0, IF: 1, AHJ: 1, UNKNOWN: 1, REQ: 2}
    for rule in (lambda one: arc_fault(one, False, book), lambda one: ground_fault(one, book)):
        assert rule(asked(work)).why and rule(asked(work)).cites
        assert rank[rule(asked("new")).word] >= rank[rule(asked(work)).word] >= 0
        assert rank[rule(asked("extended")).word] >= rank[rule(asked("none")).word]


@pytest.mark.parametrize(
    ("words", "by_edition"),
    [
        ("dishwasher", (IF, REQ, REQ)),
        ("sump pump", (IF, REQ, REQ)),
        ("range", (NO, UNKNOWN, IF)),  # its outlet is what is named, not the range
        ("heated greenhouse bench", (IF, IF, IF)),
    ],
)
def test_a_new_appliance_on_an_old_circuit_asks_for_it_only_where_the_edition_says_so(words, by_edition):
    for edition, word in zip(JUDGED, by_edition, strict=True):
        poles, loads = (2, (RANGE,)) if words == "range" else (1, ())
        verdict = ground_fault(ask(words, "appliance", poles, 50 if poles == 2 else 20, loads), load_codebook(edition))
        assert verdict.word == word, (edition, verdict)


WIRED, PLUGGED = CircuitChange(serves="fixed"), CircuitChange(serves="receptacles")


@pytest.mark.parametrize(
    ("words", "change", "poles", "rating", "work", "date", "sink", "by_edition"),
    [
        # pools, spas, tubs, heated floors: whichever way, indoors too
        ("hot tub", KEPT, 2, 50, "new", "", None, (REQ, REQ, REQ)),
        ("hot tub in the sunroom", WIRED, 2, 50, "new", "", None, (REQ, REQ, REQ)),
        ("hydromassage tub", KEPT, 1, 20, "new", "", None, (REQ, REQ, REQ)),
        ("jetted tub", KEPT, 1, 20, "none", "", None, (IF, IF, IF)),
        ("pool pump", WIRED, 2, 20, "new", "", None, (REQ, REQ, REQ)),
        ("pool heater", WIRED, 2, 50, "new", "", None, (NO, REQ, REQ)),
        ("pool heater", WIRED, 2, 70, "new", "", None, (NO, NO, NO)),
        ("heated floor bath", KEPT, 1, 20, "new", "", None, (REQ, REQ, REQ)),
        ("heated floor den", KEPT, 1, 20, "new", "", None, (NO, NO, NO)),
        ("heated floor", KEPT, 1, 20, "new", "", None, (UNKNOWN, UNKNOWN, UNKNOWN)),
        # a charger is taken as a receptacle, or said to be hard-wired
        ("ev charger", KEPT, 2, 50, "new", "", None, (REQ, REQ, REQ)),
        ("ev charger", WIRED, 2, 50, "new", "", None, (NO, NO, REQ)),  # garage from 2023 on
        ("ev charger", WIRED, 2, 60, "new", "", None, (NO, NO, NO)),
        ("ev charger driveway", WIRED, 2, 50, "new", "", None, (NO, REQ, REQ)),
        ("welder garage", KEPT, 2, 50, "new", "", None, (NO, REQ, REQ)),
        ("welder garage", WIRED, 2, 50, "new", "", None, (NO, NO, REQ)),
        # dated relief of outdoor machines
        ("a/c", KEPT, 2, 30, "new", "2022-12-31", None, (NO, AHJ, NO)),
        ("a/c", KEPT, 2, 30, "new", "2023-01-01", None, (NO, REQ, NO)),
        ("a/c", KEPT, 2, 30, "new", "2026-08-31", None, (NO, REQ, NO)),
        ("a/c", KEPT, 2, 30, "new", "2026-09-01", None, (NO, REQ, REQ)),
        ("a/c", KEPT, 2, 30, "new", "soon", None, (NO, UNKNOWN, UNKNOWN)),
        ("a/c", KEPT, 2, 60, "new", "2026-12-01", None, (NO, NO, NO)),
        ("a/c", KEPT, 2, 30, "appliance", "2026-12-01", None, (NO, IF, REQ)),
        ("mini split bonus room", KEPT, 2, 20, "new", "2026-12-01", None, (NO, NO, NO)),  # said to be inside
        # receptacle or hard-wired is asked where it decides
        ("well pump outside", KEPT, 1, 20, "new", "", None, (REQ, REQ, REQ)),
        ("well pump outside", PLUGGED, 1, 20, "new", "", None, (REQ, REQ, REQ)),
        ("well pump outside", WIRED, 1, 20, "new", "", None, (NO, REQ, REQ)),
        ("well pump hall", KEPT, 1, 20, "new", "", None, (NO, NO, NO)),  # the same either way
        ("unit heater garage", KEPT, 2, 30, "new", "", None, (NO, NO, REQ)),
        ("water heater garage", KEPT, 2, 30, "new", "", None, (NO, NO, REQ)),
        ("water heater", KEPT, 2, 30, "new", "", None, (NO, NO, NO)),
        # the distance to a sink
        ("refrigerator", KEPT, 1, 20, "new", "", 5.5, (REQ, REQ, REQ)),
        ("refrigerator", KEPT, 1, 20, "new", "", 6.5, (NO, NO, REQ)),
        ("den receptacles", KEPT, 1, 15, "new", "", 4.0, (REQ, REQ, REQ)),
        ("den receptacles", KEPT, 1, 15, "new", "", 9.0, (NO, NO, NO)),
        ("den receptacles", KEPT, 1, 15, "new", "", None, (NO, NO, NO)),
        # kinds of work
        ("bathroom receptacles", KEPT, 1, 20, "lengthened", "", None, (IF, IF, IF)),
        ("bathroom receptacles", KEPT, 1, 20, "extended", "", None, (REQ, REQ, REQ)),
        ("deck receptacle", KEPT, 1, 20, "receptacles", "", None, (REQ, REQ, REQ)),
        ("basement bedroom receptacles", KEPT, 1, 15, "new", "", None, (NO, REQ, REQ)),
    ],
)  # fmt: skip
def test_how_it_is_connected_when_and_how_far_from_a_sink(words, change, poles, rating, work, date, sink, by_edition):
    for edition, word in zip(JUDGED, by_edition, strict=True):
        asked = Ask(serves(words, "", (), change), poles, rating, work, sink, date)
        verdict = ground_fault(asked, load_codebook(edition))
        assert verdict.word == word, (edition, verdict)
        assert verdict.why and verdict.cites


@pytest.mark.parametrize(
    ("place", "action", "arc", "ground"),
    [
        ("same", "keep", IF, IF),
        ("moved", "keep", REQ, IF),
        ("same", "new_cable", REQ, REQ),
        ("moved", "cap", None, None),
    ],
)
def test_a_panel_that_moves_lengthens_what_stays(place, action, arc, ground):
    """By more than 6 ft as long as nobody has said less; what is there of receptacles may stay without ground-fault protection."""
    job = called_out(house(1500, scope={"panel_place": place}), "1 20 12 basement family room receptacles")
    made = plan(change_branch(job, "tag:1", action=action)).circuits.branches[0].protection
    assert (made.arc.word if made else None, made.ground.word if made else None) == (arc, ground)
    short = plan(change_branch(job, "tag:1", work="short")).circuits.branches[0].protection
    assert short.arc.word == NO


def test_a_conversion_is_new_outlets():
    job = called_out(house(1500), "1,3 20/2 12 bedroom wall heater")
    assert plan(change_branch(job, "tag:1", action="convert")).circuits.branches[0].protection.arc.word == REQ
    assert plan(job).circuits.branches[0].protection.arc.word == NO


@pytest.mark.parametrize(
    ("work", "said"), [("", "not touched beyond the panel"), ("extended", "extended or its cable replaced")]
)
def test_the_working_names_the_kind_of_work(work, said):
    made = plan(change_branch(called_out(house(1500), "1 20 12 den receptacles"), "tag:1", work=work))
    assert said in made.entry("protection.tag:1").steps[0].value


@pytest.mark.parametrize(
    ("line", "serves_", "found"),
    [
        ("1 20 12 bath lights and zorblax", "", {"bench.connected:tag:1"}),
        ("1 20 12 bath lights and zorblax", "lights", set()),
        ("1 20 12 something", "", {"bench.rooms:tag:1"}),
        ("1 20 12 den receptacles", "", set()),
    ],
)
def test_what_protection_depends_on_is_asked_for(line, serves_, found):
    job = change_branch(called_out(house(1500, edition="2017"), line), "tag:1", work="extended", serves=serves_)
    assert {one for one in finding_ids(plan(job)) if one.startswith(("bench.connected", "bench.rooms"))} == found


# --- what was protected stays protected -----------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("line", "found", "device"),
    [
        ("1,3 50/2 6 hot tub", "gfci", "ground-fault 2-pole"),
        ("1,3 50/2 6 hot tub", "", "standard 2-pole"),
        ("5 20 12 den receptacles", "afci", "arc-fault 1-pole"),
        ("5 20 12 den receptacles", "dual", "dual-function 1-pole"),
        ("5 20 12 den receptacles", "tandem", "standard 1-pole"),
        ("5 20 12 den receptacles", "", "standard 1-pole"),
    ],
)
def test_a_breaker_that_watches_is_replaced_in_kind(line, found, device):
    """A hot tub's ground-fault breaker comes back as one, required by the edition now or not; its twin was a plain one."""
    job = change_circuit(called_out(house(1500), line), 1, device=found)
    made = plan(job)
    (branch,) = [one for one in made.circuits.branches if one.tag == "1"]
    entry = made.entry("protection.tag:1")
    assert str(branch.device) == device == entry.text()
    assert any("stays protected" in str(step.value) for step in entry.steps) == (found in ("gfci", "afci", "dual"))


def test_a_pair_behind_one_handle_takes_what_either_was_behind():
    job = called_out(house(1500), "1 20 12 den receptacles", "3 20 12 hall receptacles mw tag 1")
    plain = {str(one.device) for one in plan(job).circuits.branches if one.tag in ("1", "2")}
    watched = plan(change_circuit(job, 2, device="gfci"))
    assert plain == {"standard 2-pole"}
    assert {str(one.device) for one in watched.circuits.branches if one.tag in ("1", "2")} == {"ground-fault 2-pole"}


@pytest.mark.parametrize(
    ("found", "at", "asks"), [("gfci", "first_outlet", True), ("gfci", "breaker", False), ("", "first_outlet", False)]
)
def test_protection_that_leaves_the_breaker_is_asked_about(found, at, asks):
    job = change_circuit(called_out(house(1500), "1 20 12 den receptacles"), 1, device=found)
    ids = finding_ids(plan(change_branch(job, CircuitKey.of_tag(1), protect_at=at)))
    assert ("branch.protected:tag:1" in ids or any(one.endswith("protected:tag:1") for one in ids)) == asks


def test_what_is_found_is_not_lost_when_circuits_are_combined_or_split():
    job = called_out(house(1500), "1 20 12 den receptacles", "3 20 12 hall receptacles")
    job = change_circuit(job, 2, device="afci")
    merged = change_branch(job, CircuitKey.of_tag(2), action="merge", into=1)
    assert [str(one.device) for one in plan(merged).circuits.branches if one.tag == "1"] == ["arc-fault 1-pole"]
    split = change_branch(job, CircuitKey.of_tag(2), action="split")
    assert all(one.device.kind.arc for one in plan(split).circuits.branches if one.tag in ("2", "2.2"))
