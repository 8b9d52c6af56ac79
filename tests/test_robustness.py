"""Whatever a job holds, the plan answers; whatever is shipped is complete."""

from __future__ import annotations

import re
import types
import typing
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest
from builders import K, called_out, finding_ids, house, load, spread
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import NODEFAULT
from msgspec.structs import fields, replace

from robust_ledger.codebook.local import AMENDABLE
from robust_ledger.drawing.svg import svg_text
from robust_ledger.exchange.plan_json import plan_text
from robust_ledger.job.edits import accept_finding, place, with_part
from robust_ledger.job.files import read_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.changes import CircuitChange
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.job.parts.conventions import Conventions
from robust_ledger.job.parts.defects import Caution, Defect
from robust_ledger.job.parts.equipment import Equipment
from robust_ledger.job.parts.fit import Fit
from robust_ledger.job.parts.grounding import Grounding
from robust_ledger.job.parts.house import LoadKind, When
from robust_ledger.job.parts.location import Location
from robust_ledger.job.parts.overhead import Overhead
from robust_ledger.job.parts.panels import Interior
from robust_ledger.job.upgrades import ANSWERS
from robust_ledger.ledger.editions import EDITIONS
from robust_ledger.measure.simulate.basis import wanted_of
from robust_ledger.panel.request import arrange
from robust_ledger.papers.drawings import drawings_of, scene_of
from robust_ledger.plan import plan

ROOT = Path(__file__).parents[1]
ODD = st.one_of(st.none(), st.sampled_from([0.0, -1.0, 0.5, 15.0, 20.0, 22.0, 240.0, 1e7]))

LOADS = st.builds(
    lambda n, kind, amount, unit, volts, when, flag, hp, mca, controls: {
        "id": f"load-{n}",
        "name": f"load {n}",
        "kind": kind,
        "nameplate": {"amount": amount, "unit": unit, "volts": volts},
        "when": when,
        "uses_neutral": flag,
        "is_motor": flag,
        "interlocked": flag,
        "motor_hp": hp,
        "mca_a": mca,
        "mocp_a": mca,
        "controls": controls,
        "managed": flag,
    },
    st.integers(0, 9),
    st.sampled_from(list(LoadKind)),
    ODD,
    st.sampled_from(["VA", "kW", "A"]),
    st.sampled_from([0.0, 115.0, 120.0, 230.0, 240.0, -5.0]),
    st.sampled_from(list(When)),
    st.booleans(),
    ODD,
    ODD,
    st.integers(-1, 9),
)
CIRCUITS = st.builds(
    lambda tag, spaces, amps, poles, gauge, metal, feeds, marks, mate, ids, side, inches: {
        "tag": tag,
        "spaces": spaces,
        "breaker_a": amps,
        "poles": poles,
        "gauge": gauge,
        "metal": metal,
        "feeds": feeds,
        "marks": marks,
        "shares_neutral_with": mate,
        "load_ids": ids,
        "enters": side,
        "free_in": inches,
        "enters_at_in": inches if poles == 1 else None,
        "slack_in": inches,
    },
    st.integers(1, 12),
    st.lists(st.sampled_from(["1", "3", "4", "19a", "19b", "99", "0", "x", ""]), max_size=3),
    ODD,
    st.sampled_from([1, 2]),
    st.sampled_from([None, "14", "12", "8", "4/0", "13", "banana", ""]),
    st.sampled_from(["cu", "al"]),
    st.sampled_from(
        ["", "kitchen", "=1+1", "<b>", "furnace and den lights", "range", "smoke alarms", "bathroom receptacles"]
    ),
    st.lists(st.sampled_from(list(Mark)), max_size=3),
    st.one_of(st.none(), st.integers(0, 13)),
    st.lists(st.sampled_from(["load-1", "load-2", "ghost"]), max_size=2),
    st.sampled_from(["", "top", "bottom", "left", "right", "back"]),
    ODD,
)
LOCAL = st.builds(
    lambda key, value, section: {"key": key, "value": value, "section": section},
    st.sampled_from([*AMENDABLE, "nonsense", "lighting_demand.9.percent"]),
    ODD,
    st.sampled_from(["", "City 1"]),
)
FUTURES = st.builds(
    lambda n, ids, gone, area, amps, reserve: {
        "id": f"f{n}",
        "name": f"future {n}",
        "load_ids": ids,
        "removes": gone,
        "area": area,
        "circuits": [{"name": "spare circuit", "poles": 2, "breaker_a": amps}],
        "small_appliance_circuits": n - 1,
        "reserve": reserve,
    },
    st.integers(0, 3),
    st.lists(st.sampled_from([f"load-{n}" for n in range(10)] + ["ghost"]), max_size=3),
    st.lists(st.sampled_from(["load-1", "load-2", "ghost"]), max_size=2),
    st.sampled_from([0.0, 500.0, -3000.0, 1e7]),
    ODD,
    st.booleans(),
)
MEASURED = st.builds(
    lambda peak, unit, route, days, factor, flag: {
        "peak": peak,
        "peak_unit": unit,
        "route": route,
        "days": days,
        "longest_days": days,
        "coverage": 1.0,
        "power_factor": factor,
        "exports": flag,
        "renewable": flag,
        "seasonal_va": days,
        "missing": ["a day"],
    },
    ODD,
    st.sampled_from(["kW", "A"]),
    st.sampled_from(["year", "thirty_days"]),
    st.sampled_from([0.0, 29.9, 30.0, 365.0]),
    st.sampled_from([0.0, -1.0, 0.9, 1.0, 7.0]),
    st.booleans(),
)
RUNS = st.builds(
    lambda raceway, size, number, nipple: {
        "raceway": raceway,
        "trade_size": size,
        "length_ft": number,
        "utility_fault_a": number,
        "transformer_kva": number,
        "transformer_percent_z": number,
        "nipple": nipple,
        "riser_ft": number,
        "ambient_c": number,
        "rooftop": nipple,
        "sets": {None: None, 0.0: 0, 15.0: 2}.get(number),
        "current_carrying": 5 if nipple else 2,
    },
    st.sampled_from(["cable", "emt", "pvc80"]),
    st.sampled_from(["", "1", "7"]),
    ODD,
    st.booleans(),
)


