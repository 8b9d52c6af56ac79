"""The service that is there comes first: its own figures, the verdict, and each stop with a twin one fact away that is silent."""

from __future__ import annotations

import pytest
from builders import K, called_out, finding_ids, house, load, spread
from msgspec.structs import replace

from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Finding
from robust_ledger.plan import plan

# A swap on a sound 100 A service: 1,200 ft² with a range and a dryer, all of it read.
SOUND = {
    "scope": {"service": "kept", "panel_place": "same", "old_boxes": "one", "disconnect": "as_is", "feeder": "as_is"},
    "existing": {
        "meter_label_a": 200.0, "riser_conductors": "2 Cu", "load_conductors": "2 Cu", "insulation_c": 75, "wires": 3, "raceway": "cable",
        "utility_fault_a": 8000.0,
    },
    "old_panel": {"main_a": 100.0},
    "service_run": {"length_ft": 40.0, "riser_ft": 20.0},
    "panel": {"aic_a": 10_000.0, "bus_a": 125.0},
    "equipment": {"spd": True},
    "location": {"room": "outdoors", "weatherproof": True},
    "grounding": {"rods": 2, "intersystem": 3, "gas": "none", "water_bonded": True},
    "fit": {
        "new": {"height_in": 30.0}, "new_bottom_in": 40.0, "handle_in": 28.0,
        "space_width_in": 30.0, "space_depth_in": 36.0, "space_height_in": 78.0,
    },
}  # fmt: skip
LOADS = (load(K.COOKING, "12kW", "range"), load(K.DRYER, "5kW", "dryer"))
AHEAD = {"disconnect_a": 100.0, "disconnect_at": "outdoors", "disconnect_aic_a": 10_000.0}
FED = {
    "conductors": "2 Cu",
    "wires": 4,
    "found_wiring": "ser",
    "found_neutral": "2 Cu",
    "found_ground": "8 Cu",
    "insulation_c": 75,
}


def merged(base: dict, changes: dict) -> dict:
    parts = {name: dict(values) for name, values in base.items()}
    for name, values in changes.items():
        parts[name] = {**parts.get(name, {}), **values} if isinstance(values, dict) else values
    return parts


def kept(*loads, edition: str = "2023", **changes) -> Job:
    """The sound swap with some parts changed."""
    return house(1200, *(loads or LOADS), edition=edition, **merged(SOUND, changes))


def behind(**changes) -> Job:
    """The same behind a 100 A service disconnect that stays, the panel with main lugs."""
    base = {
        "existing": {**AHEAD, **changes.pop("existing", {})},
        "main_feed": {**FED, **changes.pop("main_feed", {})},
        "scope": {"disconnect_kind": "service", **changes.pop("scope", {})},
        "panel": {"first_disconnect": False, "main": "lugs", **changes.pop("panel", {})},
    }
    return kept(**base, **changes)


def finding(job: Job, finding_id: str) -> Finding | None:
    return next((one for one in plan(job).findings if one.id == finding_id), None)


def test_a_sound_service_that_stays_has_nothing_to_say():
    """No finding at all: what is in order is not talked about."""
    assert finding_ids(plan(kept())) == set()
    assert finding_ids(plan(behind())) == set()


# --- its own figures ----------------------------------------------------------------------------------------------------
def test_main_and_conductors_are_those_found_until_the_user_plans_otherwise():
    """By the load, 67 A, a main of 100 A and 4 Cu would do; what is there is 125 A on 2 Cu, and that is what everything uses."""
    made = plan(kept(old_panel={"main_a": 125.0}))
    assert made.service.main.value == 125 and made.service.conductors.value == "2 Cu"
    assert made.service.conductors.id == "service.conductors.there"
    assert made.service.gec.value == "6 Cu, or 8 Cu in conduit" and made.picture is not None
    drawn = [line.text for node in made.one_line for line in (*node.lines, *node.feed)]
    assert "125 A, main breaker" in drawn and "2 × 2 Cu, as found" in drawn
    planned = plan(kept(old_panel={"main_a": 125.0}, decisions={"main_a": 100.0}))
    assert planned.service.main.value == 100
    renewed = plan(kept(scope={"renews": ("riser_conductors", "load_conductors")}))
    assert renewed.service.conductors.value == "2 Al", "new ones are sized, 83 A: 2 Al at 90"


