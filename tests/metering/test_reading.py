"""Files as utilities write them: what is guessed, what is read, and what is refused in one sentence."""

from __future__ import annotations

import time
import tracemalloc
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.ledger.progress import CanceledError
from robust_ledger.measure.metering.csv_reader import Reading, guess, read_csv
from robust_ledger.measure.metering.read import guess_file, read_recording
from robust_ledger.measure.metering.recording import MeterFileError
from robust_ledger.measure.metering.stamps import StampReader, clock_changes, guess_date_order, stamp_text

SHIPPED = Path(__file__).parents[2] / "examples" / "interval-data"
BEGIN = datetime(2025, 7, 1)


def rows(form: str, count: int = 12, minutes: int = 15) -> str:
    """Rows in one of the many forms; readings 0.25, 0.5, 0.75 …"""
    times = [BEGIN + timedelta(minutes=minutes * n) for n in range(count)]
    return "\n".join(
        form.format(at=at, v=0.25 * (n + 1), c=f"{0.25 * (n + 1):.2f}".replace(".", ",")) for n, at in enumerate(times)
    )


def written(tmp_path: Path, text: str | bytes, name: str = "data.csv") -> Path:
    path = tmp_path / name
    path.write_bytes(text) if isinstance(text, bytes) else path.write_text(text, encoding="utf-8")
    return path


@pytest.mark.parametrize(
    ("head", "form", "reading"),
    [
        ("start,kWh", "{at:%Y-%m-%d %H:%M},{v}", Reading()),
        ("Start time;Energy Wh", "{at:%Y-%m-%dT%H:%M:%S};{v}", Reading(delimiter=";", unit="Wh")),
        ("Date,Time,Cost,Usage (kWh)", "{at:%m/%d/%Y},{at:%I:%M %p},1.2,{v}",
         Reading(date_column=0, time_column=1, columns=(3,), date_order="mdy")),
        ("Tag;Zeit;Leistung kW", "{at:%d.%m.%Y};{at:%H:%M};{c}",
         Reading(delimiter=";", time_column=1, columns=(2,), unit="kW", date_order="dmy", decimal=",")),
        ("time\tL1 amps\tL2 amps", "{at:%Y/%m/%d %H:%M}\t{v}\t{v}", Reading(delimiter="\t", columns=(1, 2), unit="A")),
        ("when|meter reading kWh", "{at:%Y-%m-%d %H:%M}|{v}", Reading(delimiter="|", unit="register kWh")),
        ("Account 1\nMeter 2\n\nDay,Hour,Type,Delivered kWh,Received kWh", "{at:%Y-%m-%d},{at:%H:%M},interval,{v},0",
         Reading(head_row=3, time_column=1, columns=(3,))),
    ],
)  # fmt: skip
def test_delimiter_columns_and_unit_are_guessed(tmp_path, head, form, reading):
    """The dates of one July day say nothing of their order; a month of them does."""
    found = guess(written(tmp_path, f"{head}\n{rows(form, 96 * 20)}\n"))
    assert found.reading == reading and not found.doubts
    recording = read_csv(written(tmp_path, f"{head}\n{rows(form)}\n"), found.reading)
    assert [stamp_text(m) for m in recording.stamp_min[:2]] == ["2025-07-01 00:00", "2025-07-01 00:15"]
    assert recording.value[:, 0].tolist() == [0.25 * (n + 1) for n in range(12)]
    assert Reading.from_dict(found.reading.as_dict()) == found.reading


@pytest.mark.parametrize(
    ("heads", "legs"),
    [
        (("Leg A amps", "Leg B amps"), (1, 2)),
        (("Current_1 (A)", "Current_2 (A)"), (1, 2)),
        (("CT1", "CT2"), (1, 2)),
        (("Volts", "Phase A kW", "Phase B kW"), (2, 3)),
        (("L1 A", "L2 A", "total kWh"), (1, 2)),
        (("amps", "temperature"), None),
        (("L1 A", "L3 A"), None),
        (("channel 1 kWh", "channel 2 kW"), None),
    ],
)
def test_any_pair_of_columns_that_looks_like_legs_is_offered(tmp_path, heads, legs):
    cells = ",".join("{v}" for _head in heads)
    found = guess(written(tmp_path, f"when,{','.join(heads)}\n{rows('{at:%Y-%m-%d %H:%M},' + cells, 96)}\n"))
    assert found.legs == legs and (legs is None or found.reading.columns == legs)


def test_without_a_unit_nothing_is_known_of_the_figures(tmp_path):
    bare = guess(written(tmp_path, f"when,house\n{rows('{at:%Y-%m-%d %H:%M},{v}', 96)}\n"))
    told = guess(written(tmp_path, f"when,house kW\n{rows('{at:%Y-%m-%d %H:%M},{v}', 96)}\n"))
    assert not bare.unit_known and told.unit_known


