"""Scope, the panel's place, counting, inherited defects by both practices, the caution list, and figures that cannot be meant."""

from __future__ import annotations

import math

import pytest
from builders import K, answers, called_out, finding_ids, house, load, with_parts
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.exchange.plan_json import plan_data
from robust_ledger.job.edits import with_part
from robust_ledger.job.parts.defects import Defect
from robust_ledger.job.upgrades import ANSWERS
from robust_ledger.panel.counting import PANEL_SIZES
from robust_ledger.plan import plan
from robust_ledger.survey.cautions import CautionListError, matching, read_cautions
from robust_ledger.survey.defects import PART_WORDS, catalogue
from robust_ledger.survey.scope import TOPICS, asked, renews, title, touches, words


# --- scope ------------------------------------------------------------------------------------------------------------
def test_every_scope_says_what_it_asks_renews_and_touches():
    for kind in ANSWERS:
        job = house(1500, scope=kind)
        assert title(job) and words(job) is not None and set(asked(job)) <= set(TOPICS)
        new, touched = set(renews(job)), set(touches(job))
        assert new | touched <= set(PART_WORDS) and not new & touched


@pytest.mark.parametrize(
    ("scope", "asked", "not_asked"), [("swap", "fit.", "overhead."), ("upgrade", "overhead.", "feeder."), ("sub_panel", "fit.", "overhead.")]
)  # fmt: skip
def test_the_scope_decides_which_questions_appear(scope, asked, not_asked):
    made = plan(house(1500, scope=scope))
    assert [e for e in made.entries if e.startswith(asked)] and not [e for e in made.entries if e.startswith(not_asked)]
    assert plan_data(made)["scope"]["words"] == title(made.job)


def test_a_blank_job_asks_nothing_and_an_overhead_finding_goes_with_its_scope():
    assert not plan(house(None)).findings_of("walkthrough")
    low = with_part(house(1500, scope="upgrade"), "overhead", attachment_ft=5.0)
    assert "overhead.attachment_ft" in finding_ids(plan(low))
    assert "overhead.attachment_ft" not in finding_ids(plan(replace(low, scope=answers("swap"))))


# --- place ------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("place", "edition", "found"),
    [
        ({"room": "basement"}, "2023", set()),
        ({"room": "bathroom"}, "2023", {"bathroom"}),
        ({"room": "closet"}, "2023", {"closet"}),
        ({"near_ignitible": True}, "2023", {"closet"}),
        ({"over_steps": True}, "2017", {"steps"}),
        ({"room": "outdoors"}, "2023", {"wet"}),
        ({"room": "outdoors", "weatherproof": True}, "2023", set()),
        ({"damp": True}, "2023", {"damp"}),
        ({"damp": True, "air_space": True}, "2023", set()),
        ({"wet": True}, "2023", {"wet"}),
        ({"face": "up"}, "2020", {"face"}),
        ({"face": "down"}, "2023", {"face"}),
    ],
)
def test_where_a_panel_may_not_hang(place, edition, found):
    made = plan(with_part(house(1500, edition=edition), "location", **place))
    assert {one.removeprefix("location.") for one in finding_ids(made) if one.startswith("location.")} == found


def test_lying_face_up_is_barred_by_section_from_2020():
    for edition, section in (("2017", "110.3(B)"), ("2020", "408.43"), ("2023", "408.43")):
        made = plan(with_part(house(1500, edition=edition), "location", face="up"))
        assert next(f for f in made.findings if f.id == "location.face").cites[0].section == section


# --- counting ---------------------------------------------------------------------------------------------------------
def test_poles_spaces_and_circuits_are_three_counts():
    """A tandem is two circuits in one space; a 2-pole one circuit in two: 4 circuits, 5 poles, 4 spaces."""
    job = called_out(house(1500), "1 20 12 a", "3a 15 14 b", "3b 15 14 c", "5,7 30/2 10 dryer")
    made = plan(job).entries
    assert [made[f"count.{name}"].value for name in ("circuits", "poles", "spaces")] == [4, 5, 4]
    # 5 poles and one of five to spare: 6; the smallest panel has 8.
    assert (made["count.needed"].value, made["count.recommended"].value) == (6, 8)
    four = plan(with_part(job, "decisions", spares="four")).entries
    assert (four["count.needed"].value, four["count.recommended"].value) == (9, 12)
    small = plan(with_part(with_part(job, "panel", spaces=8), "decisions", spares="four"))
    assert "count.small" in finding_ids(small)


