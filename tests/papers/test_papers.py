"""The papers, read back as text."""

from __future__ import annotations

import pytest
from builders import K, answers, called_out, circuit, house, load
from msgspec.structs import replace
from pypdf import PdfReader

from robust_ledger.job.edits import accept_finding, amend, with_part
from robust_ledger.ledger.text import number_text
from robust_ledger.papers.packet import all_sheets, write_packet, write_sheet
from robust_ledger.plan import plan


def text_of(path) -> str:
    """The text of a PDF, white space folded."""
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(path).pages)


def sheet(job, name: str, folder) -> str:
    one = next(s for s in all_sheets() if s.name == name)
    return text_of(write_sheet(one, plan(job), folder / "sheet.pdf"))


def test_the_directory_names_every_circuit_spare_and_capped_cable(demo, tmp_path):
    made = plan(demo)
    text = sheet(demo, "directory", tmp_path)
    for branch in made.circuits.branches:
        assert branch.directory_text in text, branch.key
    assert "SPACE" in text and "unknown, to be traced" in text and "held for garage vehicle charger" in text
    assert "NOT IN USE, capped: cable behind the panel" in text
    assert (
        "Fed from the disconnect ahead, 150 A · bus 200 A · AIC 10,000 A · 120/240 V, 1Ø" in text
        and "8 Marrow Lane" in text
        and "2026-12-03" in text
    )


def test_the_directory_stands_where_the_schedule_says(demo, tmp_path):
    """Left column, leg, right column: a row of the sheet is a row of the panel."""
    made = plan(demo)
    text = sheet(demo, "directory", tmp_path)
    slots = {slot.space: slot for slot in made.bench.schedule}
    for odd in (13, 15, 21, 35):
        left, right = slots[odd], slots[odd + 1]
        assert f"{odd} {left.text} {left.rating} {left.leg} {right.rating} {right.text} {odd + 1}" in text


def test_the_calculation_sheet_shows_the_open_methods_line_by_line(demo, tmp_path):
    made = plan(demo)
    text = sheet(demo, "calculation", tmp_path)
    for method in made.load.methods.values():
        calculation = method.calculation
        assert calculation.total.text() in text and calculation.amperes.text() in text and method.main.text() in text
        for line in calculation.lines if method.open else ():
            assert line.label in text
            row = [line.label, line.amount, line.factor, number_text(line.result_va, 0)]
            assert " ".join(part for part in row if part) in text, "printed as it stands on the tape"
    assert "Optional calculation [220.82], used, recommended" in text
    assert "Existing dwelling [220.83(B)] not allowed" in text
    for column in made.what_if.columns:
        assert f"{column.title} {column.load.text()} {column.amperes.text()} {column.main.text()}" in text
    assert "holding back vehicle charger" in text and "Local rules" not in text
    assert "used for this job" in text and "for comparison" in text
    for size in ("150 A", "2/0 Al", "2 Al", "6 Cu", "82 A"):
        assert size in text
    for section in ("220.82(B)", "T220.55", "310.12", "250.66", "220.61", "240.6(A)"):
        assert section in text
    assert "Prove the tester on a live source" in text
    assert "half-finished basement" in text and "half-finished" not in sheet(demo, "directory", tmp_path), (
        "a directory has no passing remarks"
    )


def test_the_directory_of_a_wye_says_so(demo, tmp_path):
    text = sheet(with_part(demo, "dwelling", supply="208Y/120"), "directory", tmp_path)
    assert "208Y/120 V, 208Y/120 V, 1Ø, 3W" in text


def test_local_rules_are_printed_and_marked(demo, tmp_path):
    job = amend(amend(demo, "optional_first_va", 8000, "City 12-3"), "unit_lighting_load", 2, "")
    text = sheet(job, "calculation", tmp_path)
    assert "Optional: first block 10,000 VA [220.82(B)] 8,000 VA City 12-3" in text
    assert "General lighting, per ft² 3 VA/ft² [220.41] 2 VA/ft² 220.41" in text
    assert "City 12-3 (local)" in text and "First 8 kVA" in text


