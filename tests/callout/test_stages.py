"""The line on every stage: what is said of the walk-through, the house, the service and the bench, and orders anywhere."""

from __future__ import annotations

from pathlib import Path

import pytest
from builders import called_out, house
from hypothesis import given, settings
from hypothesis import strategies as st

from robust_ledger.callout.completions import completion, said_on
from robust_ledger.callout.manifest import LINES, stage_named
from robust_ledger.callout.session import replay
from robust_ledger.callout.stages import GRAMMARS, Context, read_line
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.files import read_job
from robust_ledger.job.job import Job, blank_job
from robust_ledger.plan import plan

BOOK = load_codebook("2023")
EXAMPLES = Path(__file__).parents[2] / "examples"
BLANK = blank_job()


def held(job: Job, path: str):
    """A field of a job by its place."""
    value = job
    for name in path.split("."):
        value = getattr(value, name)
    return value


def said(line: str, stage: str = "", job: Job = BLANK) -> Job:
    """The job after a line."""
    spoken = read_line(line, Context(job, BOOK), stage)
    assert spoken.fault is None and not spoken.struck, spoken
    return spoken.edit(job).checked(job)


@pytest.mark.parametrize(
    ("stage", "line", "facts"),
    [
        ("walkthrough", "meter says 150", {"existing.meter_label_a": 150}),
        ("walkthrough", "uh the meter socket is labeled two hundred amps", {"existing.meter_label_a": 200}),
        ("walkthrough", "riser inch and a quarter rigid, 2 copper",
         {"existing.trade_size": "1-1/4", "existing.raceway": "rmc", "existing.riser_conductors": "2 Cu"}),
        ("walkthrough", "riser two inch PVC, 4/0 aluminum",
         {"existing.trade_size": "2", "existing.raceway": "pvc40", "existing.riser_conductors": "4/0 Al"}),
        ("walkthrough", "one rod eight foot, number 8",
         {"grounding.rods": 1, "grounding.rod_length_ft": 8, "grounding.gec": "8 Cu"}),
        ("walkthrough", "water pipe bonded, gas not", {"grounding.water_bonded": True, "grounding.gas": "not_bonded"}),
        ("walkthrough", "gas bonded, water not bonded", {"grounding.water_bonded": False, "grounding.gas": "bonded"}),
        ("walkthrough", "old panel 14 and a half by 26, bottom at 44",
         {"fit.old.width_in": 14.5, "fit.old.height_in": 26, "fit.old_bottom_in": 44}),
        ("walkthrough", "attachment 13 6, over driveway", {"overhead.attachment_ft": 13.5, "overhead.over": "drive"}),
        ("walkthrough", "attached at 13 feet 6 inches, over the street",
         {"overhead.attachment_ft": 13.5, "overhead.over": "road"}),
        ("walkthrough", "ceiling 8 feet", {"fit.ceiling_in": 96}),
        ("walkthrough", "split bus, lower bus from 13", {"old_panel.kind": "split_bus", "old_panel.split_at": 13}),
        ("walkthrough", "panel in the basement, damp wall", {"location.room": "basement", "location.damp": True}),
        ("load", "1720 square feet", {"dwelling.area": 1720, "dwelling.area_unit": "ft2"}),
        ("load", "two kitchen circuits, one laundry circuit",
         {"dwelling.small_appliance_circuits": 2, "dwelling.laundry_circuits": 1}),
        ("service", "aluminum, 200", {"decisions.metal": "al", "decisions.main_a": 200}),
        ("service", "utility says 22 k", {"existing.utility_fault_a": 22_000}),
        ("service", "transformer 25 kVA 1.8", {"existing.transformer_kva": 25, "existing.transformer_percent_z": 1.8}),
        ("service", "45 feet to the panel", {"service_run.length_ft": 45}),
    ],
)  # fmt: skip
def test_facts_of_a_stage(stage, line, facts):
    job = said(line, stage)
    assert {path: held(job, path) for path in facts} == facts
    assert said(line) == job, "without a stage the best one is tried"


@pytest.mark.parametrize(
    ("line", "fields"),
    [
        ("range 11.2 kW kitchen", {"kind": "cooking", "room": "kitchen", "plate": (11.2, "kW", 240)}),
        ("dryer 5400 watts existing", {"kind": "dryer", "plate": (5400, "VA", 240), "when": "existing"}),
        ("charger 48 amps later, garage", {"kind": "ev_charger", "plate": (48, "A", 240), "when": "later", "room": "garage"}),
        ("heat pump MCA 30 MOCP 45", {"kind": "heat_pump", "mca_a": 30, "mocp_a": 45}),
        ("disposal half horse", {"kind": "motor", "name": "disposer", "plate": (0.5, "hp", 120)}),
        ("hot tub 50A@240 outdoors", {"plate": (50, "A", 240), "room": "outdoors"}),
        ("tankless 18 kW", {"kind": "water_heater", "tankless": True}),
        ("welder 50 amps duty cycle 30 percent", {"duty_percent": 30}),
        ("baseboard 2 kW den 3 thermostats", {"kind": "heating", "controls": 3, "room": "den"}),
        ("dishwasher", {"plate": (None, "VA", 120)}),
    ],
)  # fmt: skip
def test_a_load_as_it_is_said(line, fields):
    (load,) = said(line, "load").loads
    plate = load.nameplate
    seen = {"plate": (plate.amount, plate.unit, plate.volts)}
    assert {name: seen.get(name, getattr(load, name, None)) for name in fields} == fields