def test_the_solar_rule_and_the_fault_current_use_what_is_there():
    """100 + 1.25 × 40 = 150 = 1.2 × 125. Fault: 8,000 A over 40 ft of 2 Cu (Z = √(0.194² + 0.045²) = 0.1991): f = 0.5311 → 5,225 A."""
    made = plan(kept(equipment={"inverter_a": 40.0, "inverter_opposite": True}))
    assert made.entries["service.solar_bus"].value == 150 and "service.solar" not in finding_ids(made)
    assert made.service.figures.fault_panel.amount == pytest.approx(
        8000 / (1 + 2 * 8000 * 0.19915 * 0.040 / 240), rel=2e-3
    )
    assert "service.solar" in finding_ids(plan(kept(equipment={"inverter_a": 41.0, "inverter_opposite": True})))
    unsaid = kept(equipment={"inverter_a": 20.0})
    assert "service.solar" not in finding_ids(plan(unsaid)), "100 + 25 = 125, the bus itself"
    assert "service.solar" in finding_ids(plan(kept(equipment={"inverter_a": 21.0}))), (
        "which end is not entered: no 120%"
    )


# --- the verdict --------------------------------------------------------------------------------------------------------
CHARGER = load(K.EV_CHARGER, "48A@240", "charger", when="added")
KILN = load(K.APPLIANCE, "12kW", "kiln", when="added")


def test_a_service_that_does_not_carry_the_load_is_a_stop_with_ways_out():
    """3,600 + 4,500 + 12,000 + 5,000 + 12,000 + 11,520 = 48,620; 10,000 + 40% of 38,620 = 25,448 VA = 106 A on 100 A."""
    made = finding(kept(*LOADS, KILN, CHARGER), "service.existing_small")
    assert made is not None and made.severity == "STOP"
    assert made.title == "Existing service 100 A does not carry 106 A (optional calculation)"
    assert "Upgrade the service to 110 A." in made.remedy
    assert "Or leave out charger: 87 A." in made.remedy
    assert finding(kept(*LOADS, CHARGER), "service.existing_small") is None
    chosen = plan(kept(*LOADS, KILN, CHARGER, decisions={"main_a": 125.0}))
    assert "service.existing_small" not in finding_ids(chosen), "the user plans otherwise"
    assert "service.kept_main" in finding_ids(chosen), "and that is more than the service that stays"


def test_the_verdict_names_what_binds():
    """Main and conductors would do; the meter socket's 60 A do not carry 67 A."""
    made = finding(kept(existing={"meter_label_a": 60.0}), "service.existing_small")
    assert (
        made is not None and "Existing service 60 A does not carry 67 A" in made.title and "(meter socket)" in made.text
    )
    replaced = kept(existing={"meter_label_a": 60.0}, decisions={"meter_replaced": True})
    assert finding(replaced, "service.existing_small") is None


def test_energy_management_is_a_way_out_with_its_set_point():
    """Without the charger 37,100 in the block: 10,000 + 40% of 27,100 = 20,840 VA; 24,000 − 20,840 = 3,160 ÷ 1.25 ÷ 240 = 10.5: too
    little for a charger of 48 A (a quarter is 12). Without kiln and charger there is room."""
    made = finding(kept(*LOADS, KILN, CHARGER), "service.existing_small")
    assert made is not None and "Or hold back" in made.remedy and "by energy management at" in made.remedy


