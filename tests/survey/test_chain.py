"""The service, link by link: what each link holds, what stays, and which one binds."""

from __future__ import annotations

import pytest
from builders import K, finding_ids, house, load, with_parts
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.entry import Entry
from robust_ledger.plan import plan
from robust_ledger.survey.chain import conductor_limit, weakest

BOOK = load_codebook("2023")
NO_LOAD = Entry("load", "load", None, "A", why_unknown="not asked")
LOADS = [load(K.COOKING, "12kW", "range"), load(K.EV_CHARGER, "48A@240", "charger"), load(K.APPLIANCE, "20kW", "kiln")]


def house_on(chain: dict, main_a: float = 200, **more):
    """A house whose main is chosen, with a chain as found."""
    decisions = {"main_a": main_a, **more.pop("decisions", {})}
    return house(1500, *LOADS, chain=chain, decisions=decisions, **more)


def link(job, name: str):
    return next(one for one in plan(job).walk.chain if one.name == name)


@pytest.mark.parametrize(
    ("found", "dwelling", "strict"),
    [
        ("2 Cu", 125, 110),  # 115 A at 75 °C ÷ 83% = 138.6
        ("4 Cu", 100, 80),  # 85 A ÷ 83% = 102.4; 85 itself is no standard rating
        ("2/0 Cu", 200, 175),  # 175 ÷ 83% = 210.8
        ("4/0 Al", 200, 175),  # 180 ÷ 83% = 216.9
        ("400 kcmil Cu", 400, 300),  # 335 ÷ 83% = 403.6
        ("8 Cu", 50, 50),  # below 100 A only the whole rating
    ],
)
def test_the_largest_main_conductors_hold(found, dwelling, strict):
    for rule, largest in (("dwelling", dwelling), ("strict", strict)):
        job = house_on({}, decisions={"conductor_rule": rule})
        assert (
            conductor_limit(
                "riser_conductors", "Service-entrance conductors (line side)", found, job, NO_LOAD, BOOK
            ).value
            == largest
        )


@pytest.mark.parametrize("found", ["", "2", "2 Ag", "13 Cu", "banana split Cu"])
def test_conductors_that_are_not_told_are_unknown(found):
    entry = conductor_limit(
        "riser_conductors", "Service-entrance conductors (line side)", found, house_on({}), NO_LOAD, BOOK
    )
    assert not entry.known and entry.why_unknown


def test_the_chain_of_the_demo(demo):
    """2 Cu of the old 125 A service go; the 1¼ in riser holds 2/0 Al; the meter socket binds."""
    chain = plan(demo).walk.chain
    assert [(one.name, one.limit.value, one.verdict) for one in chain] == [
        ("drop", 150, "by utility, OK"),
        ("riser", 150, "keep, good for 150 A"),
        ("riser_conductors", 125, "new"),
        ("meter", 150, "keep, good for 150 A"),
        ("load_conductors", 125, "new"),
        ("disconnect", 150, "new"),
        ("panel", 200, "keep, good for 200 A"),
    ]
    assert weakest(chain) == (150, "meter socket")
    assert not any(one.fails for one in chain)


def test_what_stays_and_does_not_hold_is_a_finding(demo):
    kept = with_parts(demo, "chain", replaced=(), disconnect_a=125.0)
    made = plan(kept)
    found = {i for i in finding_ids(made) if i.startswith("service.link")}
    assert found == {"service.link:riser_conductors", "service.link:load_conductors", "service.link:disconnect"}
    assert {one.name for one in made.walk.chain if one.fails} == {"riser_conductors", "load_conductors", "disconnect"}
    larger = with_part(demo, "decisions", main_a=200.0, meter_replaced=True)
    assert {i for i in finding_ids(plan(larger)) if i.startswith("service.link")} == {"service.link:riser"}
    riser = with_parts(larger, "chain", replaced=("riser", "riser_conductors", "load_conductors", "disconnect"))
    assert not {i for i in finding_ids(plan(riser)) if i.startswith("service.link")}


@pytest.mark.parametrize(
    ("disconnect_a", "first", "twice", "is_link"),
    [(None, True, False, False), (200.0, False, False, True), (200.0, True, True, True), (None, False, False, True)],
)
def test_the_bond_is_made_once(disconnect_a, first, twice, is_link):
    """At the panel when nothing stands ahead of it, else at the disconnect; never at both."""
    job = house_on({"disconnect_a": disconnect_a}, panel={"first_disconnect": first})
    assert ("service.bond_twice" in finding_ids(plan(job))) is twice
    assert ("disconnect" in [one.name for one in plan(job).walk.chain]) is is_link


def test_links_that_are_not_there_are_no_links():
    names = [one.name for one in plan(house_on({"underground": True})).walk.chain]
    assert names == ["drop", "riser_conductors", "meter", "load_conductors", "panel"]
    assert link(house_on({"underground": True}), "drop").title == "Lateral"
    assert "riser" in [one.name for one in plan(house_on({}, service_run={"raceway": "emt"})).walk.chain]
    assert link(house_on({"disconnect_a": 60}), "disconnect").fails
    swap = house_on({}, scope="swap", old_panel={"main_a": 100})
    assert link(swap, "service").verdict == "replace, good for 100 A only"


def test_what_is_not_read_says_what_to_read():
    made = plan(house_on({}, service_run={"raceway": "emt"}))
    assert {one.name: one.verdict for one in made.walk.chain} == {
        "drop": "utility drop: ask the utility",
        "riser": "riser raceway: its trade size, to be read",
        "riser_conductors": "service-entrance conductors (line side): size and metal, to be read",
        "meter": "meter socket: read the socket's label",
        "load_conductors": "meter-to-panel conductors: size and metal, to be read",
        "panel": "keep, good for 200 A",
    }
    assert weakest(made.walk.chain) == (200, "panel bus")


def test_the_utilitys_conductors_never_bind():
    small = link(house_on({"drop_a": 100}), "drop")
    assert (small.fails, small.verdict, small.stays) == (False, "utility must upgrade", False)


@given(
    st.sampled_from(["", "4 Cu", "2 Cu", "2/0 Al", "4/0 Al"]),
    st.one_of(st.none(), st.sampled_from([60.0, 100.0, 200.0])),
    st.one_of(st.none(), st.sampled_from([100.0, 150.0, 200.0])),
    st.sets(st.sampled_from(["riser", "riser_conductors", "load_conductors", "disconnect"])),
    st.sampled_from([100, 150, 200]),
)
def test_no_main_passes_the_weakest_link(conductors, disconnect_a, label_a, replaced, main_a):
    """Whatever the chain: a link fails exactly when it stays and holds less than the main, and what-if uses the weakest."""
    chain = {"riser_conductors": conductors, "disconnect_a": disconnect_a, "replaced": tuple(replaced)}
    made = plan(house_on(chain, main_a, old_panel={"meter_label_a": label_a}))
    for one in made.walk.chain:
        kept_a = disconnect_a if disconnect_a and "disconnect" not in replaced else 0
        guard_a = (
            max(main_a, kept_a) if one.name.endswith("conductors") else main_a
        )  # a disconnect that stays protects with its own
        assert one.fails is (one.stays and one.limit.known and one.limit.amount < guard_a)
    low = weakest(made.walk.chain)
    assert low is not None and low[0] <= made.job.panel.bus_a
    assert all(column.link_room.amount == low[0] - column.amperes.amount for column in made.what_if.columns)
