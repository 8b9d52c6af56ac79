"""Interval data as ESPI XML: energy in Wh with its power of ten, times in universal seconds; read by a hardened parser."""

from __future__ import annotations

from array import array
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml import ElementTree as Hardened
from msgspec import Struct, field

from robust_ledger.job.doors import open_plain
from robust_ledger.ledger.progress import Progress, go_on, unwatched
from robust_ledger.ledger.text import reason_of
from robust_ledger.measure.metering.csv_reader import MOST_READ, MOST_READINGS
from robust_ledger.measure.metering.recording import MeterFileError, Recording, Unit
from robust_ledger.measure.metering.stamps import clock_changes, stamp_date

_WATT_HOURS, _WATTS = "72", "38"
_RECEIVED = "19"
_MOST_HELD, _DEEPEST = 100_000, 60  # elements kept at a time, and within each other
_MOST_SILENT = 100  # pieces of 16 to 64 kB
_REPORT_EVERY = 2_000
LATEST_S = 4_102_444_800  # the year 2100, in universal seconds


class _Kind(Struct):
    """A ReadingType: unit, power of ten and direction of flow."""

    unit: str = _WATT_HOURS
    power: int = 0
    flow: str = "1"


class _Block(Struct):
    """The readings under one meter reading, in universal seconds and raw integers."""

    up: str
    start_s: array[int] = field(default_factory=lambda: array("q"))
    value: array[int] = field(default_factory=lambda: array("q"))


def read_espi(path: Path, progress: Progress = unwatched) -> Recording:
    """Read a feed of interval blocks. What was sent out (received by the utility) is told and left out.

    Raises MeterFileError for anything that is no such feed, for entities and document types; CanceledError.
    """
    kinds: dict[str, _Kind] = {}
    types_of: dict[str, list[str]] = {}
    blocks: list[_Block] = []
    offset_s, dst_s = 0, 0
    try:
        for entry, readings in _entries(path, progress):
            links = [(one.get("rel", ""), one.get("href", "")) for one in entry if _name(one) == "link"]
            self_href = next((href for rel, href in links if rel == "self"), "")
            for thing in (t for content in entry if _name(content) == "content" for t in content):
                name = _name(thing)
                if name == "ReadingType":
                    kinds[self_href] = _kind(thing)
                elif name == "MeterReading":
                    types_of[self_href] = [href for rel, href in links if rel == "related"]
                elif name == "LocalTimeParameters":
                    offset_s = _whole(_text(thing, "tzOffset", "0"), 86_400)
                    dst_s = _whole(_text(thing, "dstOffset", "0"), 86_400)
                elif name == "IntervalBlock":
                    up = next((href for rel, href in links if rel == "up"), self_href.partition("/IntervalBlock")[0])
                    readings.up = up.removesuffix("/IntervalBlock")
                    blocks.append(readings)
    except DefusedXmlException:
        raise MeterFileError(
            f"{path.name} declares entities or a document type, which no utility file needs."
        ) from None
    except (ParseError, ValueError, OverflowError) as problem:
        raise MeterFileError(f"{path.name} is not sound XML of interval data: {problem}.") from None
    except OSError as problem:
        raise MeterFileError(f"{path.name} cannot be read: {reason_of(problem)}.") from None
    if not blocks:
        raise MeterFileError(f"{path.name} holds no interval readings.")
    return _joined(path, blocks, kinds, types_of, offset_s, dst_s)


def _entries(path: Path, progress: Progress) -> Iterator[tuple[Element, _Block]]:
    """Each entry of the feed as it closes, with the readings in it; what has been read is let go at once, so that a
    file of any size fits into memory."""
    size = max(1, path.stat().st_size)
    block = _Block("")
    above: list[Any] = []
    held = taken = 0
    with open_plain(path) as opened:
        file = _Watched(opened)
        for number, (event, element) in enumerate(Hardened.iterparse(file, events=("start", "end"), forbid_dtd=True)):
            file.silent = 0
            if number % _REPORT_EVERY == 0:
                go_on(progress, min(1.0, opened.tell() / size))
            if event == "start":
                above.append(element)
                held += 1
                if held > _MOST_HELD or len(above) > _DEEPEST or taken > MOST_READINGS:
                    raise ValueError("there is more in it than in any utility's file")
                continue
            above.pop()
            if _name(element) == "IntervalReading":
                _take(element, block)
                if above:
                    above[-1].remove(element)  # it is the last one: what has been read is let go at once
                held -= sum(1 for _ in element.iter())
                taken += 1
            elif _name(element) == "entry":
                yield element, block
                block, held = _Block(""), len(above)
                if above:
                    above[0].clear()