# --- each stop with its twin ----------------------------------------------------------------------------------------------
# (what it is about, the job, the one fact that differs, the finding, its severity)
PAIRS = [
    ("a kept disconnect larger than the bus", behind(), {"existing": {"disconnect_a": 200.0,
     "riser_conductors": "3/0 Cu", "load_conductors": "3/0 Cu"}, "main_feed": {"conductors": "3/0 Cu"}}, "service.kept_bus", "STOP"),
    ("a kept disconnect larger than the feeder behind it", behind(panel={"bus_a": 200.0}), {"main_feed": {"conductors": "8 Cu"}},
     "feeder.panel.wire", "STOP"),
    ("service conductors smaller than the disconnect that protects them", behind(panel={"bus_a": 200.0}),
     {"existing": {"load_conductors": "6 Cu"}}, "service.link:load_conductors", "STOP"),
    ("old main larger than the service conductors", kept(), {"old_panel": {"main_a": 150.0}}, "service.link:riser_conductors", "STOP"),
    ("conductors not read", kept(), {"existing": {"riser_conductors": "", "load_conductors": "?"}}, "service.kept_conductors", "ASK"),
    ("a service of 60 A whose main is replaced", kept(), {"old_panel": {"main_a": 60.0}}, "service.main_minimum", "FIX"),
    ("a service of 60 A whose disconnect is left alone", behind(), {"existing": {"disconnect_a": 60.0}}, "service.main_minimum", "NOTE"),
    ("a main above the service that stays", kept(), {"decisions": {"main_a": 110.0}}, "service.kept_main", "FIX"),
    ("old main not read", kept(), {"old_panel": {"main_a": None}}, "service.kept_rating:old_main", "ASK"),
    ("old main of no standard rating", kept(), {"old_panel": {"main_a": 95.0}}, "service.kept_rating:old_main", "ASK"),
    ("disconnect not read", behind(), {"existing": {"disconnect_a": None}}, "service.kept_rating:disconnect", "ASK"),
    ("three wires to the inside panel", behind(), {"main_feed": {"wires": 3}}, "feeder.panel.wires", "STOP"),
    ("wires not counted", behind(), {"main_feed": {"wires": None}}, "feeder.panel.wires", "ASK"),
    ("a neutral of the feeder too small", behind(), {"main_feed": {"found_neutral": "12 Cu"}}, "feeder.panel.neutral_small", "FIX"),
    ("an EGC of the feeder too small", behind(), {"main_feed": {"found_ground": "10 Cu"}}, "feeder.panel.ground_small", "FIX"),
    ("an EGC of the feeder not read", behind(), {"main_feed": {"found_ground": ""}}, "feeder.panel.found_unread", "ASK"),
    ("insulation of the feeder not read", behind(main_feed={"conductors": "4 Cu", "found_wiring": "raceway"}), {"main_feed": {"insulation_c": None}},
     "feeder.panel.insulation", "ASK"),  # 85 A and by the 83% rule 100; at 60 °C 70 and 80
    ("a feeder nobody has read", behind(), {"main_feed": {"conductors": ""}}, "feeder.panel.conductors", "ASK"),
    ("disconnect's AIC below the fault current", behind(), {"existing": {"disconnect_aic_a": 5000.0}}, "service.aic_disconnect", "STOP"),
    ("disconnect's AIC not read", behind(), {"existing": {"disconnect_aic_a": None}}, "service.aic_disconnect_unknown", "ASK"),
    ("panel's AIC below the fault current", kept(), {"panel": {"aic_a": 5000.0}}, "service.aic", "STOP"),
    ("fault current not known", kept(), {"existing": {"utility_fault_a": None}}, "service.fault_unknown", "ASK"),
    ("disconnect of unknown kind", behind(), {"scope": {"disconnect_kind": ""}}, "service.disconnect_kind", "ASK"),
    ("disconnect indoors", behind(scope={"disconnect": "new"}), {"existing": {"disconnect_at": "indoors"}}, "service.emergency", "FIX"),
    ("no surge device", kept(), {"equipment": {"spd": False}}, "service.spd", "FIX"),
    ("no surge device on a feeder-supplied panel", behind(), {"equipment": {"spd": None}}, "service.spd", "FIX"),
    ("a type 2 device on the line side", behind(scope={"disconnect_kind": "meter"}, panel={"first_disconnect": True, "main": "breaker"},
     equipment={"spd_at": "disconnect", "spd_type": "1"}), {"equipment": {"spd_type": "2"}}, "service.spd_type", "FIX"),
    ("rings left at a knockout", kept(existing={"raceway": "rmc", "knockouts": "plain"}), {"existing": {"knockouts": "concentric"}},
     "service.knockouts", "FIX"),
    ("knockouts not checked", kept(existing={"raceway": "rmc", "knockouts": "plain"}), {"existing": {"knockouts": ""}},
     "service.knockouts", "ASK"),
    ("a utility that wants bushings anyway", kept(existing={"raceway": "emt", "knockouts": "plain"}), {"utility": {"knockout_bonding": True}},
     "service.knockouts", "FIX"),
    ("line lugs too small", kept(panel={"lugs_most": "2 Cu"}), {"panel": {"lugs_most": "4 Cu"}}, "service.lugs:panel", "FIX"),
    ("line lugs too large", kept(panel={"lugs_least": "2 Cu"}), {"panel": {"lugs_least": "1/0 Cu"}}, "service.lugs:panel", "FIX"),
    ("meter lugs too small", kept(existing={"meter_lugs_most": "2 Cu"}), {"existing": {"meter_lugs_most": "4 Cu"}}, "service.lugs:meter", "FIX"),
    ("neutral lug too small", kept(panel={"bar_most": "2 Cu"}), {"panel": {"bar_most": "4 Cu"}}, "service.lugs:bar", "FIX"),
    ("too little room to bend", kept(panel={"bending_in": 3.5}), {"panel": {"bending_in": 3.0}}, "service.bending", "FIX"),
    ("a two-wire service", kept(), {"existing": {"wires": 2}}, "odd.wires", "FIX"),
    ("a service of no wires", kept(), {"existing": {"wires": 0}}, "odd.wires", "ASK"),
    ("an AIC of 10", kept(), {"panel": {"aic_a": 10.0}}, "odd.aic:panel.aic_a", "ASK"),
    ("8 Cu run open", kept(grounding={"gec_new": False, "gec": "8 Cu", "unspliced": True, "gec_protected": True}),
     {"grounding": {"gec_protected": False}}, "grounding.gec_protected", "FIX"),
    ("8 Cu, conduit not checked", kept(grounding={"gec_new": False, "gec": "8 Cu", "unspliced": True, "gec_protected": True}),
     {"grounding": {"gec_protected": None}}, "grounding.gec_protected", "ASK"),
    ("CSST not checked", kept(grounding={"gas": "bonded", "csst": True}), {"grounding": {"csst": None}}, "grounding.csst", "ASK"),
    ("a concrete electrode nobody looked for, at a new service", kept(scope={"service": "upgraded"}, grounding={"concrete": False}),
     {"grounding": {"concrete": None}}, "grounding.concrete", "ASK"),
    ("the utility's drop, at a new service", kept(scope={"service": "upgraded"}, existing={"drop_a": 100.0}), {"existing": {"drop_a": None}},
     "service.utility_drop", "ASK"),
]  # fmt: skip