def test_what_is_not_certain_is_asked(tmp_path):
    found = guess(written(tmp_path, f"when,one,two\n{rows('{at:%m/%d/%Y %H:%M},{v},{v}', 4)}\n"))
    assert len(found.doubts) == 3
    assert (
        "2 columns hold numbers" in found.doubts[0]
        and "names a unit" in found.doubts[1]
        and "month/day" in found.doubts[2]
    )


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("", "is empty"),
        ("\n \n", "is empty"),
        ("name,phone\nA,1\n", "has no column of dates"),
        ("date,kWh\n" + rows("{at:%Y-%m-%d},{v}"), "no times of day"),
        ("date," + ",".join(f"{h:02d}:{m:02d}" for h in range(24) for m in (0, 30)) + ",total\n" + "2025-07-01," + ",".join(["1"] * 49),
         "one row a day"),
        ("start,kWh\n" + rows("{at:%Y-%m-%d %H:%M},none"), "no column of readings"),
        ("start," + ",".join("x" * 1 for _ in range(300)) + "\n" + "2025-07-01 00:00," + ",".join(["1"] * 300), "has 301 columns"),
        (b"PK\x03\x04\x00\x00spreadsheet", "is not a text file"),
    ],
)  # fmt: skip
def test_a_file_of_another_kind_is_refused_in_one_sentence(tmp_path, text, sentence):
    with pytest.raises(MeterFileError, match=sentence):
        guess_file(written(tmp_path, text))


def test_fifty_columns_find_the_one_with_the_usage(tmp_path):
    heads = ["start", *(f"temperature {n}" for n in range(48)), "usage kWh"]
    text = ",".join(heads) + "\n" + rows("{at:%Y-%m-%d %H:%M}," + ",".join(["20.5"] * 48) + ",{v}")
    found = guess(written(tmp_path, text))
    assert found.reading.columns == (49,) and len(found.heads) == 50 and not found.doubts


def test_a_file_that_is_not_there(tmp_path):
    with pytest.raises(MeterFileError, match="cannot be read: no such file"):
        guess_file(tmp_path / "gone.csv")


def test_bad_rows_are_told_one_by_one_and_the_good_ones_kept(tmp_path):
    text = rows("{at:%Y-%m-%d %H:%M},{v}").splitlines()
    text[3:3] = [
        "2025-07-01 00:45,n/a",
        "2025-07-01 00:45,",
        "2025-13-45 00:45,1",
        "2025-07-01 25:99,1",
        "",
        "2025-07-01 00:45",
        "2025-07-01 00:45,inf",
    ]
    recording = read_csv(written(tmp_path, "start,kWh\n" + "\n".join(text)), Reading())
    assert len(recording.value) == 12 and len(recording.faults) == 6
    assert (
        recording.faults[0] == 'Row 5: "n/a" is not a number.' and recording.faults[1] == "Row 6: the reading is empty."
    )
    assert 'Row 7: "2025-13-45 00:45" is not a date and time.' in recording.faults
    assert recording.faults[4] == "Row 10: it has 1 cells where more are needed."


def test_a_long_reading_tells_how_far_it_is_and_can_be_stopped(tmp_path):
    path = written(tmp_path, "start,kWh\n" + rows("{at:%Y-%m-%d %H:%M},{v}", 30_000))
    told: list[float] = []
    read_csv(path, Reading(), lambda part: not told.append(part))
    assert told == sorted(told) and len(told) >= 6 and told[-1] <= 1
    with pytest.raises(CanceledError):
        read_csv(path, Reading(), lambda part: part < 0.5)


@pytest.mark.parametrize(
    ("cells", "order", "sure"),
    [
        (["2025-07-01"], "ymd", True),
        (["07/13/2025"], "mdy", True),
        (["13/07/2025"], "dmy", True),
        (["01/07/2025", "02/07/2025"], "dmy", True),  # the part that moves is the day
        (["07/01/2025", "07/02/2025"], "mdy", True),
        (["01/07/2025"], "mdy", False),
    ],
)
def test_the_order_of_dates(cells, order, sure):
    assert guess_date_order(cells) == (order, sure)


@pytest.mark.parametrize(("out", "sent"), [("0.25", True), ("0", False), ("", False)])
def test_a_column_of_what_was_sent_out_closes_the_way_as_a_utilitys_own_file_does(out, sent, tmp_path):
    """220.87 by measuring is no way where energy came from the house: whichever column says so."""
    text = "".join(f"2025-07-01 {hour:02}:00,1.5,{out}\n" for hour in range(10, 20))
    path = written(tmp_path, f"Start,Delivered kWh,Received kWh\n{text}")
    got = guess(path)
    assert got.reading.columns == (1,) and read_csv(path, got.reading).sent_out is sent