def any_part(model: type) -> st.SearchStrategy:
    """Any values a part of the document may hold, by the kinds of its fields."""
    made = {}
    hints = typing.get_type_hints(model)
    for field in fields(model)[1:]:  # the first: what another version knows
        name, kind = field.name, hints[field.name]
        kinds = typing.get_args(kind) if typing.get_origin(kind) is types.UnionType else (kind,)
        choices = [st.none()] if type(None) in kinds else []
        for one in kinds:
            if typing.get_origin(one) is typing.Literal:
                choices.append(st.sampled_from(typing.get_args(one)))
            elif isinstance(one, type) and issubclass(one, Model):
                choices.append(any_part(one))
            elif one is bool:
                choices.append(st.booleans())
            elif one is int:
                choices.append(st.sampled_from([-1, 0, 1, 2, 5, 60]))
            elif one is float:
                choices.append(st.sampled_from([0.0, -1.0, 0.5, 15.0, 22.0, 60.0, 100.0, 1e7]))
            elif one is str:
                choices.append(st.sampled_from(["", "6 Cu", "<b>", "x y"]))
        made[name] = (
            st.one_of(choices)
            if choices
            else st.just(field.default_factory() if field.default is NODEFAULT else field.default)
        )
    return st.fixed_dictionaries(made)


