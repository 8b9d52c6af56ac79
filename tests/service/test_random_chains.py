"""Three hundred service chains in any combination of answers: bond, wires, drawing, entries, findings and paper say the same."""

from __future__ import annotations

from itertools import product

from builders import finding_ids, house
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader

from robust_ledger.drawing.scene import Words
from robust_ledger.installation.one_line_drawing import one_line_scene
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.papers.packet import all_sheets
from robust_ledger.plan import Plan, plan

CHAINS = st.fixed_dictionaries({
    "scope": st.fixed_dictionaries({
        "service": st.sampled_from(["", "kept", "kept_for_now", "upgraded", "split"]),
        "panel_place": st.sampled_from(["", "same", "moved"]),
        "disconnect": st.sampled_from(["", "as_is", "new"]),
        "disconnect_kind": st.sampled_from(["", "service", "meter", "supply"]),
        "feeder": st.sampled_from(["as_is", "renewed"]),
        "renews": st.sampled_from([(), ("feeder",), ("riser_conductors", "load_conductors"), ("riser",)]),
    }),
    "existing": st.fixed_dictionaries({
        "disconnect_a": st.sampled_from([None, 100.0, 200.0]),
        "disconnect_at": st.sampled_from(["", "outdoors", "indoors"]),
        "riser_conductors": st.sampled_from(["", "?", "4 Cu", "4/0 Al"]),
        "load_conductors": st.sampled_from(["", "4 Cu", "4/0 Al"]),
        "underground": st.booleans(),
        "raceway": st.sampled_from(["", "cable", "rmc"]),
        "meter_label_a": st.sampled_from([None, 100.0, 200.0]),
    }),
    "main_feed": st.fixed_dictionaries({
        "wires": st.sampled_from([None, 0, 3, 4]),
        "found_wiring": st.sampled_from(["", "se", "ser"]),
        "conductors": st.sampled_from(["", "2 Cu", "4/0 Al"]),
    }),
    "old_panel": st.fixed_dictionaries({"main_a": st.sampled_from([None, 60.0, 95.0, 100.0, 200.0])}),
    "panel": st.fixed_dictionaries({"first_disconnect": st.booleans(), "main": st.sampled_from(["breaker", "lugs"])}),
    "sub_panel": st.fixed_dictionaries({
        "breaker_a": st.sampled_from([None, 60.0]),
        "found": st.booleans(),
        "wires": st.sampled_from([None, 3, 4]),
        "metal_path": st.sampled_from([None, True, False]),
        "separate_building": st.booleans(),
        "bonded": st.booleans(),
    }),
    "decisions": st.fixed_dictionaries({
        "main_a": st.sampled_from([None, 100.0, 200.0]),
        "split_mains_a": st.sampled_from([(), (200.0, 150.0)]),
        "conductor_rule": st.sampled_from(["dwelling", "full", "strict"]),
    }),
})  # fmt: skip
BONDED, APART, SUPPLY = "bonded here", "separate: isolated neutral bar, ground bar bonded to can", "no bonding jumper"


def made_of(parts: dict) -> Plan:
    return plan(house(1500, **parts))


def ways(job: Job) -> list[list[str]]:
    """From each panel back to the meter, the places passed."""
    behind = {node.key: node.above for node in plan(job).installation.bonded}
    made = []
    for key in behind:
        way = [key]
        while behind[way[-1]] in behind:
            way.append(behind[way[-1]])
        made.append(way)
    return made