@pytest.mark.parametrize(("about", "job", "fact", "finding_id", "severity"), PAIRS, ids=[pair[0] for pair in PAIRS])
def test_it_fires_and_one_fact_away_it_is_silent(about, job, fact, finding_id, severity):
    assert finding(job, finding_id) is None, f"the twin of {about} is in order"
    for part, values in spread(fact).items():
        job = with_part(job, part, **values)
    made = finding(job, finding_id)
    assert made is not None and made.severity == severity
    assert (made.text and made.remedy and made.cites) or finding_id.startswith("odd.")


def test_se_cable_with_a_bare_neutral_is_three_wires():
    """Not counted, and the cable is SE with a bare neutral: that is three. SE with an insulated one has to be counted."""
    assert finding(behind(main_feed={"wires": None, "found_wiring": "se"}), "feeder.panel.wires").severity == "STOP"
    assert finding(behind(main_feed={"wires": None, "found_wiring": "ser"}), "feeder.panel.wires").severity == "ASK"


def test_one_fault_is_said_once():
    """A kept disconnect above the bus is told with the disconnect, not with the main too."""
    job = behind(existing={"disconnect_a": 200.0})
    assert {"service.kept_bus", "service.bus"} & finding_ids(plan(job)) == {"service.kept_bus"}


def test_below_100_amperes_what_is_there_may_be_the_next_size_up():
    """6 Cu at 60 °C carries 55 A: a main of 60 is the next size up, unless the practice is strict or the load is above 55."""
    old = {"riser_conductors": "6 Cu", "load_conductors": "6 Cu", "insulation_c": 60}
    small = kept(load(K.COOKING, "8kW", "range"), existing=old, old_panel={"main_a": 60.0})
    assert "service.link:riser_conductors" not in finding_ids(plan(small))
    strict = with_part(small, "decisions", conductor_rule="strict")
    assert "service.link:riser_conductors" in finding_ids(plan(strict))
    full = kept(load(K.COOKING, "12kW", "range"), existing=old, old_panel={"main_a": 60.0})
    assert plan(full).load.governing.value == 59 and "service.link:riser_conductors" in finding_ids(plan(full))


