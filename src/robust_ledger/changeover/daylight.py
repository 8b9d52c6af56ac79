"""Daylight by date and place, worked out without a network."""

from __future__ import annotations

from datetime import UTC, date

from robust_ledger.changeover.clock import DayClock


def daylight_min(day: date, latitude_deg: float, longitude_deg: float, zone: str = "") -> tuple[int, int]:
    """Sunrise and sunset as minutes of the day at a place. Raises ValueError where the sun does not rise or set that day."""
    from astral import Observer  # when a place is given: few jobs have one when they open
    from astral.sun import sunrise, sunset

    clock = DayClock(day, zone)
    observer = Observer(latitude_deg, longitude_deg, 0)
    zone_here = clock.moment(12 * 60).tzinfo or UTC
    try:
        up, down = sunrise(observer, day, tzinfo=zone_here), sunset(observer, day, tzinfo=zone_here)
    except ValueError:
        raise ValueError(f"The sun does not rise and set on {day.isoformat()} at that latitude.") from None
    return round(clock.minutes(up)), round(clock.minutes(down))