@settings(max_examples=300)
@given(CHAINS)
def test_bond_wires_drawing_and_findings_agree(parts):
    made = made_of(parts)
    job, nodes = made.job, {node.key: node for node in made.one_line}
    said = {place.key: made.entries[f"service.bond.{place.key}"].value for place in made.installation.bonded}
    for way in ways(job):
        if way == ["disconnect"] and job.scope.panel_stays_first:
            continue  # no panel ends there
        bonds = sum(said[key] == BONDED for key in way)
        assert bonds == (2 if way[0] == "sub" and _old_three(job) else 1), (way, said)
    for key, words in said.items():
        assert nodes[key].bond == {BONDED: "in", APART: "out", None: "open"}.get(words, "supply"), key
        assert words in (BONDED, APART, None) or words.startswith(SUPPLY)
        assert nodes[key].wires == (4 if words in (APART, None) else 3), (
            "four wires wherever the bars are apart, three where they are not"
        )
    drawn = [shape.text for shape in one_line_scene(made.one_line, 900, 900).shapes if isinstance(shape, Words)]
    # The words of the bond are broken to the room: their first word is enough to count them.
    assert sum("BONDED" in text for text in drawn) == sum(words == BONDED for words in said.values())
    assert set(nodes) == {"utility", "meter", *said}
    wrong = {node.key for node in made.installation.bonded if not node.bond.right}
    stops = {"service.bond_twice", "service.bond_nowhere"} & finding_ids(made)
    assert bool(stops) is bool({key for key in wrong if key == "panel"})
    for panel in job.panels:
        asked = panel.id == "sub" and _asked(panel)
        assert (f"feeder.{panel.id}.bond" in finding_ids(made)) is (panel.id in wrong and not asked)
    marked = [line.text for node in made.one_line for line in node.lines if line.differs]
    assert len(marked) == len(wrong), "the drawing shows what is right, and marks what is not so now"


def _old_three(job: Job) -> bool:
    """Whether the sub-panel's old three-wire feeder stays."""
    sub = job.panel_of("sub")
    return sub is not None and sub.found and sub.wires == 3 and sub.separate_building and sub.metal_path is False


def _asked(sub: Panel) -> bool:
    """Whether it is open if three wires may stay: then nothing is said of the bond yet."""
    return sub.found and sub.wires == 3 and sub.separate_building and sub.metal_path is None


@settings(max_examples=300)
@given(CHAINS)
def test_what_is_kept_is_judged_by_its_own_rating_and_nothing_is_invented(parts):
    """A service that stays has the rating of a device that was read, or none; every unknown says why."""
    made = made_of(parts)
    job, main = made.job, made.service.main
    if job.scope.keeps_service and job.decisions.main_a is None:
        assert main.value in (None, 60.0, 100.0, 200.0) and main.value != 95.0
        read = {job.old_panel.main_a, job.existing.disconnect_a}
        assert main.value is None or main.value in read
        if made.load.governing.known and main.known and made.load.governing.amount > main.amount:
            assert "service.existing_small" in finding_ids(made)
    for entry in made.entries.values():
        assert entry.known or entry.why_unknown, entry.id
    texts = " ".join(f"{one.title} {one.text} {one.remedy}" for one in made.findings)
    assert "None" not in texts and "nan" not in texts.split()


def test_the_paper_says_what_the_plan_says(tmp_path):
    """Every bond of a dozen chains, in the words of the plan, on the service sheet; and the banner while a STOP is open."""
    sheet = next(one for one in all_sheets() if one.name == "service")
    for number, (kind, first, service) in enumerate(
        product(("service", "meter", "supply"), (True, False), ("kept", "upgraded"))
    ):
        made = made_of({
            "scope": {"service": service, "disconnect": "new", "disconnect_kind": kind},
            "existing": {"disconnect_at": "outdoors", "meter_label_a": 200.0},
            "old_panel": {"main_a": 100.0},
            "panel": {"first_disconnect": first},
        })  # fmt: skip
        path = tmp_path / f"{number}.pdf"
        sheet.write(made, path)
        text = " ".join(" ".join(page.extract_text() for page in PdfReader(path).pages).split())
        for place in made.installation.bonded:
            assert f"Neutral and ground in the {place.title.lower()}" in text
            assert " ".join(str(made.entries[f"service.bond.{place.key}"].value).split()) in text
        for line in made.service.emergency_label:
            assert line in text
        stops = [group.title for group in made.groups if group.severity == "STOP"]
        assert ("STOP open, not for work" in text) is bool(stops)
