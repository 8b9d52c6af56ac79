"""Tables for spreadsheets, both ways: what goes out comes back the same; columns are guessed; bad cells are told, good rows kept."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

import pytest
import xlsxwriter
from builders import house
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from robust_ledger.cli import main
from robust_ledger.exchange.apart import MOST_ROWS
from robust_ledger.exchange.books import TableError, csv_text, read_table, write_book, write_table
from robust_ledger.exchange.cells import guarded, unguarded
from robust_ledger.exchange.tables import TABLES, exported, guessed, imported
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.house import Load
from robust_ledger.job.parts.local import LocalRule
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")


def back(rows, name: str, job):
    """What a table makes of a job, every row of it taken."""
    table = TABLES[name]
    assert guessed(rows[0], table) == rows[0] == list(table.columns)
    taken = imported(rows, rows[0], table, job)
    assert taken.faults == () and taken.good == len(rows) - 1
    return taken.job


@pytest.mark.parametrize("suffix", [".csv", ".xlsx"])
@pytest.mark.parametrize("path", sorted(EXAMPLES.glob("*.ledger.json")), ids=lambda path: path.stem)
def test_circuits_and_loads_come_back_as_they_went(path, suffix, tmp_path):
    job = read_job(path)
    made = plan(job)
    empty = replace(house(1500), circuits=(), loads=(), old_panel=job.old_panel, old_boxes=job.old_boxes)
    for name in ("loads", "circuits"):
        file = write_table(exported(TABLES[name], made), tmp_path / f"{name}{suffix}", name)
        empty = back(read_table(file), name, empty)
    assert (empty.circuits, empty.loads) == (job.circuits, job.loads)


TEXT = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc", "Zl", "Zp"]), max_size=20).map(str.strip)
CIRCUITS = st.builds(
    lambda **values: Circuit.read(values),
    tag=st.integers(1, 60),
    spaces=st.lists(st.sampled_from(["1", "2", "3a", "14"]), max_size=2, unique=True),
    breaker_a=st.none() | st.sampled_from([15.0, 20.0, 37.5]),
    poles=st.sampled_from([1, 2]),
    gauge=st.none() | st.sampled_from(["14", "12", "2/0"]),
    metal=st.sampled_from(["cu", "al"]),
    free_in=st.none() | st.floats(0, 90).map(lambda x: round(x, 3)),
    insulated=st.none() | st.booleans(),
    feeds=st.sampled_from(["", "=1+1", "'quoted", "-20 A", "+x", "@home", "?"]) | TEXT,
    room=TEXT,
    note=TEXT,
    marks=st.lists(st.sampled_from(list(Mark)), unique=True, max_size=3),
    clamp_a=st.none() | st.floats(0, 99).map(lambda x: round(x, 2)),
)


@settings(max_examples=60, deadline=None)
@given(st.lists(CIRCUITS, max_size=6, unique_by=lambda one: one.tag))
def test_any_circuits_come_back(circuits):
    job = replace(house(1500), circuits=tuple(circuits))
    rows = exported(TABLES["circuits"], plan(job))
    assert back(rows, "circuits", replace(job, circuits=())).circuits == job.circuits


@example("=")
@given(st.text(max_size=30))
def test_no_text_is_ever_a_formula(text):
    out = guarded(text)
    assert (out[:1] not in ("=", "+", "-", "@") or out == out[:1]) and unguarded(out) == text, "a sign alone is none"


@pytest.mark.parametrize(
    ("head", "column"),
    [("Ckt", "tag"), ("Circuit No.", "tag"), ("Breaker (A)", "breaker_a"), ("AWG", "gauge"), ("Wire size AWG", "gauge"), ("Description", "feeds"),
     ("Location", "room"), ("Position", "spaces"), ("Notes", "note"), ("Weather", "")],
)  # fmt: skip
def test_columns_are_guessed_by_their_heads(head, column):
    assert guessed([head], TABLES["circuits"]) == [column]


def test_a_bad_cell_is_told_by_row_and_column_and_the_others_come_in():
    rows = [
        ["Ckt", "Breaker", "AWG", "Description", "Poles"],
        ["1", "20", "12", "den", "1"],
        ["2", "twenty", "12", "hall", "1"],
        ["3", "15", "14", "bath", "1.5"],
        ["", "", "", "", ""],
        ["4", "30", "10", "=HYPERLINK(1)", "2"],
    ]
    table = TABLES["circuits"]
    taken = imported(rows, guessed(rows[0], table), table, replace(house(1500), circuits=()))
    assert [one.tag for one in taken.job.circuits] == [1, 4] and taken.job.circuits[1].feeds == "=HYPERLINK(1)"
    assert [one.sentence for one in taken.faults] == [
        'row 3, breaker_a: "twenty" is not a number.',
        'row 4, poles: "1.5" is not a whole number.',
    ]


def test_a_row_of_a_tag_that_is_there_changes_only_what_it_says():
    table = TABLES["circuits"]
    taken = imported([["tag", "room"], ["7", "pantry"]], ["tag", "room"], table, DEMO)
    was, now = DEMO.circuit(7), taken.job.circuit(7)
    assert now == replace(was, room="pantry") and len(taken.job.circuits) == len(DEMO.circuits)


def test_loads_are_matched_by_name_and_their_nameplates_read():
    table = TABLES["loads"]
    rows = [["Appliance", "Watts", "Volts"], ["dishwasher", "1500", "120"], ["wine cooler", "300", "120"]]
    taken = imported(rows, guessed(rows[0], table), table, DEMO)
    by_name = {one.name: one for one in taken.job.loads}
    assert by_name["dishwasher"].nameplate.amount == 1500 and by_name["wine cooler"].id == "wine-cooler"
    assert len(taken.job.loads) == len(DEMO.loads) + 1
    assert isinstance(by_name["wine cooler"], Load)


def test_local_amendments_come_back_and_one_that_is_there_is_changed():
    rules = (
        LocalRule(key="ev_min", value=9600.0, section="Ord. 12"),
        LocalRule(key="grounding_rods", section="Ord. 7"),
    )
    job = replace(DEMO, local_rules=rules)
    rows = [
        *exported(TABLES["amendments"], plan(DEMO)),
        ["ev_min", "9600", "Ord. 12"],
        ["grounding_rods", "", "Ord. 7"],
    ]
    assert back(rows, "amendments", DEMO).local_rules == rules
    changed = imported([["key", "value"], ["ev_min", "7200"], ["", "1"]], ["key", "value"], TABLES["amendments"], job)
    assert changed.job.local_rules[0] == replace(rules[0], value=7200.0) and changed.faults[0].column == "key"


def test_torque_and_material_come_back_into_the_job():
    rows = exported(TABLES["torque"], plan(DEMO))
    first = rows[0].index("first_in_lb")
    rows[1][first], rows[2][first] = "181", "tight"
    taken = imported(rows, rows[0], TABLES["torque"], DEMO)
    assert taken.job.record.torque.rows[rows[1][0]].first == 181 and [one.row for one in taken.faults] == [3]
    rows = exported(TABLES["material"], plan(DEMO))
    fillers = next(n for n, row in enumerate(rows) if row[0] == "fillers")
    rows[fillers][rows[0].index("on_hand")], rows[fillers][rows[0].index("each")] = "1", "$1.25"
    stock = imported(rows, rows[0], TABLES["material"], DEMO).job.stock
    assert stock.on_hand["fillers"] == 1 and stock.prices["fillers"] == 1.25
    item = next(one for one in plan(replace(DEMO, stock=stock)).material.items if one.key == "fillers")
    assert item.to_buy(stock) == 1 and item.cost(stock) == 1.25, "two fillers, one on hand"


def test_a_workbook_of_other_people_is_read_as_it_is_meant(tmp_path):
    """Merged cells, a formula with its result, dates as dates, numbers as numbers."""
    path = tmp_path / "theirs.xlsx"
    book = xlsxwriter.Workbook(str(path))
    sheet = book.add_worksheet()
    for column, head in enumerate(("Ckt", "Breaker", "Description", "Date")):
        sheet.write(0, column, head)
    sheet.write_number(1, 0, 1)
    sheet.write_formula(1, 1, "=10+10", None, 20)
    sheet.write_string(1, 2, "den")
    sheet.write_datetime(1, 3, datetime(2026, 12, 8), book.add_format({"num_format": "m/d/yyyy"}))
    sheet.merge_range(2, 2, 3, 2, "kitchen")
    sheet.write_number(2, 0, 2)
    sheet.write_number(3, 0, 3)
    book.close()
    rows = read_table(path)
    assert rows[1] == ["1", "20", "den", "2026-12-08"] and rows[2][2] == "kitchen" and rows[3][2] == ""
    table = TABLES["circuits"]
    taken = imported(rows, guessed(rows[0], table), table, replace(house(1500), circuits=()))
    assert [(one.tag, one.breaker_a, one.feeds) for one in taken.job.circuits] == [
        (1, 20, "den"),
        (2, None, "kitchen"),
        (3, None, ""),
    ]


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("empty.csv", b"", "has no rows"),
        ("blank.csv", b",,\n,,\n", "has no rows"),
        ("no.xlsx", b"no workbook at all", "is no workbook that can be read"),
        ("many.csv", b"tag\n" + b"1\n" * (MOST_ROWS + 5), "has 5,006 rows"),
        ("missing.csv", None, "cannot be read"),
    ],
)
def test_what_cannot_be_read_is_one_sentence(name, data, sentence, tmp_path):
    path = tmp_path / name
    if data is not None:
        path.write_bytes(data)
    with pytest.raises(TableError, match=sentence):
        read_table(path)


def test_semicolons_tabs_and_other_encodings_are_read(tmp_path):
    for number, (text, encoding) in enumerate(
        (("tag;feeds\n1;café\n", "cp1252"), ("tag\tfeeds\n1\tcafé\n", "utf-16"), ("tag,feeds\n1,café\n", "utf-8"))
    ):
        path = tmp_path / f"{number}.csv"
        path.write_bytes(text.encode(encoding))
        assert read_table(path) == [["tag", "feeds"], ["1", "café"]]


def test_a_workbook_holds_every_table_and_no_formula(tmp_path):
    sheets = {name: exported(table, plan(DEMO)) for name, table in TABLES.items()}
    path = write_book(sheets, tmp_path / "all.xlsx")
    assert read_table(path)[0] == list(TABLES["circuits"].columns)
    import zipfile

    with zipfile.ZipFile(path) as archive:
        assert all(b"<f>" not in archive.read(name) for name in archive.namelist() if "sheet" in name)


def test_the_command_exports_and_imports(capsys, tmp_path):
    job, csv = tmp_path / "a.ledger.json", tmp_path / "c.csv"
    write_job(DEMO, job)
    assert main(["export", str(job), "circuits"]) == 0
    assert capsys.readouterr().out.replace("\r\n", "\n") == csv_text(exported(TABLES["circuits"], plan(DEMO))).replace(
        "\r\n", "\n"
    )
    csv.write_text("Ckt,Amps,What,Odd\n7,25,pantry counter,x\n8,many,y,x\n")
    assert main(["import", str(job), "circuits", str(csv), "--try"]) == 1
    out = capsys.readouterr().out
    assert "Odd -> left out" in out and 'row 3, breaker_a: "many" is not a number.' in out and read_job(job) == DEMO
    assert main(["import", str(job), "circuits", str(csv), "--column", "Odd=note"]) == 1
    circuit = read_job(job).circuit(7)
    assert (circuit.breaker_a, circuit.feeds, circuit.note) == (25, "pantry counter", "x")
    assert main(["import", str(job), "circuits", str(csv), "--column", "None=note"]) == 2