def test_insulation_is_asked_for_only_where_it_decides():
    """4 Cu at 75 °C: 85 A, by the 83% rule 100 A. At 60 °C 70 A: 83 are missing. 2 Cu at 60 °C still carries 95 A."""
    asked = "service.insulation:riser_conductors"
    thin = {"riser_conductors": "4 Cu", "load_conductors": "4 Cu", "insulation_c": None}
    assert finding(kept(existing=thin), asked) is not None
    assert finding(kept(existing={**thin, "insulation_c": 75}), asked) is None
    assert finding(kept(existing={**thin, "riser_conductors": "2 Cu"}), asked) is None
    assert finding(kept(existing={**thin, "insulation_c": 60}), "service.link:riser_conductors") is not None


# --- unknown stays unknown ------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("changes", "entry", "why"),
    [
        ({"old_panel": {"main_a": None}}, "service.main", "old main as found, to be read"),
        ({"old_panel": {"main_a": 95.0}}, "service.main", "95 A is not a standard size"),
        (
            {"existing": {"riser_conductors": "?", "load_conductors": ""}},
            "service.conductors.there",
            "size and metal, to be read",
        ),
        ({"existing": {"riser_conductors": "", "load_conductors": ""}}, "service.gec", "size and metal, to be read"),
        (
            {"existing": {"utility_fault_a": None}},
            "service.fault_panel",
            "the utility's figure, or the transformer's kVA and %Z",
        ),
    ],
)
def test_what_was_not_read_is_no_smaller_figure(changes, entry, why):
    made = plan(kept(**changes))
    assert made.entries[entry].value is None and why in made.entries[entry].why_unknown


# --- series ratings, the three kinds, editions ------------------------------------------------------------------------------
def test_a_series_rating_by_label_counts_behind_the_device_it_is_marked_with():
    """5,700 A and more at the panel: 5,000 alone are too little, 22,000 in series with the disconnect ahead are enough."""
    low = behind(panel={"aic_a": 5000.0})
    assert "service.aic" in finding_ids(plan(low))
    assert "service.aic" not in finding_ids(plan(with_part(low, "panel", series_aic_a=22_000.0)))
    alone = kept(panel={"aic_a": 5000.0, "series_aic_a": 22_000.0})
    assert "service.aic" in finding_ids(plan(alone)), "with nothing ahead there is no series"


@pytest.mark.parametrize(
    ("fault_a", "words"),
    [(9_000, "10 kA"), (15_000, "22 kA"), (30_000, "42 kA"), (60_000, "65 kA"), (80_000, "more than 65 kA")],
)
def test_the_remedy_names_the_next_rating_that_is_made(fault_a, words):
    made = finding(
        kept(existing={"utility_fault_a": float(fault_a)}, panel={"aic_a": 1000.0}, service_run={"length_ft": 0.1}),
        "service.aic",
    )
    assert made is not None and f"devices of {words} AIC or more" in made.remedy


@pytest.mark.parametrize(
    ("kind", "bonded_at", "wires", "label"),
    [
        ("service", "disconnect", 4, ("EMERGENCY DISCONNECT", "SERVICE DISCONNECT")),
        ("meter", "panel", 3, ("EMERGENCY DISCONNECT", "METER DISCONNECT", "NOT SERVICE EQUIPMENT")),
        ("supply", "panel", 3, ("EMERGENCY DISCONNECT", "NOT SERVICE EQUIPMENT")),
    ],
)
def test_the_three_lawful_kinds_of_emergency_disconnect(kind, bonded_at, wires, label):
    """With the latter two the panel stays the service equipment: bond there, three wires to it, old three-wire circuits lawful."""
    first = kind != "service"
    job = behind(
        scope={"disconnect": "new", "disconnect_kind": kind},
        panel={"first_disconnect": first, "main": "breaker"},
        main_feed={"wires": 3, "conductors": ""},
    )
    made = plan(job)
    assert made.service.emergency_label == label
    assert made.entries["service.emergency"].value == "required, provided"
    nodes = {node.key: node for node in made.one_line}
    assert [key for key, node in nodes.items() if node.bond == "in"] == [bonded_at]
    assert nodes["panel"].wires == wires and not {"service.bond_twice", "service.bond_nowhere"} & finding_ids(made)
    dryer = plan(called_out(job, "1,3 30/2 10 dryer se bare-n"))
    old = next(f for f in dryer.findings if f.id == "branch.bare_neutral:tag:1")
    assert (old.severity == "NOTE") is first


