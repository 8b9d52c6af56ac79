"""Workbooks and lists made to do harm: each is a sentence, within bounds of time and memory, and the process that reads goes on."""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import pytest

from robust_ledger.exchange import apart, books
from robust_ledger.exchange.books import TableError, csv_text, read_table, summary_csv, write_book
from robust_ledger.ledger.progress import CanceledError

MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
TYPES = (
    '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/>'
    '<Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>'
    "</Types>"
)
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
RELATIONS = "http://schemas.openxmlformats.org/package/2006/relationships"
ROOT = f'<Relationships xmlns="{RELATIONS}"><Relationship Id="r1" Type="{OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>'
BOOK = (
    f'<workbook xmlns="{MAIN}" xmlns:r="{OFFICE}"><sheets><sheet name="a" sheetId="1" r:id="r1"/></sheets></workbook>'
)
SHEETS = (
    f'<Relationships xmlns="{RELATIONS}"><Relationship Id="r1" Type="{OFFICE}/worksheet" Target="worksheets/sheet1.xml"/>'
    f'<Relationship Id="r2" Type="{OFFICE}/sharedStrings" Target="sharedStrings.xml"/></Relationships>'
)


def workbook(path: Path, rows: bytes, strings: bytes = b"", repeat: int = 1) -> Path:
    """A workbook whose sheet has these rows, as often as is said; written bit by bit, as it may be larger than memory."""
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as packed:
        for name, text in (
            ("[Content_Types].xml", TYPES),
            ("_rels/.rels", ROOT),
            ("xl/workbook.xml", BOOK),
            ("xl/_rels/workbook.xml.rels", SHEETS),
        ):
            packed.writestr(name, text)
        if strings:
            packed.writestr("xl/sharedStrings.xml", strings)
        with packed.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as out:
            out.write(f'<worksheet xmlns="{MAIN}"><sheetData>'.encode())
            for _ in range(repeat):
                out.write(rows)
            out.write(b"</sheetData></worksheet>")
    return path


def cell(at: str, text: str) -> str:
    return f'<c r="{at}" t="inlineStr"><is><t>{text}</t></is></c>'


HEAD = f'<row r="1">{cell("A1", "tag")}{cell("B1", "feeds")}</row>'.encode()


def unpacks_to_far_more(place: Path) -> Path:
    return workbook(place / "bomb.xlsx", HEAD + b" " * 4_000_000, repeat=60)


def says_it_is_small(place: Path) -> Path:
    """The same, with a contents list that lies about how much there is."""
    path = unpacks_to_far_more(place)
    data = bytearray(path.read_bytes())
    at = data.rfind(b"PK\x01\x02")  # the entry of the sheet, the last one
    data[at + 24 : at + 28] = (1000).to_bytes(4, "little")
    path.write_bytes(data)
    return path


def a_cell_far_out(place: Path) -> Path:
    return workbook(place / "far.xlsx", HEAD + f'<row r="1048576">{cell("XFD1048576", "x")}</row>'.encode())


def a_million_rows(place: Path) -> Path:
    rows = b"".join(f'<row r="{n}">{cell(f"A{n}", "7")}</row>'.encode() for n in range(1, 150_001))
    return workbook(place / "long.xlsx", rows)


def strings_without_end(place: Path) -> Path:
    strings = f'<sst xmlns="{MAIN}" count="4000000000" uniqueCount="4000000000"><si><t>tag</t></si></sst>'.encode()
    return workbook(place / "strings.xlsx", b'<row r="1"><c r="A1" t="s"><v>0</v></c></row>', strings)


def repeated_columns(place: Path) -> Path:
    office = "urn:oasis:names:tc:opendocument:xmlns"
    text = (
        f'<office:document-content xmlns:office="{office}:office:1.0" xmlns:table="{office}:table:1.0" xmlns:text="{office}:text:1.0">'
        '<office:body><office:spreadsheet><table:table table:name="a"><table:table-row table:number-rows-repeated="1000000">'
        '<table:table-cell office:value-type="string" table:number-columns-repeated="16000"><text:p>x</text:p></table:table-cell>'
        "</table:table-row></table:table></office:spreadsheet></office:body></office:document-content>"
    )
    path = place / "repeat.ods"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        packed.writestr("META-INF/manifest.xml", "<manifest/>")
        packed.writestr("content.xml", text)
    return path


def no_workbook(place: Path) -> Path:
    (place / "x.xls").write_bytes(b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + os.urandom(4096))
    return place / "x.xls"