class _Watched:
    """A file that is read piece by piece: one that goes on and on without anything in it is none of a utility."""

    def __init__(self, file: BinaryIO) -> None:
        self.file, self.silent = file, 0

    def read(self, size: int = -1) -> bytes:
        """The next piece. Raises ValueError after too many in which nothing began or ended."""
        self.silent += 1
        if self.silent > _MOST_SILENT:
            raise ValueError("there is more text in one place than in any utility's file")
        return self.file.read(size)


def _take(reading: Element, block: _Block) -> None:
    """Write one reading down; one without a value is a gap."""
    period = next((one for one in reading if _name(one) == "timePeriod"), None)
    value = _text(reading, "value", "")
    if period is not None and value:
        block.start_s.append(_whole(_text(period, "start", ""), LATEST_S))
        block.value.append(_whole(value, 2**62))


def _joined(
    path: Path,
    blocks: list[_Block],
    kinds: dict[str, _Kind],
    types_of: dict[str, list[str]],
    offset_s: int,
    dst_s: int,
) -> Recording:
    """The delivered readings of all blocks, on the local clock."""
    only = next(iter(kinds.values())) if len(kinds) == 1 else _Kind()
    kind_of = {up: next((kinds[h] for h in hrefs if h in kinds), only) for up, hrefs in types_of.items()}
    wanted = [(block, kind_of.get(block.up, only)) for block in blocks]
    sent_out = any(kind.flow == _RECEIVED for _, kind in wanted)
    delivered = [
        (block, kind) for block, kind in wanted if kind.flow != _RECEIVED and kind.unit in (_WATT_HOURS, _WATTS)
    ]
    if not delivered:
        raise MeterFileError(f"{path.name} has no channel with the energy or power that the house took.")
    units = {kind.unit for _, kind in delivered}
    if len(units) > 1:
        delivered = [(block, kind) for block, kind in delivered if kind.unit == _WATT_HOURS]
    starts = np.concatenate([np.frombuffer(block.start_s, dtype=np.int64) for block, _ in delivered])
    values = np.concatenate(
        [np.frombuffer(block.value, dtype=np.int64) * 10.0**kind.power for block, kind in delivered]
    )
    values[np.abs(values) > MOST_READ] = np.nan
    if np.isnan(values).all():
        raise MeterFileError(f"{path.name} has no reading that a meter of a dwelling could show.")
    starts, values = starts[~np.isnan(values)], values[~np.isnan(values)]
    minutes = starts // 60 + offset_s // 60
    summer = _summer(minutes) if dst_s else np.zeros(len(minutes), dtype=bool)
    offsets = np.full(len(minutes), offset_s // 60, dtype=np.int64) + summer * (dst_s // 60)
    unit: Unit = "Wh" if _WATT_HOURS in units else "W"
    return Recording(minutes + summer * (dst_s // 60), values[:, None], unit, offsets, (), (), sent_out)


def _summer(standard_min: Any) -> Any:
    """Which minutes on the standard clock fall into summer time: from 02:00 on to 01:00 in autumn."""
    summer = np.zeros(len(standard_min), dtype=bool)
    for year in range(stamp_date(standard_min.min()).year, stamp_date(standard_min.max()).year + 1):
        spring, autumn = clock_changes(year)
        summer |= (standard_min >= spring) & (standard_min < autumn - 60)
    return summer


def _kind(thing: Element) -> _Kind:
    return _Kind(
        _text(thing, "uom", _WATT_HOURS),
        _whole(_text(thing, "powerOfTenMultiplier", "0"), 12),
        _text(thing, "flowDirection", "1"),
    )


def _whole(text: str, most: int) -> int:
    """A whole number of no more than so much either way. Raises ValueError."""
    if len(text) > 20 or not text.lstrip("+-").isascii() or not text.lstrip("+-").isdecimal() or abs(int(text)) > most:
        raise ValueError(f'"{text[:30]}" cannot stand where it does')
    return int(text)


def _text(thing: Element, name: str, otherwise: str) -> str:
    return next(((one.text or "").strip() for one in thing if _name(one) == name), otherwise)


def _name(element: Element) -> str:
    return str(element.tag).rpartition("}")[2]
