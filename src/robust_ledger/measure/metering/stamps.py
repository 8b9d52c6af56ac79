"""Dates and times as utilities write them, and the changes of the clock in spring and autumn."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date, datetime, timedelta

_EPOCH = date(1970, 1, 1).toordinal()
_DATE = re.compile(r"^\s*(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})(?:[T ,]|$)")
_TIME = re.compile(
    r"^\s*(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?\s*([ap]\.?m\.?)?\s*(z|utc|[+-]\d{2}:?\d{2})?\s*(?:-.*)?$", re.I
)


_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_NAME = "|".join(_MONTHS)
_RUN_ON = re.compile(r"^\s*((?:19|20)\d\d)(0[1-9]|1[0-2])([0-2]\d|3[01])(?=[T ,]|$)")
_DAY_FIRST = re.compile(
    rf"^\s*(?:[a-z]{{3,9}},?\s+)?(\d{{1,2}})[-/. ]({_NAME})[a-z]*\.?,?[-/. ](\d{{4}}|\d\d)(?=[T ,]|$)", re.I
)
_NAME_FIRST = re.compile(
    rf"^\s*(?:[a-z]{{3,9}},?\s+)?({_NAME})[a-z]*\.?[-/. ](\d{{1,2}}),?[-/. ](\d{{4}}|\d\d)(?=[T ,]|$)", re.I
)
_SHORT_YEAR = re.compile(r"^\s*\d{1,2}/\d{1,2}/\d{2}(?:[ ,]|$)")


def in_figures(cell: str) -> str:
    """A cell that begins with a date run together, or with the name of its month, with that date in figures: "20250601", "Jun 1, 2025 12:15 AM",
    "01-Jun-25". Any other as it is."""
    if _DATE.match(cell):
        return cell
    if match := _RUN_ON.match(cell):
        return f"{match[1]}-{match[2]}-{match[3]}{cell[match.end() :]}"
    for pattern, day, month in ((_DAY_FIRST, 1, 2), (_NAME_FIRST, 2, 1)):
        if match := pattern.match(cell):
            year = match[3] if len(match[3]) == 4 else f"20{match[3]}"
            number = _MONTHS.index(match[month].lower()) + 1
            return f"{year}-{number:02}-{int(match[day]):02}{cell[match.end() :]}"
    return cell


def looks_like_date(cell: str) -> bool:
    """Whether a cell is a date: with a year of four figures or the name of its month, or of two figures between slashes."""
    match = _DATE.match(in_figures(cell))
    return match is not None and (any(len(part) == 4 for part in match.groups()) or bool(_SHORT_YEAR.match(cell)))


def looks_like_time(cell: str) -> bool:
    """Whether a cell is a time of day."""
    return bool(_TIME.match(cell))


def guess_date_order(cells: Sequence[str]) -> tuple[str, bool]:
    """ "ymd", "mdy" or "dmy", and whether it is certain: without a day above 12 the latter two look alike."""
    parts = [match.groups() for cell in cells if (match := _DATE.match(in_figures(cell)))]
    if any(len(part[0]) == 4 for part in parts):
        return "ymd", True
    firsts, seconds = {int(one[0]) for one in parts}, {int(one[1]) for one in parts}
    if max(firsts, default=0) > 12:
        return "dmy", True
    if max(seconds, default=0) > 12:
        return "mdy", True
    # Within one day's rows both stand still; the one that moves faster is the day.
    return ("dmy", True) if len(firsts) > len(seconds) else ("mdy", len(seconds) > len(firsts))


class StampReader:
    """Reads a date and a time into minutes since 1970 on the wall clock; remembers what it has seen, since a year has
    few dates and a day few times. `zoned` once a stamp has told its distance from universal time."""

    def __init__(self, order: str) -> None:
        self.order, self.zoned = order, False
        self._days: dict[str, int] = {}
        self._times: dict[str, tuple[int, int]] = {}

    def read(self, day: str, time: str = "") -> tuple[int, int]:
        """Minutes, and the offset from universal time (0 where none is given). Raises ValueError."""
        if not time:
            day = in_figures(day.strip())
            cut = day.find("T")
            if cut < 0:
                cut = day.find(" ")
            if cut < 0:
                raise ValueError(day)
            day, time = day[:cut].rstrip(","), day[cut + 1 :]
        minutes = self._days.get(day)
        if minutes is None:
            minutes = self._days[day] = self._day(day)
        found = self._times.get(time)
        if found is None:
            found = self._times[time] = self._time(time)
        return minutes + found[0], found[1]

    def _day(self, text: str) -> int:
        match = _DATE.match(in_figures(text))
        if not match:
            raise ValueError(text)
        numbers = dict(zip(self.order, map(int, match.groups()), strict=True))
        year = numbers["y"] + (2000 if numbers["y"] < 100 else 0)
        return (date(year, numbers["m"], numbers["d"]).toordinal() - _EPOCH) * 1440

    def _time(self, text: str) -> tuple[int, int]:
        match = _TIME.match(text)
        if not match:
            raise ValueError(text)
        hour, minute = int(match[1]), int(match[2])
        if match[4]:
            hour = hour % 12 + (12 if match[4].lower().startswith("p") else 0)
        if hour > 24 or minute > 59:
            raise ValueError(text)
        zone = match[5]
        if zone is None:
            return hour * 60 + minute, 0
        self.zoned = True
        if zone[0] not in "+-":
            return hour * 60 + minute, 0
        digits = zone[1:].replace(":", "")
        offset = int(digits[:2]) * 60 + int(digits[2:])
        return hour * 60 + minute, offset if zone[0] == "+" else -offset


def clock_changes(year: int) -> tuple[int, int]:
    """Minutes since 1970 at which clocks go forward and back in that year: 02:00 on the second Sunday of March and on
    the first Sunday of November."""
    march, november = date(year, 3, 1), date(year, 11, 1)
    spring = march + timedelta(days=(6 - march.weekday()) % 7 + 7)
    autumn = november + timedelta(days=(6 - november.weekday()) % 7)
    return tuple((day.toordinal() - _EPOCH) * 1440 + 120 for day in (spring, autumn))  # type: ignore[return-value]


def stamp_text(minutes: float) -> str:
    """Minutes since 1970 as a local date and time: "2025-07-18 18:15"."""
    return (datetime(1970, 1, 1) + timedelta(minutes=float(minutes))).strftime("%Y-%m-%d %H:%M")


def stamp_date(minutes: float) -> date:
    """The date of a stamp in minutes."""
    return (datetime(1970, 1, 1) + timedelta(minutes=float(minutes))).date()