@pytest.mark.parametrize(
    ("edition", "kept_panel", "fed_panel"), [("2017", False, False), ("2020", True, False), ("2023", True, True)]
)
def test_surge_protection_by_edition(edition, kept_panel, fed_panel):
    """230.67 on replacement of the service equipment from 2020; 215.18 for a panel on a feeder from 2023."""
    alone = kept(edition=edition, equipment={"spd": None})
    assert ("service.spd" in finding_ids(plan(alone))) is kept_panel
    fed = with_part(with_part(behind(), "equipment", spd=None), "scope", disconnect="as_is")
    assert ("service.spd" in finding_ids(plan(replace(fed, edition=edition)))) is fed_panel


def test_83_percent_on_208_volts_is_for_feeders_only():
    """2/0 Cu for 200 A by 83% at 120/240 V. From a wye the service takes the whole 200 A (3/0), the feeder inside still 83%."""
    job = house(1500, decisions={"main_a": 200.0, "metal": "cu", "conductor_rule": "dwelling"}, panel={"bus_a": 200.0})
    wye = house(
        1500,
        load(K.APPLIANCE, "35kW", "kiln"),
        decisions={"main_a": 200.0, "metal": "cu", "load_method": "standard"},
        dwelling={"supply": "208Y/120"},
        existing={"disconnect_at": "outdoors"},
        scope={"service": "upgraded", "disconnect": "new", "disconnect_kind": "service"},
    )
    assert plan(job).service.conductors.value == "2/0 Cu"
    made = plan(wye)
    assert made.service.conductors.value == "3/0 Cu", "39,575 VA ÷ 208 V = 190 A: 200 A at 75 °C"
    assert made.entries["feeder.panel.conductors"].value == "2/0 Cu"


# --- what to do, with figures -------------------------------------------------------------------------------------------
WAYS = [
    (kept(existing={"meter_label_a": None}, decisions={"main_a": 60.0}), "service.main_small", "Choose 70 A, or take 7 A of load out."),
    (kept(equipment={"inverter_a": 60.0, "inverter_opposite": True}), "service.solar",
     "A main of 70 A or less; an inverter of 40 A or less; a bus of 146 A or more; or a connection ahead of the main."),
    (kept(existing={"load_conductors": "4 Al"}), "service.link:load_conductors", "Replace it (mark it new), or take a main of 60 A or less."),
    (kept(grounding={"rod_spacing_ft": 4.0}), "grounding.spacing", "Drive a third rod 6 ft or more from both, and bond it to them."),
    (kept(grounding={"gec_new": False, "gec": "10 Cu", "unspliced": True}), "grounding.gec",
     "Run a new one of 6 Cu, or 8 Cu in conduit in one piece, and mark it new."),
    (kept(grounding={"intersystem": 1}), "grounding.intersystem", "Plan an IBT with 3 terminals or more outside, at the meter or the disconnect."),
    (kept(fit={"space_width_in": 26.0}), "fit.space_width_in", "Clear it to 30 in wide, or choose another place."),
    (kept(fit={"meter_in": 80.0, "meter_low_in": 48.0, "meter_high_in": 72.0}), "fit.meter",
     "Put its center between 48 and 72 in, or have the utility agree."),
    (house(1500, scope="upgrade", overhead={"over": "drive", "span_ft": 10.5}), "overhead.span_ft",
     "Raise it by 1.5 ft: a higher attachment or mast, or have the utility attach elsewhere."),
    (house(1500, *LOADS, sub_panel={"breaker_a": 60.0, "load_a": 70.0}), "feeder.sub.load",
     "A breaker of 70 A with its feeder, or no more than 60 A of load."),
]  # fmt: skip


@pytest.mark.parametrize(("job", "finding_id", "remedy"), WAYS, ids=[way[1] for way in WAYS])
def test_a_remedy_says_what_an_electrician_would_do(job, finding_id, remedy):
    made = finding(job, finding_id)
    assert made is not None and made.remedy == remedy
