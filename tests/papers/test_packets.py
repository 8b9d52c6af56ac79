"""Every sheet with what it must have and what does not belong on it; packets with their contents; both papers; nothing leaves its page."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from builders import called_out, house
from msgspec.structs import replace
from pypdf import PdfReader

from robust_ledger.changeover.record import measured, signed, ticked
from robust_ledger.cli import main
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.parts.record import Volts
from robust_ledger.papers.cut import stock
from robust_ledger.papers.packet import PACKETS, all_sheets, sheets_of, write_bound, write_sheet
from robust_ledger.papers.sheets.directory import code_text
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")
MADE = plan(DEMO)
BY_NAME = {one.name: one for one in all_sheets()}


def text_of(path) -> str:
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(path).pages)


# What each sheet must have, and what does not belong on it.
SHEETS = {
    "facts": (["1,720 ft²", "150 A", "Optional calculation [220.82]", "2026-1183", "Ground rods to drive"], ["STOP Tag", "verify"]),
    "load": (["Optional calculation [220.82]", "1,720 ft²", "XHHW-2", "34,317 VA", "1-1/4 in"], ["verify", "What if", "Findings", "signature"]),
    "one-line": (["Utility", "N–G BONDED HERE", "GEC to the ground rods 6 Cu", "AIC 10,000 A", "SPD type 1", "1-1/4 in rigid"], ["existing link"]),
    "material": (["filler plates", "ground rods", "2/0 Al, black", "weatherhead to meter", "With 5% waste", "splice connectors"], ["verify"]),
    "labels": (["EMERGENCY DISCONNECT", "SERVICE DISCONNECT", "SURGE PROTECTIVE DEVICE", "FAULT CURRENT 5,657 A"], ["NOT SERVICE EQUIPMENT"]),
    "notice": (["The power is off on 2026-12-08", "back by 9:00 pm", "refrigerator", "Medical devices", "portable power", "911"], ["VA", "lbf"]),
    "record": (["Proven dead: open", "Termination", "180 lbf·in *", "25 lbf·in", "None measured yet"], ["Customer notice"]),
    "letter": (["What was done", "Not part of this work", "Once a month", "Press the test button", "vehicle charger", "Our practice"], ["verify"]),
    "checklist": (["bonding screw or strap IN", "neutral floats", "T250.66", "110.26(A)", "Still to be put right", "Holds not"], ["verify"]),
}  # fmt: skip


@pytest.mark.parametrize("name", SHEETS)
def test_what_a_sheet_must_have_and_what_is_not_on_it(name, tmp_path):
    text = text_of(write_sheet(BY_NAME[name], MADE, tmp_path / "a.pdf"))
    must, never = SHEETS[name]
    assert [words for words in must if words not in text] == []
    assert [words for words in never if words in text] == []


def test_the_load_calculation_is_one_page_however_many_loads(tmp_path):
    """A hundred loads: it is made smaller and stays one page."""
    many = replace(
        DEMO, loads=tuple(replace(DEMO.loads[n % len(DEMO.loads)], id=f"l{n}", name=f"load {n}") for n in range(100))
    )
    for job in (DEMO, many, house(None)):
        path = write_sheet(
            BY_NAME["load"], plan(with_part(job, "decisions", load_method="standard")), tmp_path / "a.pdf"
        )
        assert len(PdfReader(path).pages) == 1


def test_the_record_shows_signatures_readings_and_what_was_passed_with_open_items(tmp_path):
    from datetime import datetime

    at = datetime.fromisoformat("2026-12-08T11:35:00-07:00")
    job = called_out(house(1500), "1 20 12 hall")
    job = with_part(job, "scope", service="kept", panel_place="same")
    for key in ("tester1_before", "tester1_after"):
        job = ticked(job, "dead", key, "121.4")
    job = signed(job, plan(job).changeover, "dead", "Marta", at, "second tester on its way")
    job = measured(
        job,
        Volts(point="panel", at=at.isoformat(), leg_to_leg=240, a_to_neutral=90, b_to_neutral=150, neutral_to_ground=4),
    )
    text = text_of(write_sheet(BY_NAME["record"], plan(job), tmp_path / "a.pdf"))
    assert "Proven dead: PASSED WITH OPEN ITEMS by Marta, Dec 8, 11:35 am, because second tester on its way" in text
    assert "The neutral is open or loose" in text
    stream = PdfReader(tmp_path / "a.pdf").pages[0].get_contents().get_data()
    assert b".639216 .137255 .121569 rg" in stream, "in red"


@pytest.mark.parametrize("packet", PACKETS)
@pytest.mark.parametrize("page", ["letter", "a4"])
def test_a_packet_is_one_file_with_its_contents_on_either_paper(packet, page, tmp_path):
    made = plan(with_part(DEMO, "stock", page=page))
    reader = PdfReader(write_bound(packet, made, tmp_path / "p.pdf"))
    width, height = (612, 792) if page == "letter" else (595.27, 841.89)
    assert all(
        abs(float(one.mediabox.width) - width) < 1 and abs(float(one.mediabox.height) - height) < 1
        for one in reader.pages
    )
    contents = " ".join(reader.pages[0].extract_text().split())
    for sheet in sheets_of(packet):
        number = int(re.search(rf"\. (\d+) {re.escape(sheet.title)}", contents)[1])
        first = reader.pages[number - 1].extract_text()
        assert sheet.title in first and f"page {number}" in first, "the contents lead where they say"
    assert {one.name for packet in PACKETS for one in sheets_of(packet)} == set(BY_NAME), "every sheet is in a packet"


@pytest.mark.parametrize("door", stock()["door"])
def test_the_directory_fits_every_door_and_says_nothing_of_the_customer(door, tmp_path):
    reader = PdfReader(write_sheet(BY_NAME["directory"], plan(with_part(DEMO, "stock", door=door)), tmp_path / "a.pdf"))
    text = text_of(tmp_path / "a.pdf")
    for words in ("Panel directory: main panel", "bus 200 A", "AIC 10,000 A", "120/240 V, 1Ø, 3W", "SPACE",
                  "Service disconnect: the disconnect ahead of the main panel",
                  "emergency disconnect", "2026-12-03", "GF = GFCI"):  # fmt: skip
        assert words in text, words
    assert DEMO.heading.customer not in text and DEMO.heading.permit not in text
    assert len(reader.pages) == 2, "one for each panel"
    size = stock()["door"][door]
    if "width" in size:
        found: list[float] = []

        def seen(text, cm, tm, _font, _size) -> None:
            if "utility supplemental" in text:
                found.append(tm[4] * cm[0] + cm[4])

        reader.pages[0].extract_text(visitor_text=seen)
        left = (612 - 511.2) / 2
        assert found and all(left <= x <= left + size["width"] * 72 for x in found), "within its cut marks"


def test_a_code_on_the_directory_says_the_same_table(tmp_path):
    """Its squares are those that the text of the table makes; without it there are none."""
    import segno

    made = plan(with_part(DEMO, "stock", qr=True))
    text = code_text(made)
    assert (
        text.splitlines()[:2] == ["main panel, 2026-12-03", "1 utility supplemental heat, 50/2 A"]
        and len(text.splitlines()) < 42
    )
    dark = sum(map(sum, (bytes(row) for row in segno.make_qr(text, error="l").matrix_iter(border=2))))
    painted = {}
    for name, one in (("with", made), ("without", MADE)):
        page = PdfReader(write_sheet(BY_NAME["directory"], one, tmp_path / f"{name}.pdf")).pages[0]
        painted[name] = page.get_contents().get_data().count(b" re f")
    assert painted["with"] - painted["without"] == dark


@pytest.mark.parametrize("kind", ["30-up", "80-up"])
def test_labels_stand_where_the_stock_has_them(kind, tmp_path):
    """The first label of the sheet after the test print: at the left and top of the first label of the stock."""
    of = stock()["labels"][kind]
    reader = PdfReader(
        write_sheet(BY_NAME["tags"], plan(with_part(DEMO, "stock", label_stock=kind)), tmp_path / "a.pdf")
    )
    assert "Print at 100%" in reader.pages[0].extract_text() and "range" not in reader.pages[1].extract_text()
    at: list[tuple[float, float]] = []

    def seen(text, cm, tm, _font, _size) -> None:
        if text.strip() == "range":
            at.append((tm[4] * cm[0] + cm[4], tm[5] * cm[3] + cm[5]))

    reader.pages[2].extract_text(visitor_text=seen)
    x, y = at[0]
    assert (
        of["left"] * 72 <= x <= (of["left"] + of["width"]) * 72
        and of["top"] * 72 <= 792 - y <= (of["top"] + of["height"]) * 72
    )
    assert len(at) == 2, "a range has two hots, each with its label"
    every = " ".join(text_of(tmp_path / "a.pdf").split())
    assert every.count("garage receptacles") == 3, "one hot, and the neutral and ground of its breaker"
    assert "sauna heater to 6 and 8, 35/2 A new circuit" in every and DEMO.heading.address not in every


def inside(reader) -> list[str]:
    """Words that stand outside of their page."""
    out = []
    for number, page in enumerate(reader.pages):
        width, height = float(page.mediabox.width), float(page.mediabox.height)

        def seen(text, cm, tm, _font, size, number=number, width=width, height=height) -> None:
            x, y = tm[4] * cm[0] + cm[4], tm[5] * cm[3] + cm[5]
            wide = (
                len(text.strip()) * size * 0.4 * cm[0]
            )  # narrower than any face sets it, so that nothing is missed for being guessed wide
            if text.strip() and not (x >= 0 and x + wide <= width + 1 and 0 <= y <= height):
                out.append(f"{number}: {text.strip()[:40]}")

        page.extract_text(visitor_text=seen)
    return out


LONG = "Wohnzimmersteckdosen und ein sehr langer Name für einen Stromkreis, der kaum auf ein Schild paßt"
NAMES = (LONG, "кухня левая сторона " * 4, "台所の左側のコンセント " * 5)


@pytest.mark.parametrize("job", [
    DEMO,
    house(None),
    called_out(with_part(house(1500), "old_panel", spaces=84), *(f"{n} 20 12 x" for n in range(1, 85))),
], ids=["demo", "empty", "84 circuits"])  # fmt: skip
def test_nothing_leaves_its_page(job, tmp_path):
    """With the longest names in three scripts too."""
    named = (
        tuple(replace(one, feeds=NAMES[n % 3][:90]) for n, one in enumerate(job.circuits))
        if len(job.circuits) > 50
        else job.circuits
    )
    made = plan(with_part(replace(job, circuits=named), "panel", spaces=84 if len(named) > 50 else job.panel.spaces))
    for sheet in all_sheets():
        reader = PdfReader(write_sheet(sheet, made, tmp_path / "a.pdf"))
        assert inside(reader) == [], sheet.name


def test_the_command_writes_one_packet(capsys, tmp_path):
    path = tmp_path / "demo.ledger.json"
    write_job(DEMO, path)
    assert main(["papers", str(path), "--out", str(tmp_path / "out"), "--packet", "permit", "--page", "a4"]) == 0
    assert [one.name for one in (tmp_path / "out").iterdir()] == ["demo-permit.pdf"]
    assert "demo-permit.pdf" in capsys.readouterr().out
    assert main(["papers", str(path), "--out", str(tmp_path / "out"), "--packet", "neighbor"]) == 2


@pytest.mark.parametrize(
    ("kind", "entry"),
    [("service", "service.fault_disconnect"), ("meter", "service.fault_panel")],
)
def test_the_label_at_the_service_equipment_has_its_own_fault_current(kind, entry):
    """Where the first disconnect is, that is: a panel behind it has less. A meter disconnect is none, so there it is the panel's."""
    job = with_part(DEMO, "scope", disconnect="new" if kind else "as_is", disconnect_kind=kind or "service")
    job = with_part(
        with_part(job, "existing", disconnect_at="outdoors" if kind else ""),
        "panel",
        first_disconnect=kind != "service",
    )
    made = plan(job)
    told = [one.lines[0] for one in made.installation.labels if "110.24" in one.where]
    assert told == [f"AVAILABLE FAULT CURRENT {made.entries[entry].amount:,.0f} A"]
    assert made.entries["service.fault_panel"].amount < made.entries["service.fault_meter"].amount


