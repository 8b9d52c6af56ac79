"""Reading numbers as they are typed into a field: each reader takes the text and gives the value, or says in one sentence what is wrong."""

from __future__ import annotations

import re
from collections.abc import Callable

from robust_ledger.job.parts.utility import FaultRow
from robust_ledger.ledger.text import is_whole


def read_count(low: int, high: int) -> Callable[[str], int]:
    """A reader for whole numbers from `low` to `high`."""

    def read(text: str) -> int:
        """The value, or ValueError with one sentence."""
        if not is_whole(text.strip()) or not low <= int(text) <= high:
            raise ValueError(f'"{text.strip()}" is not a whole number from {low} to {high}.')
        return int(text)

    return read


def read_number(low: float, high: float) -> Callable[[str], float | None]:
    """A reader for a figure between two bounds; empty means not known."""

    def read(text: str) -> float | None:
        """The value, or ValueError with one sentence."""
        words = text.strip().replace(",", "")
        if not words:
            return None
        try:
            value = float(words)
        except ValueError:
            raise ValueError(f'"{text.strip()}" is not a number.') from None
        if not low <= value <= high:
            raise ValueError(f"{words} is not between {low:g} and {high:,g}.")
        return value

    return read


def read_amps(text: str) -> float | None:
    """A reader for amperes; empty means not known."""
    words = text.strip().lower().removesuffix("a").strip()
    if not words:
        return None
    try:
        value = float(words)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a number of amperes.') from None
    if not 0 < value <= 600:
        raise ValueError(f"{words} A is not between 0 and 600 A.")
    return value


def read_aic(text: str) -> float | None:
    """A reader for an interrupting rating or a fault current: "22,000", "22k", "10 kA"; empty means not known."""
    bare = text.strip().lower().replace(",", "").removesuffix("aic").strip()
    words = bare.removesuffix("a").strip()
    if not words:
        return None
    thousands = words.endswith("k")
    try:
        value = float(words.removesuffix("k").strip()) * (1000 if thousands else 1)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a number of amperes.') from None
    if value < 1000:
        raise ValueError(f"{text.strip()} is no AIC rating; write 10,000 or 10k.")
    if value > 200_000:
        raise ValueError(f"{text.strip()} is above 200,000 A; no device has that.")
    return value


def amps_text(value: float) -> str:
    """Amperes as they are typed."""
    return f"{value:g}"


def read_ratings(text: str) -> tuple[float, ...]:
    """A reader for several ratings in amperes: "200, 150"."""
    parts = text.replace(",", " ").split()
    if len(parts) > 6:
        raise ValueError("A service has six disconnects at the most.")
    return tuple(value for part in parts if (value := read_amps(part)) is not None)


def ratings_text(ratings: tuple[float, ...]) -> str:
    """Ratings written so that `read_ratings` reads them back."""
    return ", ".join(f"{rating:g}" for rating in ratings)


def read_horsepower(text: str) -> float | None:
    """Horsepower of a motor; empty means not known. Raises ValueError with one sentence."""
    if not text.strip():
        return None
    try:
        value = float(text.lower().removesuffix("hp").strip())
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a number of horsepower.') from None
    if not 0 < value <= 20:
        raise ValueError(f"{text.strip()} hp is not a motor of a dwelling.")
    return value


def read_duty(text: str) -> float | None:
    """Duty cycle of a welder in percent; empty means it is none. Raises ValueError with one sentence."""
    words = text.strip().removesuffix("%").strip()
    if not words:
        return None
    try:
        value = float(words)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a duty cycle in percent.') from None
    if not 0 < value <= 100:
        raise ValueError(f"A duty cycle is above 0 and at most 100%, not {words}%.")
    return value


def read_seasonal_va(text: str) -> float:
    """A seasonal load [VA]; empty means none. Raises ValueError with one sentence."""
    words = text.lower().replace(",", "").removesuffix("va").strip() or "0"
    try:
        value = float(words)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a number of volt-amperes.') from None
    if not 0 <= value <= 96_000:
        raise ValueError("A seasonal load is between 0 and 96,000 VA.")
    return value