SURVEYED = st.fixed_dictionaries(
    {
        "grounding": any_part(Grounding),
        "fit": any_part(Fit),
        "overhead": any_part(Overhead),
        "location": any_part(Location),
        "equipment": any_part(Equipment),
        "conventions": any_part(Conventions),
        "defects": st.lists(any_part(Defect), max_size=3, unique_by=lambda one: one["id"]),
        "cautions": st.lists(any_part(Caution), max_size=2, unique_by=lambda one: one["mark"]),
    }
)
BENCH = st.fixed_dictionaries(
    {
        "interior": any_part(Interior),
        "numbering": st.sampled_from(["odd_left", "odd_right", "down"]),
        "max_circuits": st.sampled_from([None, -1, 0, 3]),
        "neutral_terminals": st.sampled_from([None, 0, 2]),
        "devices": st.sampled_from([(), ("standard 1-pole",), ("dual-function 2-pole", "tandem")]),
        "right_of_old_in": st.sampled_from([0.0, -20.0, 1e6]),
        "tandem_spaces": st.sampled_from([(), (1, 2), (99, -1)]),
    }
)
KEYS = st.sampled_from(["tag:1", "tag:2", "tag:3", "load:load-1", "equip:generator", "nobody"])
CHANGES = st.dictionaries(KEYS, any_part(CircuitChange), max_size=4)
MORE = st.builds(
    lambda rules, futures, measured, scope, setpoint, supply, run, surveyed, new: {
        **surveyed,
        "service_run": run,
        "chain": {
            "replaced": ["disconnect"] if new else [],
            "riser_conductors": run["trade_size"] + " Cu",
            "disconnect_a": run["length_ft"],
            "drop_a": run["length_ft"],
        },
        "local_rules": list({rule["key"]: rule for rule in rules}.values()),
        "futures": list({one["id"]: one for one in futures}.values()),
        "measured": measured,
        "scope": scope,
        "management": {"setpoint_a": setpoint},
        "supply": supply,
    },
    st.lists(LOCAL, max_size=3),
    st.lists(FUTURES, max_size=2),
    st.one_of(st.none(), MEASURED),
    st.sampled_from(list(ANSWERS)),
    ODD,
    st.sampled_from(["120/240", "208Y/120"]),
    RUNS,
    SURVEYED,
    st.booleans(),
)
JOBS = st.builds(
    lambda loads, circuits, area, spaces, main, meter, bus, places, edition, method, first, more, bench, changes, pins: (
        Job.read(
            spread(
                {
                    **more,
                    "edition": edition,
                    "dwelling": {
                        "area": area,
                        "supply": more.pop("supply", "120/240"),
                        "small_appliance_circuits": spaces % 15,
                        "laundry_circuits": 1 - spaces % 3,
                    },
                    "loads": list({one["id"]: one for one in loads}.values()),
                    "circuits": list({one["tag"]: one for one in circuits}.values()),
                    "old_panel": {"spaces": spaces, "meter_label_a": meter, "interior": bench["interior"]},
                    "panel": {
                        **bench,
                        "spaces": spaces,
                        "bus_a": bus or 100,
                        "first_disconnect": first,
                        "main": "breaker" if first else "lugs",
                    },
                    "decisions": {
                        "main_a": main,
                        "placements": places,
                        "load_method": method,
                        "circuits": changes,
                        "pins": pins,
                        "ahj_arc_fault": first,
                        "smoke_practice": "own",
                        "lighting_practice": "apart",
                    },
                }
            )
        )
    ),
    st.lists(LOADS, max_size=8),
    st.lists(CIRCUITS, max_size=10),
    ODD,
    st.integers(1, 42),
    ODD,
    ODD,
    ODD,
    st.dictionaries(
        st.sampled_from(["tag:1", "tag:2", "load:load-1", "nobody"]),
        st.sampled_from(["1", "2", "7a", "x", "50"]),
        max_size=3,
    ),
    st.sampled_from(EDITIONS),
    st.sampled_from(["optional", "standard", "existing", "measured"]),
    st.booleans(),
    MORE,
    BENCH,
    CHANGES,
    st.lists(KEYS, max_size=2),
)


@given(JOBS)
def test_no_document_however_odd_breaks_the_plan(job):
    """The plan answers, is the same twice, says why what is unknown is unknown, and every finding is complete."""
    made = plan(job)
    assert plan_text(made) == plan_text(plan(job))
    for entry in made.all_entries.values():
        assert entry.known or entry.why_unknown, entry.id
        assert entry.value is None or entry.value == entry.value, "never NaN"
    for finding in made.findings:
        assert finding.stage in made.filled and finding.title and finding.text and finding.remedy
    assert len({f.id for f in made.findings}) == len(made.findings), "an acceptance must not cover two findings"
    for circuit in job.circuits:
        assert all(isinstance(words, str) and words for words in made.circuits.effects(circuit.tag))
    for drawing in drawings_of(made):
        ET.fromstring(svg_text(scene_of(drawing, made)))
    if not made.load.chosen.total.known and not job.scope.keeps_service:
        assert made.service.main.value is None or job.decisions.main_a is not None


@given(JOBS)
@settings(max_examples=15)
def test_no_document_however_odd_breaks_arranging(job):
    """An answer or a reason; what it places holds when it is taken, and nothing pinned has moved."""
    made = plan(job)
    answer = arrange(wanted_of(made))
    assert answer.options or answer.conflict or not made.circuits.branches
    for option in answer.options:
        after = plan(place(job, option.placements))
        assert not after.bench.placement.refused and set(option.placements) == set(after.bench.placement.positions)
        for key in set(job.decisions.pins) & set(made.bench.placement.positions):
            assert option.placements[key] == made.bench.placement.positions[key]


SESSION = """
1 20 12 kitchen counter
2 20 12 kitchen and pantry
3 15 14 living room lights
4 15 14 bedroom receptacles and lights
5 20 12 bathroom receptacle
6 20 12 laundry receptacle
7 15 14 gas furnace
8 20 12 dishwasher
9 20 12 window unit
10,12 20/2 12 water heater white-hot
11a 15 14 porch light and doorbell
11b 15 14 attic light
"""


def test_a_whole_session_called_out_is_the_cottage(small):
    """Twelve lines as they were spoken make the circuits of the shipped job, with rooms and loads recognized."""
    bare = replace(small, circuits=())
    lines = [f"{line} top 60in" for line in SESSION.strip().splitlines()]
    assert called_out(bare, *lines).circuits == small.circuits


def test_the_charger_keeps_its_pair_when_one_more_circuit_comes(demo):
    made = plan(called_out(demo, "- 20 12 hot tub pump"))
    assert not made.bench.placement.waiting
    assert made.bench.spaces_left.value == 0
    assert made.bench.placement.positions["load:charger"] == "38"
    tighter = plan(called_out(demo, "- 20 12 hot tub pump", "- 20 12 freezer"))
    assert tighter.bench.placement.waiting == ["load:charger"], "today's circuits go before futures"
    assert "panel.future:load:charger" in finding_ids(tighter) and "panel.full" not in finding_ids(tighter)


