"""Papers at the desk: packets, what is missing with the way there, printing, the material with its prices, tables in and out."""

from __future__ import annotations

import time
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QFileDialog

from robust_ledger.desk.kit.examples import DEMO
from robust_ledger.exchange.books import read_table
from robust_ledger.job.edits import with_part
from robust_ledger.ledger.progress import go_on
from robust_ledger.papers.packet import sheets_of


def rows(table) -> list[list[str]]:
    model = table.model()
    return [[model.index(r, c).data() for c in range(model.columnCount())] for r in range(model.rowCount())]


def press(qtbot, button) -> None:
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


@pytest.fixture
def papers(window):
    window.open_demo(DEMO)
    window.show_stage("papers")
    return window


def choose(page, packet: str) -> None:
    page.packet.setCurrentIndex(page.packet.findData(packet))
    page.packet.activated.emit(page.packet.currentIndex())


def test_a_packet_is_chosen_shown_and_written_as_one_file(papers, keys, qtbot, tmp_path, monkeypatch):
    page = papers.stage().page("sheets")
    choose(page, "permit")
    titles = [page.sheets.item(n).text().split("\n")[0] for n in range(page.sheets.count())]
    assert titles == [one.title for one in sheets_of("permit")]
    page.sheets.setCurrentRow(titles.index("One-line diagram"))
    qtbot.waitUntil(lambda: page.document.pageCount() == 1, timeout=5000)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    keys(papers, "ctrl+e")
    assert [one.name for one in tmp_path.iterdir() if one.is_file()] == ["job-permit.pdf"]
    assert "Written to" in papers.notice_text.text()
    page.paper.setFocus()
    keys(papers, "down", "enter")
    assert papers.store.job.stock.page == "a4"
    before = page.view.zoomFactor()
    press(qtbot, page.zooms[1])
    assert page.view.zoomFactor() > before
    press(qtbot, page.zooms[2])


def test_what_is_missing_leads_to_where_it_is_entered(papers, keys, qtbot):
    papers.store.edit("no date", lambda job: with_part(with_part(job, "heading", date=""), "day", date=""))
    page = papers.stage().page("sheets")
    choose(page, "owner")
    at = next(n for n in range(page.sheets.count()) if page.sheets.item(n).text().startswith("Notice"))
    page.sheets.setCurrentRow(at)
    words = [page.lacking.item(n).text() for n in range(page.lacking.count())]
    assert words == ["the date", "the day"] and "missing: the date, the day" in page.sheets.item(at).text()
    page.lacking.itemActivated.emit(page.lacking.item(1))
    assert papers.current == "changeover" and papers.stage().current == "when"