def read_power_factor(text: str) -> float:
    """A power factor from 0.5 to 1; empty means 1. Raises ValueError with one sentence."""
    try:
        value = float(text.strip() or "1")
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a power factor.') from None
    if not 0.5 <= value <= 1:
        raise ValueError("A power factor of a house is between 0.5 and 1.")
    return value


def read_temperature(text: str) -> float | None:
    """A temperature in °F ("104", "104 F") or °C ("40 C") as °C; empty means not known. Raises ValueError with one sentence."""
    words = text.strip().lower().replace("°", "").replace(" ", "")
    if not words:
        return None
    try:
        value = float(words.rstrip("fc"))
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not a temperature; write it like 104 or 40 C.') from None
    celsius = value if words.endswith("c") else round((value - 32) / 1.8, 1)
    if not -40 <= celsius <= 90:
        raise ValueError(f"{text.strip()} is not between -40 and 194 °F.")
    return celsius


def temperature_text(celsius: float) -> str:
    """A temperature kept in °C as it is read in °F: 40.0 → "104"."""
    return f"{round(celsius * 1.8 + 32, 1):g}"


def read_band(text: str) -> float:
    """How far the legs may differ [A]. Raises ValueError with one sentence."""
    value = read_number(0, 100)(text)
    if value is None:
        raise ValueError("How far the legs may differ, in amperes: 1 is usual, 0 the closest.")
    return value


def read_bus(text: str) -> float:
    """The rating of a bus [A]. Raises ValueError with one sentence."""
    value = read_amps(text)
    if value is None:
        raise ValueError("The bus rating stands on the panel's label.")
    return value


def read_added_area(text: str) -> float:
    """Floor area that is added, in the unit of the dwelling. Raises ValueError with one sentence."""
    words = text.replace(",", "").strip() or "0"
    try:
        value = float(words)
    except ValueError:
        raise ValueError(f'"{text.strip()}" is not an area, in the unit of the floor area.') from None
    if not 0 <= value <= 20_000:
        raise ValueError("An added area is between 0 and 20,000.")
    return value


def read_more_circuits(text: str) -> int:
    """How many small-appliance circuits come on top. Raises ValueError with one sentence."""
    words = text.strip() or "0"
    if not is_whole(words) or int(words) > 8:
        raise ValueError("Added small-appliance circuits are 0 to 8.")
    return int(words)


def read_outlets(text: str) -> int | None:
    """A number of outlets; empty means not counted. Raises ValueError with one sentence."""
    return read_count(0, 60)(text) if text.strip() else None


def read_tag(text: str) -> int | None:
    """A tag; empty means none. Raises ValueError with one sentence."""
    return read_count(1, 2000)(text) if text.strip() else None


def read_split(text: str) -> int | None:
    """A reader for a space that may not be told."""
    return read_count(2, 84)(text) if text.strip() else None


def read_names(text: str) -> tuple[str, ...]:
    """Names in their order, with commas or semicolons between: "Address, New service"."""
    return tuple(name.strip() for name in re.split(r"[,;]", text) if name.strip())


def names_text(names: tuple[str, ...]) -> str:
    """Names as they are typed."""
    return ", ".join(names)


def read_fault_table(text: str) -> tuple[FaultRow, ...]:
    """The utility's table of available fault currents: "200 A 10 kA, 400 A 22 kA"; empty: none. Raises ValueError."""
    made = []
    whole = re.sub(r"(?<=\d),(?=\d{3}(?!\d)(?!\s*a?[\s:=]+\d))", "", text, flags=re.I)  # 10,000 is one number
    for part in re.split(r"[,;]", whole):
        if not part.strip():
            continue
        match = re.fullmatch(r"\s*(?:up to )?(\d+(?:\.\d+)?)\s*a?\s*[:=]?\s+(.+)", part, re.I)
        fault_a = read_aic(match[2]) if match else None
        if match is None or fault_a is None:
            raise ValueError(f'"{part.strip()}" is no row of it; write it like 200 A 10 kA.')
        made.append(FaultRow(up_to_a=float(match[1]), fault_a=fault_a))
    return tuple(sorted(made, key=lambda row: row.up_to_a))


def fault_table_text(rows: tuple[FaultRow, ...]) -> str:
    """The table as it is typed."""
    return ", ".join(f"{row.up_to_a:g} A {row.fault_a / 1000:g} kA" for row in rows)