def test_capped_circuits_take_no_space_and_futures_do():
    job = called_out(house(1500, load(K.EV_CHARGER, "40A@240", "charger", when="later")), "1 20 12 a", "3 20 12 b cap")
    made = plan(job).entries
    assert made["count.circuits"].value == 1
    assert made["count.needed"].value == 1 + 2 + math.ceil(0.2 * 3)


@given(st.integers(0, 60), st.sampled_from(["fifth", "four"]))
def test_the_panel_to_buy_is_the_smallest_that_leaves_the_spares(circuits, spares):
    job = replace(
        house(1500),
        circuits=tuple(replace(called_out(house(1), "- 20 12 x").circuits[0], tag=n + 1) for n in range(circuits)),
    )
    made = plan(with_part(job, "decisions", spares=spares)).entries
    needed, size = made["count.needed"].amount, made["count.recommended"].value
    assert needed == circuits + (4 if spares == "four" else math.ceil(circuits * 0.2 - 1e-9))
    assert size in PANEL_SIZES and size >= needed and all(other < needed for other in PANEL_SIZES if other < size)


# --- defects ----------------------------------------------------------------------------------------------------------
def found(*defects: dict, scope: str = "swap", practice: str = "scope"):
    made = tuple(Defect.read({"id": f"d{n}", "what": f"thing {n}", **d}) for n, d in enumerate(defects))
    return plan(replace(house(1500, scope=scope, decisions={"defect_practice": practice}), defects=made))


def test_the_catalogue_is_complete_and_cites_what_is_in_every_edition():
    assert len(catalogue()) >= 15
    for known in catalogue().values():
        assert known.what and known.fix and known.part in PART_WORDS and known.minutes > 0
        for edition in ("2017", "2020", "2023"):
            assert load_codebook(edition).cite(known.rule).section


@pytest.mark.parametrize(
    ("scope", "part", "touch", "mine"),
    [
        ("swap", "panel", True, True),
        ("swap", "branch", True, False),
        ("swap", "riser", False, False),
        ("upgrade", "riser", True, True),
        ("upgrade", "outdoor", True, False),
        ("outside_disconnect", "meter", True, False),
        ("relocated", "branch", True, True),
    ],
)
def test_both_practices_of_responsibility(scope, part, touch, mine):
    (one,) = found({"part": part, "minutes": 30}, scope=scope).walk.defects
    assert (one.by_touch, one.by_scope) == (touch, mine)
    assert one.ours is mine and found({"part": part}, scope=scope, practice="touch").walk.defects[0].ours is touch
    assert found({"part": part, "in_scope": not mine}, scope=scope).walk.defects[0].ours is not mine


def test_minutes_add_up_for_what_we_do_and_is_not_done():
    made = found(
        {"part": "panel", "minutes": 30},
        {"part": "branch", "minutes": 20},
        {"part": "panel", "minutes": 15, "state": "done"},
        {"part": "panel", "minutes": 90, "who": "utility"},
    )
    assert [made.entries[f"defects.{name}"].value for name in ("touch", "scope", "ours")] == [50, 30, 30]
    unknown = found({"part": "panel", "minutes": None})
    assert not unknown.entries["defects.ours"].known and "thing 0" in unknown.entries["defects.ours"].why_unknown


@pytest.mark.parametrize(
    ("defect", "severity"),
    [
        ({"part": "panel"}, "FIX"),
        ({"part": "riser"}, "NOTE"),
        ({"part": "riser", "kind": "cable_frayed"}, "STOP"),  # live and bare: before the job, whoever's it is
        ({"part": "panel", "state": "planned"}, None),
        ({"part": "panel", "kind": "live_stabs", "state": "done"}, None),
    ],
)
def test_how_serious_a_defect_is(defect, severity):
    findings = [f for f in found(defect).findings if f.id.startswith("defect.")]
    assert [str(f.severity) for f in findings] == ([severity] if severity else [])