def test_accepted_findings_print_their_reason(demo, tmp_path):
    job = accept_finding(demo, "branch.unknown:tag:25", "traced on the day, owner agrees")
    text = sheet(job, "calculation", tmp_path)
    assert "Accepted: traced on the day, owner agrees" in text
    assert "Pull new 4-wire cable" in text


def test_unknowns_are_printed_as_unknown_with_the_reason(demo, tmp_path):
    text = sheet(with_part(demo, "dwelling", area=None), "calculation", tmp_path)
    assert "Not known: floor area" in text and "?" in text


def test_hostile_descriptions_stay_text(tmp_path):
    feeds = '<b>bold</b> & =1+1 {curly} %s "quoted"'
    job = with_part(house(1500, circuits=(circuit(feeds=feeds),)), "heading", title="<para>& Co", customer="</para>")
    text = sheet(job, "directory", tmp_path)
    assert "<b>bold</b> & =1+1 {curly} %s" in text and "<para>& Co" in text
    assert "<para>& Co" in sheet(job, "calculation", tmp_path)


def test_a_large_panel_with_tandems_prints_on(tmp_path):
    job = called_out(house(1500), *(f"- 20 12 room number {n}" for n in range(1, 95)))
    job = with_part(job, "panel", spaces=84, tandem_spaces=tuple(range(61, 85)))
    text = sheet(job, "directory", tmp_path)
    for n in range(1, 95):
        assert f"room number {n}" in text


def test_circuits_without_a_space_are_on_the_directory_all_the_same(tmp_path):
    job = with_part(called_out(house(1500), "1 20 12 one", "3 20 12 two", "5 20 12 three"), "panel", spaces=2)
    assert "No space in panel: tag 3, three" in sheet(job, "directory", tmp_path)


UNREAD = "to be read: service-entrance conductors (line side), meter socket, meter-to-panel conductors"


@pytest.mark.parametrize(
    ("job", "directory", "calculation", "service"),
    [
        (
            house(None),
            ["the address", "the date", "the electrician", "circuits"],
            ["the address", "the date", "the electrician", "floor area"],
            ["the address", "the date", "the electrician", "floor area", "the scope", UNREAD],
        ),
        (
            house(1500, load(K.DRYER, "5kW"), circuits=(circuit(feeds=""),)),
            ["the address", "the date", "the electrician", "what tag 1 feeds"],
            ["the address", "the date", "the electrician"],
            ["the address", "the date", "the electrician", "the scope", UNREAD],
        ),
    ],
)
def test_what_is_missing_for_a_sheet(job, directory, calculation, service):
    made = plan(job)
    found = {sheet.name: sheet.missing(made) for sheet in all_sheets()}
    told = {
        "directory": directory, "calculation": calculation, "service": service, "tags": [] if job.circuits else ["circuits"],
        "changes": ["the reach of 1 wires"] if job.circuits else ["circuits"],
    }  # fmt: skip
    assert {name: found[name] for name in told} == told


def test_the_same_job_gives_the_same_bytes_and_fonts_are_inside(demo, tmp_path):
    first, second = (write_packet(plan(demo), tmp_path / name, "x") for name in ("a", "b"))
    for one, other in zip(first, second, strict=True):
        assert one.read_bytes() == other.read_bytes()
    fonts = {
        font["/BaseFont"]
        for page in PdfReader(first[0]).pages
        for font in (f.get_object() for f in page["/Resources"]["/Font"].values())
    }
    assert any("B612" in font for font in fonts)


def test_the_service_sheet_holds_drawings_both_practices_and_conventions(demo, tmp_path):
    text = sheet(demo, "service", tmp_path)
    for words in (
        "Scope: service upgraded, panel where it was, disconnect added or replaced (service disconnect).",
        "N–G BONDED HERE: bonding screw/strap IN",
        "Bonding screw/strap REMOVED; neutrals and grounds separate",
        "Every existing link is good for a main of 150 A. Limited to 150 A by the meter socket.",
        "Ground rods to drive",
        "The panel's bottom may be from 24 in (your minimum) to 41 in (by the ceiling). Taken: 31 in.",
        "Straps on the riser",
        "Defects found; for this job: scope only",
        "A (black) on the left main lug, B (red) on the right",
        "stay live until the utility has disconnected them",
    ):
        assert words in text, words
    swap = replace(demo, scope=answers("swap"))
    assert "Straps on the riser" not in sheet(swap, "service", tmp_path)