def test_a_split_service_has_a_label_for_each_panel():
    made = plan(read_job(EXAMPLES / "quarry-rise.ledger.json"))
    assert [one.lines[0] for one in made.installation.labels if "110.24" in one.where] == [
        f"AVAILABLE FAULT CURRENT {made.entries[name].amount:,.0f} A"
        for name in ("service.fault_panel", "feeder.panel-2.fault")
    ]


def test_a_cell_too_tall_for_a_page_goes_on_over_pages(tmp_path):
    """A hundred lines in one cell, in every table there is: each sheet is written, and its last line is on it."""
    tall = "x\n" * 98 + "last"
    job = replace(
        DEMO,
        circuits=tuple(replace(one, feeds=tall, room=tall) if one.tag in (1, 6) else one for one in DEMO.circuits),
        loads=tuple(replace(one, room=tall) for one in DEMO.loads),
        defects=tuple(replace(one, what=tall, where=tall, fix=tall) for one in DEMO.defects),
    )
    made = plan(with_part(job, "heading", notes=tall))
    for sheet in all_sheets():
        path = write_sheet(sheet, made, tmp_path / f"{sheet.name}.pdf")
        assert len(PdfReader(path).pages) >= 1
    assert "last" in "".join(page.extract_text() for page in PdfReader(tmp_path / "tags.pdf").pages)