def test_the_sheet_in_view_is_printed_page_by_page(papers, tmp_path):
    page = papers.stage().page("sheets")
    choose(page, "permit")
    printer = QPrinter(QPrinter.PrinterMode.ScreenResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    page.print_to(printer)
    assert len(PdfReader(tmp_path / "printed.pdf").pages) == page.document.pageCount() == 1
    assert "Sent to the printer: Permit facts." in papers.notice_text.text()


def test_a_permit_fact_is_copied_by_itself(papers):
    from PyQt6.QtWidgets import QApplication

    menu = papers.stage().page("sheets").facts_menu()
    words = [one.text() for one in menu.actions()]
    assert "Floor area: 1,720 ft²" in words and "License: EL-00417" in words
    menu.actions()[words.index("License: EL-00417")].trigger()
    assert QApplication.clipboard().text() == "EL-00417" and papers.notice_text.text() == "Copied: License."


def test_the_field_book_is_written_for_the_phone(papers, tmp_path):
    page = papers.stage().page("sheets")
    page.write_book(tmp_path / "book.html")
    assert (
        "Marrow Lane" in (tmp_path / "book.html").read_text("utf-8") and "needs no network" in papers.notice_text.text()
    )
    page.write_book(tmp_path / "gone" / "book.html")
    assert "could not be written" in papers.notice_text.text()


def test_material_is_priced_written_and_read_back(papers, keys, qtbot, tmp_path):
    papers.stage().show_page("material")
    page = papers.stage().page()
    at = next(n for n, row in enumerate(rows(page.table)) if row[0].startswith("ground rods"))
    page.table.setCurrentIndex(page.table.model().index(at, 0))
    page.form.focus_place("stock:prices")
    keys(papers, "21.50", "enter")
    assert rows(page.table)[at][-2:] == ["21.50", "64.50"] and "comes to 64.50" in page.words.text()
    page.form.focus_place("stock:on_hand")
    keys(papers, "1", "enter")
    assert rows(page.table)[at][3] == "2" and papers.store.job.stock.on_hand == {"rods": 1}
    page.form.focus_place("stock:waste_percent")
    keys(papers, "80", "enter")
    assert "not between 0 and 50" in page.form.fields["stock:waste_percent"].fault.text()
    keys(papers, "esc")
    path = tmp_path / "list.xlsx"
    page.write(path)
    table = read_table(path)
    head = table[0]
    clamps = next(row for row in table if row[0] == "clamps")
    clamps[head.index("each")] = "3.10"
    mine = tmp_path / "mine.csv"
    mine.write_text("key,price\nclamps,3.10\nnobody knows,x\n")
    page.take_prices(mine)
    qtbot.waitUntil(lambda: not page.progress.isVisible() and not page.progress.busy, timeout=20_000)
    assert (
        papers.store.job.stock.prices["clamps"] == 3.10
        and 'row 3, each: "x" is not a number.' in papers.notice_text.text()
    )
    keys(papers, "ctrl+z")


def test_a_table_is_looked_at_before_it_is_taken(papers, keys, qtbot, tmp_path):
    papers.stage().show_page("exchange")
    page = papers.stage().page()
    path = tmp_path / "theirs.csv"
    path.write_text("Ckt,Amps,What,Odd\n7,25,pantry counter,by the door\n8,many,hall,\n")
    page.read(path)
    qtbot.waitUntil(lambda: bool(page.rows), timeout=20_000)
    assert [row[:2] for row in rows(page.table)] == [
        ["Ckt", "tag"],
        ["Amps", "breaker_a"],
        ["What", "feeds"],
        ["Odd", "left out"],
    ]
    assert [page.faults.item(n).text() for n in range(page.faults.count())] == [
        'row 3, breaker_a: "many" is not a number.'
    ]
    assert papers.store.job.circuit(7).feeds != "pantry counter", "nothing is taken yet"
    page.table.choose("3")
    page.table.chosen.emit("3")
    page.choice.setCurrentIndex(page.choice.findData("note"))
    page.choice.activated.emit(page.choice.currentIndex())
    press(qtbot, page.take_button)
    circuit = papers.store.job.circuit(7)
    assert (circuit.breaker_a, circuit.feeds, circuit.note) == (25, "pantry counter", "by the door")
    page.table.setFocus()
    keys(papers, "ctrl+z")
    assert papers.store.job.circuit(7).feeds != "pantry counter", "one step of undo"
    page.write(tmp_path / "out.csv")
    assert read_table(tmp_path / "out.csv")[0][0] == "tag"
    page.write(tmp_path / "all.xlsx", every=True)
    assert (tmp_path / "all.xlsx").exists()
    page.read(Path(tmp_path / "none.csv"))
    qtbot.waitUntil(lambda: "none.csv cannot be read" in papers.notice_text.text(), timeout=20_000)


def test_reading_a_table_shows_how_far_it_is_and_can_be_stopped(papers, qtbot, tmp_path, monkeypatch):
    """A list that takes long holds nobody up: the page stays as it was, and Cancel ends it."""
    papers.stage().show_page("exchange")
    page, seen = papers.stage().page(), []

    def slow(_path, progress):
        while True:
            seen.append(1)
            go_on(progress, 0.3)
            time.sleep(0.01)

    monkeypatch.setattr("robust_ledger.desk.stages.papers.exchange.read_table", slow)
    page.read(tmp_path / "slow.xlsx")
    qtbot.waitUntil(lambda: page.progress.isVisible() and page.progress.bar.value() == 30, timeout=10_000)
    press(qtbot, page.progress.stop)
    qtbot.waitUntil(lambda: "Canceled" in papers.notice_text.text() and not page.progress.busy, timeout=10_000)
    assert seen and page.rows == []