def test_every_finding_of_the_demo_can_be_accepted_and_then_the_check_passes(demo):
    for finding in plan(demo).findings:
        demo = accept_finding(demo, finding.id, "discussed")
    assert not [f for f in plan(demo).findings if f.open]
    assert plan(demo).stage_state("pulloff") == "settled"


@pytest.mark.parametrize(
    ("small_appliance", "laundry", "expected"),
    [
        (2, 1, set()),
        (1, 1, {"load.small_appliance_circuits"}),
        (13, 1, {"load.small_appliance_circuits"}),
        (2, 0, {"load.laundry_circuits"}),
    ],
)
def test_odd_counts_of_required_circuits_are_asked_about(small_appliance, laundry, expected):
    job = house(1500, dwelling={"small_appliance_circuits": small_appliance, "laundry_circuits": laundry})
    assert {f for f in finding_ids(plan(job)) if f.endswith("_circuits")} == expected
    general = plan(job).entries["load.standard.general_sum"].amount
    assert general == 4500 + 1500 * max(2, small_appliance) + 1500 * max(1, laundry)


def test_an_accepted_finding_comes_after_all_open_ones(demo):
    worst = plan(demo).findings[0]
    after = plan(accept_finding(demo, worst.id, "agreed with the inspector")).findings
    assert after[-1].id == worst.id and after[0].id != worst.id


def test_reducing_the_load_never_raises_the_main(demo):
    mains = []
    for count in range(len(demo.loads) + 1):
        job = replace(demo, loads=demo.loads[:count])
        mains.append(plan(job).service.main.amount)
    assert mains == sorted(mains)


@pytest.mark.parametrize("method", ["optional", "standard"])
def test_a_what_if_by_hand_the_chosen_method_rules_the_main(demo, method):
    made = plan(with_part(demo, "decisions", load_method=method))
    assert made.load.chosen.method == method
    assert made.service.main.steps[0].value == made.load.calculations[method].amperes.value


def test_two_loads_on_one_circuit_add_up():
    job = called_out(
        house(1500, load(K.APPLIANCE, "800VA@120", "fan"), load(K.APPLIANCE, "700VA@120", "lamp")), "1 20 12 utility"
    )
    both = replace(job.circuits[0], load_ids=("fan", "lamp"))
    entry = plan(replace(job, circuits=(both,))).entries["branch.breaker.tag:1"]
    assert next(s.value for s in entry.steps if s.label == "needed by all its loads") == pytest.approx(12.5)


# --- what is shipped --------------------------------------------------------------------------------------------------
def test_pins_are_plain_and_name_no_place_to_fetch_from():
    lines = (ROOT / "constraints.txt").read_text().split()
    assert len(lines) > 20
    assert all(re.fullmatch(r"[A-Za-z0-9_.-]+==[0-9][A-Za-z0-9.]*", line) for line in lines)


def test_the_readme_leads_to_files_that_exist():
    links = re.findall(r"\]\(([^)#:]+)\)", (ROOT / "README.md").read_text())
    assert len(links) > 10
    for link in links:
        assert (ROOT / link).exists(), link


def test_fonts_come_with_their_license_and_help_with_every_stage():
    assets = ROOT / "src" / "robust_ledger" / "assets"
    assert "SIL OPEN FONT LICENSE" in (assets / "fonts" / "OFL.txt").read_text()
    for stage in plan(Job()).filled:
        text = (assets / "help" / f"{stage}.md").read_text()
        assert text.startswith("# ") and "## Cautions" in text


def test_the_examples_show_only_made_up_and_complete_jobs():
    for path in (ROOT / "examples").glob("*.json"):
        made = plan(read_job(path))
        unknown = {entry.id for entry in made.all_entries.values() if not entry.known}
        assert all(
            one.startswith(
                (
                    "load.measured.",
                    "whatif.future.flat.setpoint",
                    "whatif.after.setpoint",
                    "branch.wire.future",
                    "service.alternative.400.al",
                    "material.cable.",
                    "material.gec",
                    "material.cut.gec",
                    "installation.",
                    "day.torque.",
                    "material.raceway",
                )
            )
            for one in unknown
        )
        assert made.job.measured is None or not any(one.startswith("load.measured") for one in unknown)
        assert made.job.heading.address.endswith("Elderby")


def test_nothing_reaches_for_the_network():
    for path in (ROOT / "src").rglob("*.py"):
        assert not re.search(
            r"^\s*(?:import|from) (?:socket|http|urllib\.request|requests|ssl)\b", path.read_text(), re.M
        ), path
