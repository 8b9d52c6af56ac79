"""Arc-fault and ground-fault protection as a table of cases per edition, both ways; which breaker follows, and what where none is listed."""

from __future__ import annotations

import pytest
from builders import K, called_out, circuit, finding_ids, house, load
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.branch.protection import Ask, arc_fault, ground_fault, protection
from robust_ledger.branch.serves import PLACE_WORDS, serves
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import change_branch, with_part
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.house import When
from robust_ledger.job.parts.panels import DeviceKind
from robust_ledger.ledger.editions import EDITIONS
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
        ("den receptacles", "none", 1, 15, IF), ("den receptacles", "short", 1, 15, NO), ("den receptacles", "extended", 1, 15, REQ),
        ("den receptacles", "receptacles", 1, 15, REQ), ("dishwasher", "appliance", 1, 20, IF), ("garage receptacles", "extended", 1, 20, NO),
    ],
)  # fmt: skip
@pytest.mark.parametrize("edition", EDITIONS)
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
        ("kitchen counter", 1, 20, (), (REQ, REQ, REQ)), ("refrigerator", 1, 20, (), (AHJ, AHJ, REQ)),
        ("disposer", 1, 20, (), (AHJ, AHJ, REQ)), ("dishwasher", 1, 20, (), (REQ, REQ, REQ)),
        ("sump pump", 1, 20, (), (REQ, REQ, REQ)), ("sump pump in the utility room", 1, 20, (), (REQ, REQ, REQ)),
        ("microwave", 1, 20, (), (AHJ, AHJ, REQ)), ("bedroom receptacles", 1, 15, (), (NO, NO, NO)),
        ("bathroom light", 1, 15, (), (NO, NO, NO)),
        ("crawl space light", 1, 15, (), (REQ, REQ, REQ)), ("furnace", 1, 15, (), (NO, NO, NO)),
        ("range", 2, 50, (RANGE,), (NO, AHJ, REQ)), ("dryer", 2, 30, (DRYER,), (NO, REQ, REQ)),
        ("heat pump", 2, 45, (PUMP,), (NO, AHJ, AHJ)), ("heat pump", 2, 60, (PUMP,), (NO, NO, NO)),
        ("charger", 2, 50, (CHARGER,), (AHJ, AHJ, AHJ)), ("charger", 2, 60, (CHARGER,), (NO, AHJ, AHJ)),
        ("garage heater", 2, 20, (HEATER,), (NO, NO, REQ)), ("sauna heater", 2, 35, (SAUNA,), (NO, NO, NO)),
        ("", 1, 20, (), (UNKNOWN, UNKNOWN, UNKNOWN)),
    ],
)  # fmt: skip
def test_ground_fault_by_place_appliance_and_edition(words, poles, rating, loads, by_edition):
    for edition, word in zip(EDITIONS, by_edition, strict=True):
        verdict = ground_fault(ask(words, "new", poles, rating, loads), load_codebook(edition))
        assert verdict.word == word, (edition, verdict)
        assert verdict.cites and verdict.why


def test_what_is_there_and_not_touched_may_stay():
    book = load_codebook("2023")
    for work, word in (
        ("none", IF),
        ("short", IF),
        ("extended", REQ),
        ("receptacles", REQ),
        ("new", REQ),
        ("appliance", REQ),
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
    assert made.device == device and made.listed is None
    assert made.electronic == (not device.startswith("standard"))
    at_outlet = protection(ask(words), None, "first_outlet", (), False, load_codebook("2023"))
    assert at_outlet.device.startswith("standard") and not at_outlet.electronic


def test_a_breaker_the_label_does_not_name_brings_the_lawful_ways():
    listed: tuple[DeviceKind, ...] = ("standard 1-pole", "standard 2-pole", "arc-fault 2-pole")
    book = load_codebook("2023")
    made = protection(ask("kitchen counter"), ask("dining receptacles"), "breaker", listed, False, book)
    assert made.device == "dual-function 2-pole" and made.listed is False
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
    st.sampled_from(EDITIONS), st.sampled_from(sorted(PLACE_WORDS)), st.sampled_from(["new", "none", "short", "extended", "receptacles"]),
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


def test_an_added_appliance_on_an_old_circuit_counts_as_replaced():
    new = house(
        1500,
        load(K.COOKING, "11kW", "range", when=When.ADDED),
        circuits=(circuit(1, "6", 50, poles=2, feeds="range", load_ids=("range",)),),
    )
    old = house(1500, load(K.COOKING, "11kW", "range"), circuits=new.circuits)
    assert (
        plan(new).circuits.branches[0].device == "ground-fault 2-pole"
        and plan(old).circuits.branches[0].device == "standard 2-pole"
    )


@pytest.mark.parametrize(
    ("work", "said"), [("", "not touched beyond the panel"), ("extended", "extended or its cable replaced")]
)
def test_the_working_names_the_kind_of_work(work, said):
    made = plan(change_branch(called_out(house(1500), "1 20 12 den receptacles"), "tag:1", work=work))
    assert said in made.entry("protection.tag:1").steps[0].value
