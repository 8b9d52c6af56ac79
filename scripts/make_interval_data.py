"""Make the recordings that ship with the demo, from its own simulated house: a clean year, eleven months with everything
wrong that a recording can have, and 32 days of both legs. All made up; the same every time."""

from __future__ import annotations

import sys
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np

from robust_ledger.job.files import read_job
from robust_ledger.load.whatif import today
from robust_ledger.measure.metering.stamps import clock_changes
from robust_ledger.measure.simulate.house import house_of
from robust_ledger.measure.simulate.year import simulate_year
from robust_ledger.plan import plan

YEAR = 2025
SEED = 1958


def wall_clock(minutes: np.ndarray) -> list[datetime]:
    """Minutes of the year on the standard clock as local time, an hour ahead in summer."""
    spring, autumn = clock_changes(YEAR)
    first = (datetime(YEAR, 1, 1) - datetime(1970, 1, 1)).total_seconds() / 60
    begin = datetime(YEAR, 1, 1)
    return [
        begin + timedelta(minutes=int(m) + (60 if spring <= first + m < autumn - 60 else 0)) for m in minutes.tolist()
    ]


def clean_year(legs: np.ndarray) -> str:
    kwh = legs.sum(axis=0).reshape(-1, 15).mean(axis=1) * 120 / 1000 / 4
    rows = [
        f"{at:%Y-%m-%d %H:%M},{value:.3f}" for at, value in zip(wall_clock(np.arange(len(kwh)) * 15), kwh, strict=True)
    ]
    return "\n".join(["interval start,usage kWh", *rows]) + "\n"


def dirty_months(legs: np.ndarray) -> str:
    """30-minute averages from January to November, a comma for the point, and all that goes wrong."""
    kw = legs.sum(axis=0).reshape(-1, 30).mean(axis=1) * 120 / 1000
    rng = np.random.default_rng(SEED)
    rows = []
    for n, at in enumerate(wall_clock(np.arange(len(kw)) * 30)):
        if at.month == 12:
            break
        value = kw[n]
        if at.month == 6 and 10 <= at.hour < 15 and at.day in (7, 8):
            value = -1.5 - rng.random()  # a neighbor's trial of solar panels
        if (at.month, at.day, at.hour, at.minute) == (4, 3, 2, 30):
            value = 64.0  # the meter was changed
        if (at.month, at.day) == (2, 14) and at.hour < 6:
            value = 0.0  # a storm
        if (at.month, at.day) in ((5, 20), (5, 21)) or (at.month == 9 and at.day == 3 and at.hour == 7):
            continue
        text = f"{value:.2f}".replace(".", ",")
        if (at.month, at.day, at.hour) == (7, 4, 12):
            text = "n/a"
        row = f"{at:%d.%m.%Y};{at:%H:%M};{text};{9 + 6 * rng.random():.0f}"
        rows.append(row)
        if (at.month, at.day, at.hour, at.minute) == (3, 18, 9, 0):
            rows.append(row)
        if (at.month, at.day, at.hour, at.minute) == (10, 9, 18, 30):
            other = f"{value + 1.1:.2f}".replace(".", ",")
            rows.append(f"{at:%d.%m.%Y};{at:%H:%M};{other};11")
    head = ["Statement of a made-up utility", "Meter 00-0000", "", "Day;Time;Average kW;Outdoor C"]
    return "\n".join([*head, *rows]) + "\n"


def leg_recorder(legs: np.ndarray) -> str:
    """32 days of the recorder on both legs, in amperes, 15-minute averages, in the cold season."""
    first = 10
    amps = legs[:, first * 1440 : (first + 32) * 1440].reshape(2, -1, 15).mean(axis=2)
    begin = datetime(YEAR, 1, 1) + timedelta(days=first)
    rows = [
        f"{begin + timedelta(minutes=15 * n):%m/%d/%Y %I:%M %p}\t{a:.1f}\t{b:.1f}"
        for n, (a, b) in enumerate(zip(*amps.tolist(), strict=True))
    ]
    return "\n".join(["Time\tLeg A amps\tLeg B amps", *rows]) + "\n"


def main(job_file: Path, folder: Path) -> None:
    house = house_of(plan(today(read_job(job_file))))
    assert house is not None
    legs = simulate_year(house, SEED).legs
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "clean-year.csv").write_text(clean_year(legs), encoding="utf-8")
    (folder / "dirty-eleven-months.csv").write_text(dirty_months(legs), encoding="utf-8")
    (folder / "leg-recorder-32-days.txt").write_text(leg_recorder(legs), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