def test_material_of_what_this_job_puts_right_reaches_the_plan():
    made = found(
        {"part": "panel", "material": "cover"},
        {"part": "riser", "material": "mast"},
        {"part": "panel", "material": "seal", "who": "owner"},
    )
    assert plan_data(made)["defect_material"] == ["cover"]


# --- the caution list -------------------------------------------------------------------------------------------------
LIST = """
# my own
Zorpal Q, breakers known not to trip: no reset, replace
"Bram, Type 2", "stabs burn; look behind the cover"
fen, short mark
"""


@pytest.mark.parametrize(
    ("marks", "hits"),
    [
        ("ZORPAL-Q 20 A", ["Zorpal Q"]),
        ("zorpal qx", []),
        ("label: bram type 2, series 5", ["Bram, Type 2"]),
        ("fence post", []),
        ("fen / zorpal q", ["Zorpal Q", "fen"]),
        ("", []),
    ],
)
def test_marks_match_as_words_of_their_own(marks, hits):
    assert [c.mark for c in matching(marks, read_cautions(LIST))] == hits


@pytest.mark.parametrize(
    ("text", "line"), [("a, b\nonly a mark", "Line 2"), (", caution", "Line 1"), ('x, "y\nz', None)]
)
def test_a_line_that_cannot_be_read_is_named(text, line):
    if line is None:
        assert read_cautions(text)[0].mark == "x"
    else:
        with pytest.raises(CautionListError, match=line):
            read_cautions(text)


@given(st.text(max_size=200))
def test_any_list_is_read_or_refused_in_a_sentence(text):
    try:
        for caution in read_cautions(text):
            assert caution.mark and caution.text
            assert matching(f"old {caution.mark} here", (caution,)) == (caution,) or not any(
                c.isalnum() for c in caution.mark
            )
    except CautionListError as problem:
        assert "Line" in str(problem) or "larger" in str(problem)


def test_a_match_is_a_finding_with_the_lists_own_words():
    cautions = matching("zorpal q", read_cautions(LIST))
    made = plan(replace(house(1500), cautions=cautions))
    finding = next(f for f in made.findings if f.id == "caution.Zorpal Q")
    assert finding.severity == "ASK" and "known not to trip: no reset, replace" in finding.text


# --- figures that cannot be meant ---------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("part", "values", "found_id", "severity"),
    [
        ("service_run", {"length_ft": 0.0}, "odd.service_run.length_ft", "FIX"),
        ("sub_panel", {"breaker_a": 60.0, "length_ft": -4.0}, "odd.panels.sub.length_ft", "FIX"),
        ("fit", {"handle_in": 0.0}, "odd.fit.handle_in", "FIX"),
        ("service_run", {"length_ft": 20.0, "riser_ft": 30.0}, "odd.riser_longer", "FIX"),
        ("service_run", {"sets": 7}, "odd.sets", "FIX"),
        ("service_run", {"utility_fault_a": 250_000.0}, "odd.fault", "STOP"),
        ("old_panel", {"main_a": 200.0, "meter_label_a": 100.0}, "odd.old_main", "NOTE"),
    ],
)
def test_figures_that_cannot_be_meant_are_told_and_not_replaced(part, values, found_id, severity):
    made = plan(with_parts(house(1500, decisions={"main_a": 200.0}), part, **values))
    assert next(f for f in made.findings if f.id == found_id).severity == severity
    if values == {"length_ft": 0.0}:
        assert not made.entries["service.voltage_drop"].known


def test_a_200_ampere_main_on_a_100_ampere_bus_is_a_stop():
    made = plan(with_part(house(1500, decisions={"main_a": 200.0}), "panel", bus_a=100.0))
    assert "service.bus" in finding_ids(made)


def test_an_interrupting_rating_is_asked_for_once_the_fault_current_is_known():
    job = with_parts(house(1500, decisions={"main_a": 200.0}), "service_run", utility_fault_a=9000.0, length_ft=30.0)
    assert "service.aic_unknown" in finding_ids(plan(job))
    assert "service.aic_unknown" not in finding_ids(plan(with_part(job, "panel", aic_a=10_000.0)))