def test_the_service_sheet_of_an_empty_job_says_what_is_not_known(tmp_path):
    text = sheet(house(None), "service", tmp_path)
    assert "The main is not known: floor area." in text and "not known: height of the new enclosure" in text


def test_the_tag_sheet_has_a_label_for_every_tag_capped_and_unknown_too(demo, tmp_path):
    text = sheet(demo, "tags", tmp_path)
    for words in (
        "NOT IN USE, capped: cable behind the panel",
        "unknown, to be traced",
        "from space 1, 3",
        "with tag 7",
        "white-hot",
        "from no space",
    ):
        assert words in text, words
    assert "No circuit has been called out yet." in sheet(house(1500), "tags", tmp_path)
    hundred = house(1500, circuits=tuple(circuit(n, feeds=f"room {n} " * 9) for n in range(1, 101)))
    assert "room 100" in sheet(hundred, "tags", tmp_path)


def test_the_change_list_says_where_each_tag_goes_and_how_its_wire_comes_there(demo, tmp_path):
    made = plan(demo)
    text = sheet(demo, "changes", tmp_path)
    for change in made.bench.changes:
        held = made.branch(str(change.key)).origin == "future"
        assert held or (change.text in text and change.new in text)
    assert "held for" not in text, "a space that is held is no cable to land"
    for words in (
        "one two-pole breaker with its partner",
        "neutral to the breaker",
        "connector for two 14 AWG; box: 4 x 1-1/2 in octagonal",
        "[ ]",
        "12 Cu",
    ):
        assert words in text, words
    short = next(one for one in made.bench.changes if " short: " in one.reach)
    assert short.reach in text and "15 splices in this layout" in text and "19 left, 18 right" in text


@pytest.mark.parametrize(
    ("style", "said"),
    [("odd_right", "even on the left, odd on the right"), ("down", "down the left side, then down the right")],
)
def test_the_directory_is_numbered_as_the_panel_is(demo, tmp_path, style, said):
    text = sheet(with_part(demo, "panel", numbering=style), "directory", tmp_path)
    assert said in text


def test_a_stop_that_is_open_stands_on_every_sheet(demo, small, tmp_path):
    """The demo's bare neutral: a banner on all of them; accepted with a reason it goes, and the cottage never had one."""
    made = plan(demo)
    accepted = replace(
        demo,
        decisions=replace(demo.decisions, accepted={"branch.bare_neutral:tag:2": "cable pulled, seen by inspector"}),
    )
    for name in [one.name for one in all_sheets()]:
        assert "STOP open, not for work: Tag 2 has a bare neutral." in sheet(demo, name, tmp_path), name
        assert "STOP open" not in sheet(accepted, name, tmp_path) and "STOP open" not in sheet(small, name, tmp_path)
    assert sum(f.severity == "STOP" for f in made.findings) == 1


def test_the_label_of_the_emergency_disconnect_is_printed_by_its_kind(demo, tmp_path):
    assert "EMERGENCY DISCONNECT SERVICE DISCONNECT" in sheet(demo, "service", tmp_path)
    meter = with_part(with_part(demo, "scope", disconnect_kind="meter"), "panel", first_disconnect=True)
    assert "EMERGENCY DISCONNECT METER DISCONNECT NOT SERVICE EQUIPMENT" in sheet(meter, "service", tmp_path)
    inside = with_part(demo, "existing", disconnect_at="indoors")
    assert "EMERGENCY DISCONNECT SERVICE" not in sheet(inside, "service", tmp_path)


def test_the_sheet_says_which_practice_was_used(demo, tmp_path):
    text = sheet(replace(demo, scope=answers("swap")), "calculation", tmp_path)
    assert "Practice: part (B): heating or cooling is added; the larger counts" in text