def commas(place: Path) -> Path:
    (place / "commas.csv").write_bytes(b"tag," + b"," * 25_000_000)
    return place / "commas.csv"


def newlines(place: Path) -> Path:
    (place / "rows.csv").write_bytes(b"tag,feeds\n" + b"1,x\n" * 5_000_000)
    return place / "rows.csv"


def one_quote(place: Path) -> Path:
    (place / "quote.csv").write_bytes(b'tag,feeds\n1,"' + b"x" * 20_000_000)
    return place / "quote.csv"


def a_device(place: Path) -> Path:
    (place / "zero.csv").symlink_to("/dev/zero")
    return place / "zero.csv"


HARM = [
    unpacks_to_far_more, says_it_is_small, a_cell_far_out, a_million_rows, strings_without_end, repeated_columns, no_workbook, commas, newlines,
    one_quote, a_device,
]  # fmt: skip


@pytest.mark.parametrize("make", HARM, ids=lambda one: one.__name__)
def test_a_hostile_table_is_a_sentence_within_bounds(make, tmp_path):
    path = make(tmp_path)
    before, begun = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, time.monotonic()
    with pytest.raises(TableError) as told:
        read_table(path)
    assert str(told.value).startswith(path.name) and str(told.value).endswith(".") and "\n" not in str(told.value)
    assert (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1000 < 300, "our own memory [MB]"
    assert apart.MEMORY_BYTES < 500_000_000, "that of the process that reads, which the system holds it to"
    assert time.monotonic() - begun < books.LONGEST_S + 5


def test_reading_can_be_watched_and_stopped(tmp_path):
    seen = []
    slow = tmp_path / "slow.csv"
    slow.write_bytes(b"tag,feeds\n" + b"1,x\n" * 2_000_000)
    with pytest.raises(CanceledError):
        read_table(slow, lambda part: seen.append(part) or False)
    assert seen and slow.exists()


def test_what_takes_too_long_is_ended(tmp_path, monkeypatch):
    monkeypatch.setattr(books, "LONGEST_S", 0.001)
    slow = tmp_path / "slow.csv"
    slow.write_bytes(b"tag,feeds\n" + b"1,x\n" * 100_000)
    with pytest.raises(TableError, match="longer to read"):
        read_table(slow)


def test_a_library_that_takes_its_process_down_takes_nothing_else(tmp_path, monkeypatch):
    """Signal 6, as an allocation that fails ends it: told as a sentence."""
    monkeypatch.setattr(books, "_CHILD", "import os; os.abort()")
    path = write_book({"a": [["tag"], ["1"]]}, tmp_path / "a.xlsx")
    with pytest.raises(TableError, match="takes more memory or time"):
        read_table(path)


def test_large_lists_that_are_in_order_are_read_apart_as_well(tmp_path):
    rows = [["tag", "feeds"], *([str(n), f"=room {n}; \t{n}"] for n in range(1, 4001))]
    path = write_book({"a": rows}, tmp_path / "a.xlsx")
    assert read_table(path) == rows
    (tmp_path / "a.csv").write_text(csv_text(rows))
    assert os.stat(tmp_path / "a.csv").st_size < books.SMALL_BYTES and read_table(tmp_path / "a.csv") == rows


def test_the_limits_hold_in_the_process_that_reads():
    code = "import resource; from robust_ledger.exchange import apart; apart.main('/nowhere.csv'); print(resource.getrlimit(resource.RLIMIT_AS)[0])"
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60).stdout
    assert out.endswith(f"{apart.MEMORY_BYTES}\n") and "cannot be read" in out


@pytest.mark.parametrize(
    "text", ["=1+1", "\n=1+1", "\r\n =1+1", "\t=1", "\u200b=1", "\ufeff+1", "\xa0@x", "＝1+1", "－cmd", "'=1", "-1+1"]
)
def test_no_cell_that_a_spreadsheet_would_work_out_goes_out_as_it_is(text):
    assert summary_csv([[text]]).lstrip('"').startswith("'")


@pytest.mark.parametrize("text", ["den", "12-2", "", "-", "a=b", "5 - 3", "#12"])
def test_other_text_goes_out_as_it_is(text):
    assert summary_csv([[text, "x"]]) == f"{text},x\r\n"


def test_a_cell_that_another_country_would_cut_is_quoted():
    assert csv_text([["a;=1", "b"], ["c", "d"]]) == '"a;=1","b"\r\nc,d\r\n'
    assert io.StringIO(csv_text([["x\t=1"]])).read() == '"x\t=1"\r\n'