@pytest.mark.parametrize(
    ("day", "time"),
    [
        ("06/01/25", "12:15 AM"), ("6/1/25", "0:15"), ("Jun 1, 2025", "12:15 AM"), ("01-Jun-2025", "00:15"), ("1 June 2025", "00:15:00"),
        ("Sun, Jun 1 2025", "12:15 am"), ("JUN-01-25", "00:15"), ("20250601", "00:15"), ("Sept. 1, 2025", ""), ("OCT 1 2025", ""),
    ],
)  # fmt: skip
def test_dates_as_utilities_write_them(day, time, tmp_path):
    """In one cell, in two, and as the columns of a whole file: half past midnight is not noon, October is no T."""
    month = {"S": "09", "O": "10"}.get(day[0], "06") if not time else "06"
    expected = f"2025-{month}-01 00:15"
    for cells in ((f"{day} {time or '00:15'}",), (day, time or "00:15")):
        minutes, _offset = StampReader("ymd" if day[:4] == "2025" or day[0].isalpha() or "un" in day else "mdy").read(
            *cells
        )
        assert stamp_text(minutes) == expected
    text = "".join(f'"{day}",{hour}:15,{20250600 + hour}\n' for hour in range(10, 20))
    got = guess(written(tmp_path, f"Date,Time,kWh\n{text}"))
    assert (got.reading.date_column, got.reading.time_column, got.reading.columns) == (0, 1, (2,))


@given(st.datetimes(datetime(1990, 1, 1), datetime(2040, 1, 1)))
def test_stamps_read_back(at):
    at = at.replace(second=0, microsecond=0)
    for order, form in (("ymd", "%Y-%m-%d %H:%M"), ("mdy", "%m/%d/%Y %I:%M %p"), ("dmy", "%d.%m.%Y %H:%M:%S")):
        minutes, offset = StampReader(order).read(at.strftime(form))
        assert stamp_text(minutes) == at.strftime("%Y-%m-%d %H:%M") and offset == 0


@pytest.mark.parametrize(
    ("text", "offset"), [("2025-07-01T10:00:00-05:00", -300), ("2025-07-01T10:00Z", 0), ("2025-07-01 10:00+0530", 330)]
)
def test_stamps_with_their_distance_from_universal_time(text, offset):
    reader = StampReader("ymd")
    assert reader.read(text)[1] == offset and reader.zoned


@pytest.mark.parametrize(
    ("year", "spring", "autumn"),
    [(2024, "2024-03-10", "2024-11-03"), (2025, "2025-03-09", "2025-11-02"), (2026, "2026-03-08", "2026-11-01")],
)
def test_the_days_on_which_clocks_change(year, spring, autumn):
    assert [stamp_text(m) for m in clock_changes(year)] == [f"{spring} 02:00", f"{autumn} 02:00"]


def test_the_shipped_files_read(demo):
    lengths = {}
    for path in sorted(SHIPPED.iterdir()):
        found = guess_file(path)
        assert found is not None and not found.doubts
        lengths[path.name] = len(read_recording(path, found.reading).value)
    assert lengths == {
        "clean-year.csv": 35_040,
        "dirty-eleven-months.csv": 334 * 48 - 96 - 2 - 2 + 2,
        "leg-recorder-32-days.txt": 3072,
    }


# --- recordings made to do harm -------------------------------------------------------------------------------------------
FEED = b'<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom">'
HARM = {
    "elements.xml": FEED + b"<x/>" * 2_000_000,
    "deep.xml": FEED + b"<x>" * 1_000_000,
    "text.xml": FEED + b"<x>" + b"9" * 40_000_000,
    "attribute.xml": FEED + b'<x a="' + b"9" * 40_000_000,
    "line.csv": b"start,kWh\n2025-07-01 00:00,1" + b"9" * 40_000_000,
    "commas.csv": b"start,kWh\n" + b"," * 40_000_000,
}


@pytest.mark.parametrize("name", HARM)
def test_a_hostile_recording_is_a_sentence_and_takes_little(name, tmp_path):
    """Nothing of it is kept that is not a reading: a file as large as can be would take no more."""
    path = tmp_path / name
    path.write_bytes(HARM[name])
    tracemalloc.start()
    begun = time.monotonic()

    def read():
        found = guess_file(path)
        return read_recording(path, found.reading if found else None)

    with pytest.raises(MeterFileError) as told:
        read()
    spent, (_now, most) = time.monotonic() - begun, tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert "\n" not in str(told.value) and name in str(told.value) and most < 120_000_000 and spent < 30
