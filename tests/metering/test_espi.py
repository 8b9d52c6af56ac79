"""ESPI feeds: units, powers of ten, directions and clocks; and what a hardened parser refuses."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from robust_ledger.ledger.progress import CanceledError
from robust_ledger.measure.metering.checks import checked
from robust_ledger.measure.metering.demand import reduce
from robust_ledger.measure.metering.read import guess_file, read_recording
from robust_ledger.measure.metering.recording import MeterFileError

JULY = int(datetime(2025, 7, 1, 5, tzinfo=UTC).timestamp())  # midnight at UTC−6 with an hour of summer time


def feed(
    values: list[int | None],
    power: int = 0,
    flow: int = 1,
    uom: int = 72,
    seconds: int = 900,
    start: int = JULY,
    extra: str = "",
) -> str:
    """A feed with one channel of interval readings; None leaves a reading out."""
    readings = "".join(
        f"<IntervalReading><timePeriod><duration>{seconds}</duration><start>{start + n * seconds}</start></timePeriod>"
        f"<value>{v}</value></IntervalReading>"
        for n, v in enumerate(values)
        if v is not None
    )
    return f"""<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom">
    <entry><link rel="self" href="/tz"/><content><LocalTimeParameters xmlns="http://naesb.org/espi"><dstOffset>3600</dstOffset>
      <tzOffset>-21600</tzOffset></LocalTimeParameters></content></entry>
    <entry><link rel="self" href="/type/{flow}"/><content><ReadingType xmlns="http://naesb.org/espi"><flowDirection>{flow}</flowDirection>
      <powerOfTenMultiplier>{power}</powerOfTenMultiplier><uom>{uom}</uom></ReadingType></content></entry>
    <entry><link rel="self" href="/meter/{flow}"/><link rel="related" href="/type/{flow}"/><content>
      <MeterReading xmlns="http://naesb.org/espi"/></content></entry>
    <entry><link rel="up" href="/meter/{flow}/IntervalBlock"/><content><IntervalBlock xmlns="http://naesb.org/espi">{readings}
      </IntervalBlock></content></entry>{extra}</feed>"""


def read(tmp_path, text: str):
    path = tmp_path / "feed.xml"
    path.write_text(text, encoding="utf-8")
    assert guess_file(path) is None, "XML says itself how it is read"
    return read_recording(path, None)


@pytest.mark.parametrize(
    ("values", "power", "uom", "peak_kw"),
    [
        ([500, 2500, 1000], 0, 72, 10.0),  # 2,500 Wh in a quarter of an hour
        ([5, 25, 10], 2, 72, 10.0),  # hundreds of Wh
        ([500_000, 2_500_000, 1_000_000], -3, 72, 10.0),  # thousandths
        ([2000, 9000, 4000], 0, 38, 9.0),  # watts
    ],
)
def test_units_and_powers_of_ten(tmp_path, values, power, uom, peak_kw):
    demand = reduce(checked(read(tmp_path, feed(values, power, uom=uom))))
    assert demand.peak == pytest.approx(peak_kw) and demand.peak_text.endswith("2025-07-01 00:15")


def test_a_change_of_the_clock_needs_no_guessing(tmp_path):
    """24 hours across 2 November: the wall clock repeats an hour, the recording has no gap and no double."""
    start = int(datetime(2025, 11, 2, 5, tzinfo=UTC).timestamp())
    series = checked(read(tmp_path, feed(list(range(100, 196)), start=start)))
    assert not series.issues and series.notes == ("1 changes of the clock, as the file says.",)
    assert reduce(series).days == 1.0


def test_what_was_sent_out_is_left_out_and_told(tmp_path):
    other = feed([900, 900], flow=19).partition("<entry>")[2].replace("</feed>", "")
    demand = reduce(checked(read(tmp_path, feed([500, 2500, 1000], extra=f"<entry>{other}"))))
    assert demand.peak == pytest.approx(10.0)
    assert any("source behind the meter" in note for note in demand.series.notes)


def test_a_reading_without_a_value_is_a_gap(tmp_path):
    series = checked(read(tmp_path, feed([500, None, None, 700, 800])))
    assert [issue.words for issue in series.gaps] == ["2 readings missing after 2025-07-01 00:00"]


BOMB = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><feed>&b;</feed>'
OUTSIDE = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/hostname">]><feed>&a;</feed>'


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        (BOMB, "declares entities"),
        (OUTSIDE, "declares entities"),
        ('<?xml version="1.0"?><!DOCTYPE feed><feed/>', "declares entities or a document type"),
        ("<feed><entry>", "is not sound XML"),
        ("<feed></feed>", "holds no interval readings"),
        (feed([1, 2]).replace("<value>1</value>", "<value>many</value>"), "is not sound XML"),
        (feed([1, 2]).replace("<value>1</value>", f"<value>{'9' * 5000}</value>"), "cannot stand where it does"),
        (feed([1, 2], start=10**15), "cannot stand where it does"),
        (feed([1, 2], power=400), "cannot stand where it does"),
        (feed([1, 2]).replace("-21600", "-99999999"), "cannot stand where it does"),
        (feed([10**17, 10**17], power=3), "no reading that a meter of a dwelling could show"),
        (feed([1, 2], flow=19), "no channel with the energy"),
        (feed([1, 2], uom=169), "no channel with the energy"),
    ],
)
def test_what_is_refused(tmp_path, text, sentence):
    with pytest.raises(MeterFileError, match=sentence):
        read(tmp_path, text)


def test_it_can_be_stopped(tmp_path):
    path = tmp_path / "feed.xml"
    path.write_text(feed(list(range(4000))), encoding="utf-8")
    with pytest.raises(CanceledError):
        read_recording(path, None, lambda part: part < 0.3)
