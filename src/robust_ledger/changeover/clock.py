"""Times of day as minutes from midnight, read and written; past midnight they go on from 24:00. In the night the clocks change, minutes go on
as they pass, and the wall clock is told for them."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import lru_cache
from zoneinfo import ZoneInfo

from msgspec import Struct

_CLOCK = re.compile(r"\s*(\d{1,2})(?::?(\d{2}))?\s*(am|pm|a|p)?\s*", re.I)
DAY_MIN = 24 * 60


def now() -> datetime:
    """This moment, with its distance from UTC. Whatever asks for the time asks here."""
    return datetime.now().astimezone()


def read_clock(text: str) -> int:
    """ "8:00", "5 pm", "1730" as minutes from midnight. Raises ValueError with one sentence."""
    match = _CLOCK.fullmatch(text)
    hours, minutes = (int(match[1]), int(match[2] or 0)) if match else (99, 0)
    half = (match[3] or "").lower()[:1] if match else ""
    if half and not 1 <= hours <= 12:
        hours = 99
    elif half:
        hours = hours % 12 + (12 if half == "p" else 0)
    if hours > 23 or minutes > 59:
        raise ValueError(f'"{text.strip()}" is no time of day; write it like 8:00 or 5 pm.')
    return 60 * hours + minutes


def clock_text(minutes: float) -> str:
    """Minutes from midnight as a clock shows them: "5:05 pm", after midnight "12:20 am (next day)"."""
    whole = round(minutes)
    days, rest = divmod(whole, DAY_MIN)
    hours, minute = divmod(rest, 60)
    text = f"{(hours + 11) % 12 + 1}:{minute:02d} {'am' if hours < 12 else 'pm'}"
    return text if days <= 0 else f"{text} ({'next day' if days == 1 else f'{days} days later'})"


@lru_cache(maxsize=64)
def zone_of(name: str) -> tzinfo:
    """A time zone by its place, "America/Denver". Raises ValueError with one sentence."""
    try:
        return ZoneInfo(name)
    except Exception:
        raise ValueError(f'"{name}" is no time zone; write it like America/Denver.') from None


class DayClock(Struct, frozen=True):
    """The clock of one day at one place: minutes that have passed since its midnight, against the clock on the wall. `zone`: "" for that of
    the machine."""

    day: date
    zone: str = ""

    @property
    def midnight(self) -> datetime:
        """The beginning of the day."""
        if self.zone:
            return datetime(self.day.year, self.day.month, self.day.day, tzinfo=zone_of(self.zone))
        return datetime(self.day.year, self.day.month, self.day.day).astimezone()

    def minutes(self, at: datetime) -> float:
        """Minutes that have passed since midnight at a moment, which knows its distance from UTC."""
        return _apart_min(at, self.midnight)

    def moment(self, minutes: float) -> datetime:
        """The moment so many minutes after midnight, on the wall clock."""
        begin = self.midnight
        return (begin.astimezone(UTC) + timedelta(minutes=minutes)).astimezone(begin.tzinfo)

    def wall_min(self, minutes: float) -> float:
        """What the wall clock shows so many minutes after midnight, as minutes of the day: the same, but in the night the clocks change."""
        at = self.moment(minutes)
        days = (at.date() - self.day).days
        return days * DAY_MIN + at.hour * 60 + at.minute + at.second / 60

    def passed_min(self, wall_min: float) -> float:
        """Minutes that have passed when the wall clock shows so many; the other way round."""
        days, rest = divmod(wall_min, DAY_MIN)
        begin = self.midnight
        wall = datetime(self.day.year, self.day.month, self.day.day) + timedelta(days=days, minutes=rest)
        at = wall.replace(tzinfo=begin.tzinfo) if self.zone else wall.astimezone()
        return _apart_min(at, begin)

    def text(self, minutes: float) -> str:
        """The wall clock so many minutes after midnight: "5:05 pm"."""
        return clock_text(self.wall_min(minutes))


def _apart_min(later: datetime, earlier: datetime) -> float:
    """Minutes between two moments: by UTC, as two times of one zone would be taken apart by the wall clock."""
    return (later.astimezone(UTC) - earlier.astimezone(UTC)).total_seconds() / 60


def read_date(text: str) -> str:
    """A date as it is kept: "2026-12-01", from that or "12/1/2026". Raises ValueError with one sentence."""
    words = text.strip()
    if not words:
        return ""
    if match := re.fullmatch(r"(\d{1,2})/(\d{1,2})/(\d{4})", words):
        words = f"{match[3]}-{int(match[1]):02d}-{int(match[2]):02d}"
    try:
        return date.fromisoformat(words).isoformat()
    except ValueError:
        raise ValueError(f'"{text.strip()}" is no date; write it like 2026-12-01 or 12/1/2026.') from None