def test_strips_come_with_their_heat_pump_and_a_load_that_is_listed_is_changed():
    job = said("heat pump MCA 30 MOCP 45 with 9.6 kW strips", "load")
    pump, strips = job.loads
    assert strips.kind == "supplemental_heat" and strips.interlocks_with == pump.id and strips.nameplate.amount == 9.6
    job = said("heat pump 21.5 amps", "load", job)
    assert len(job.loads) == 2 and job.loads[0].nameplate.amount == 21.5 and job.loads[0].mca_a == 30
    assert len(said("another heat pump 18 amps", "load", job).loads) == 3


@pytest.mark.parametrize(
    ("line", "values"),
    [
        ("open splice above furnace, 20 minutes, we do",
         {"kind": "open_splice", "where": "above furnace", "minutes": 20, "who": "us", "in_scope": True}),
        ("box without a cover in the attic, owner", {"kind": "box_no_cover", "where": "in the attic", "who": "owner"}),
        ("dead front missing", {"kind": "cover_off", "where": "", "in_scope": None}),
    ],
)  # fmt: skip
def test_a_defect_as_it_is_noted(line, values):
    (defect,) = said(line, "walkthrough").defects
    assert {name: getattr(defect, name) for name in values} == values


@pytest.mark.parametrize(
    ("stage", "line", "sentence"),
    [
        ("walkthrough", "frobnicate the gizmo", "Nothing of this is understood"),
        ("walkthrough", "riser 13 copper", '"13 Cu" is not a conductor'),
        ("service", "main 190", "190 A is not a standard breaker rating"),
        ("load", "heat pump MCA 60 MOCP 45", "MCA 60 A above MOCP 45 A"),
        ("load", "range 900 kw", "more than a 400 A service"),
        ("load", "welder 50 amps duty cycle 140 percent", "The house cannot hold this"),
        ("bench", "move 99 to 2", "There is no tag 99"),
        ("bench", "move 1 to 91", "There is no space 91"),
        ("bench", "pin everything", "Nothing of this is understood"),
        ("", 'set dwelling.area = "big"', "This cannot be set"),
        ("", "set nothing.at = 1", "a job has no part nothing"),
        ("", "set circuits[77].note = \"x\"", "there is no circuits 77"),
        ("", "set dwelling.area = NaN", "This cannot be set"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_one_sentence(stage, line, sentence):
    job = called_out(house(1500), "1 20 12 hall")
    spoken = read_line(line, Context(job, BOOK), stage)
    assert spoken.edit is None and sentence in spoken.fault.text


@pytest.mark.parametrize(
    ("line", "certainty", "unread"),
    [
        ("meter says 150", "sure", []),
        ("gobbledygook meter says 150", "likely", ["gobbledygook"]),  # marked, and told
        ("gobbledygook meter half says 150", "asked", ["gobbledygook", "half"]),  # a piece of a figure
        ("gobbledygook ground wire is 6 copper", "asked", ["gobbledygook"]),  # a size is never written on "likely"
        ("number six copper to the gobbledygook rod", "asked", ["gobbledygook"]),
        ("gobbledygook", "refused", ["gobbledygook"]),
    ],
)
def test_a_word_nobody_knows_is_marked_and_asked_about_where_it_matters(line, certainty, unread):
    spoken = read_line(line, Context(BLANK, BOOK), "walkthrough")
    assert spoken.certainty == certainty
    assert [line[start:end] for start, end in spoken.struck or spoken.passed] == unread
    if "150" in line:
        assert spoken.edit(BLANK).existing.meter_label_a == 150


@pytest.mark.parametrize(
    ("line", "certainty", "stage"),
    [
        ("7 20 12 den", "sure", "pulloff"),  # typed the terse way it is a circuit everywhere
        ("nineteen sixty two house", "asked", "pulloff"),  # and the year of a house is none
        ("twenty two k is what those breakers are rated", "asked", "service"),
        ("the run is 30 feet", "sure", "service"),
        ("range 11.2 kW kitchen", "sure", "load"),
    ],
)
def test_no_stage_is_changed_in_silence(line, certainty, stage):
    spoken = read_line(line, Context(house(1500), BOOK), "walkthrough")
    assert (spoken.certainty, spoken.stage) == (certainty, stage)


@pytest.mark.parametrize(
    ("line", "asked"),
    [
        ("water heater is gas", "gas? Then it is no electric load"),
        ("gas range", "gas? Then it is no electric load"),
        ("owner might add a hot tub 50 amps", "said as a guess"),
        ("gas furnace half horse", ""),
        ("owner adds a hot tub 50 amps", ""),
    ],
)
def test_what_burns_gas_or_was_guessed_is_no_load_in_silence(line, asked):
    spoken = read_line(line, Context(BLANK, BOOK), "load")
    assert spoken.complete and (asked in "".join(spoken.asks)) and bool(spoken.asks) is bool(asked)


DEMO = plan(read_job(EXAMPLES / "marrow-lane.ledger.json"))


def at_bench(line: str):
    return read_line(line, Context(DEMO.job, DEMO.codebook, DEMO), "bench")


def spaces(job: Job) -> dict[str, str]:
    return {str(key): at for key, at in plan(job).bench.placement.positions.items()}


def test_the_bench_moves_swaps_and_pins_what_is_named():
    before = spaces(DEMO.job)
    moved = spaces(at_bench("move 8 to 21").edit(DEMO.job))
    assert moved["tag:8"] == "21" and moved["tag:10"] == before["tag:8"], "who sat there takes the place it leaves"
    swapped = spaces(at_bench("swap 4 and 19").edit(DEMO.job))
    assert (swapped["tag:4"], swapped["tag:19"]) == (before["tag:19"], before["tag:4"])
    pinned = at_bench("pin the refrigerator").edit(DEMO.job)
    assert [str(key) for key in pinned.decisions.pins] == ["tag:13"]
    near = spaces(at_bench("put the dryer next to the main").edit(DEMO.job))
    assert int(near["tag:2"]) < int(before["tag:2"])
    assert at_bench("pin bedroom").fault.text.startswith('"bedroom" may be tag')
    assert "shares a neutral" in at_bench("swap 3 and 7").fault.text, "pairs are not parted"
    assert at_bench("arrange").order.name == "arrange" and at_bench("arrange all panels").order.about == "all"
    garage = at_bench("move 19 to the garage").edit(DEMO.job)
    assert plan(garage).branch("tag:19").panel == "garage"


@pytest.mark.parametrize(
    ("line", "name", "about"),
    [
        ("find neutral", "find", "neutral"),
        ("why 150", "why", "150"),
        ("undo", "undo", ""),
        ("scratch that", "undo", ""),
        ("go to load", "go", "load"),
        ("go to the old panel", "go", "pulloff"),
    ],
)
def test_orders_are_understood_on_every_stage(line, name, about):
    for stage in ("", *GRAMMARS):
        order = read_line(line, Context(BLANK, BOOK), stage).order
        assert (order.name, order.about) == (name, about)


def test_every_line_of_the_manifest_has_its_readers():
    assert set(LINES) == set(GRAMMARS)
    assert {stage_named(f"{head}:") for line in LINES.values() for head in line.heads} == set(LINES)
    assert stage_named("Load: ") == "load" and stage_named("load") is None and stage_named("attic:") is None


def test_what_can_be_said_is_what_is_understood():
    """Every example that the help shows is read on its stage without a word left over."""
    for stage in ("walkthrough", "service"):
        for line in said_on(stage):
            spoken = read_line(line.replace("…", "x"), Context(BLANK, BOOK), stage)
            assert spoken.complete and not spoken.struck, (stage, line, spoken)
    assert completion("mete", "walkthrough", BLANK) == "r is" and completion("zzz", "walkthrough", BLANK) == ""
    assert completion("dishw", "load", BLANK) == "asher"


WORDS = [
    "7", "20", "12", "9,11", "12-2", "twenty", "two", "hundred", "amp", "pole", "kitchen", "al", "bare", "neutral", "top", "22", "in",
    "mw", "clamp", "?", "-", "tag", "is", "no,", "meter", "riser", "rod", "range", "kw", "main", "move", "to", "swap", "set", "=", "[1]",
    "1/0", "walk:", "and", "a", "half", "1e308", "a-a-a-a", "😀", "\u202e", "½", "²", "9" * 400, "\x00", '"', "'s",
]  # fmt: skip


@settings(max_examples=300, deadline=None)
@given(st.lists(st.sampled_from(WORDS), max_size=14), st.sampled_from(["", *GRAMMARS]))
def test_any_words_whatever_are_a_reading_or_a_sentence(line, stage):
    job = called_out(house(1500), "1 20 12 hall")
    text = " ".join(line)
    spoken = read_line(text, Context(job, BOOK), stage)
    assert spoken.fault is None or spoken.fault.text.endswith((".", "?"))
    assert spoken.fault is None or len(spoken.fault.text) < 400
    after, outcomes = replay([text], job, BOOK, stage)
    assert after == job or (outcomes and not outcomes[0].fault)


@pytest.mark.parametrize(
    ("line", "asked"),
    [
        ("furnace 800 watts", "gas or electric"),
        ("heater 1500 watts", "What kind of heater"),
        ("gas furnace 800 watts", None),
        ("500 watts", "No appliance"),
    ],
)
def test_what_may_be_one_thing_or_another_is_asked(line, asked):
    job = Job()
    made = read_line(line, Context(job, load_codebook(job.edition)), "load")
    assert (made.fault is None) if asked is None else asked in made.fault.text
