"""Reading amounts as people write them: "7.2kW", "30A@240", "1,940 sqft", "180 m2"."""

from __future__ import annotations

import math
import re
from typing import Literal

from robust_ledger.job.parts.house import Nameplate

_NUMBER = r"(\d[\d,]*\.?\d*|\.\d+)"
_NAMEPLATE = re.compile(
    rf"^(-?){_NUMBER}\s*(kw|kva|w|va|v·a|watts?|a|amps?|hp)?\s*(?:(?:@|at|x|×)\s*{_NUMBER}\s*v?(?:olts?)?)?$", re.I
)
_AREA = re.compile(rf"^(-?){_NUMBER}\s*(sq\.?\s*ft\.?|sqft|ft2|ft²|sf|sq\.?\s*m\.?|m2|m²)?$", re.I)


class QuantityError(ValueError):
    """Text that is not such an amount; the message is one sentence for the field it was typed in."""


def read_nameplate(text: str, volts: float) -> Nameplate:
    """Read a nameplate rating; without "@ volts" it keeps `volts`. A bare number is VA.

    Raises QuantityError for text that is no rating, for a rating of zero or less, and for one no dwelling can hold.
    """
    match = _NAMEPLATE.match(text.strip())
    if not match:
        raise QuantityError(f'"{text.strip()}" is not a rating; write it like 7.2kW, 1500VA or 30A@240.')
    sign, number, unit, at = match.groups()
    amount = _number(number)
    at_volts = _number(at) if at else volts
    unit = (unit or "va").lower()
    kind: Literal["VA", "kW", "A", "hp"] = "kW" if unit.startswith("k") else "A" if unit.startswith("a") else "VA"
    if unit == "hp":
        kind = "hp"
    if sign or amount <= 0:
        raise QuantityError("A nameplate rating is more than zero.")
    if at_volts not in (115, 120, 208, 220, 230, 240):
        raise QuantityError(f"{at_volts:g} V is not a voltage of this service; use 120, 208 or 240 (or 115, 220, 230).")
    if kind == "hp" and amount > 10:
        raise QuantityError(f"{text.strip()} is no single-phase motor of the table, which ends at 10 hp.")
    va = amount * {"VA": 1, "kW": 1000, "A": at_volts, "hp": 746}[kind]
    if va > 96_000:
        raise QuantityError(f"{text.strip()} is more than a 400 A service carries; read the nameplate again.")
    return Nameplate(amount=amount, unit=kind, volts=at_volts)


def nameplate_text(nameplate: Nameplate) -> str:
    """Write a rating so that `read_nameplate` reads the same one back."""
    if nameplate.amount is None:
        return ""
    return f"{nameplate.amount:g} {nameplate.unit} @ {nameplate.volts:g}"


def read_area(text: str, unit: Literal["ft2", "m2"]) -> tuple[float, Literal["ft2", "m2"]]:
    """Read a floor area; without a unit it keeps `unit`. Raises QuantityError."""
    match = _AREA.match(text.strip())
    if not match:
        raise QuantityError(f'"{text.strip()}" is not an area; write it like 1,720 ft2 or 160 m2.')
    sign, number, written = match.groups()
    area = _number(number)
    if written:
        unit = "m2" if "m" in written.lower() else "ft2"
    if sign or area <= 0:
        raise QuantityError("A floor area is more than zero.")
    if area > (20_000 if unit == "ft2" else 1_900):
        raise QuantityError(f"{text.strip()} is larger than any one dwelling this tool is made for.")
    return area, unit


def _number(text: str) -> float:
    value = float(text.replace(",", ""))
    if not math.isfinite(value):
        raise QuantityError(f'"{text}" is not a number.')
    return value


_FEET = re.compile(r"""^\s*(\d+\.?\d*)\s*(?:'|ft|feet)\s*(?:(\d+\.?\d*)\s*(?:"|in|inch|inches)?)?\s*$""", re.I)
_INCHES = re.compile(r"""^\s*(\d+\.?\d*)(?:\s+(\d{1,3})/(\d{1,3}))?\s*("|in|inch|inches|cm|m)?\s*$""", re.I)


def read_signed_inches(text: str, most: float = 2400) -> float | None:
    """The same for a distance that may go the other way, with a minus before it. Raises QuantityError."""
    bare = text.strip()
    value = read_inches(bare.removeprefix("-").removeprefix("−"), most)
    return -value if value is not None and bare[:1] in ("-", "−") else value


def read_inches(text: str, most: float) -> float | None:
    """Read a length in inches: "79", "6'7"", "6 ft 7 in", "14 1/2 in", "200 cm", "2 m"; empty means not known.

    Raises QuantityError for text that is no length, and for one above `most` [in].
    """
    if not text.strip():
        return None
    if match := _FEET.match(text):
        value = _number(match[1]) * 12 + (_number(match[2]) if match[2] else 0)
    elif match := _INCHES.match(text):
        value = _number(match[1])
        if match[2]:
            if int(match[3]) == 0:
                raise QuantityError(f'"{text.strip()}" divides by zero.')
            value += int(match[2]) / int(match[3])
        value /= {"cm": 2.54, "m": 0.0254}.get((match[4] or "").lower(), 1)
    else:
        raise QuantityError(f'"{text.strip()}" is not a length; write it like 79, 6\'7" or 200 cm.')
    value = round(value, 2)
    if value > most:
        raise QuantityError(f"{text.strip()} is more than {most:g} in; measure again.")
    return value


def read_feet(text: str, most: float) -> float | None:
    """Read a length in feet: "12", "12 ft", "12'6"", "3.7 m"; empty means not known. Raises QuantityError."""
    bare = re.fullmatch(r"\s*(\d+\.?\d*)\s*", text)
    inches = _number(bare[1]) * 12 if bare else read_inches(text, float("inf"))
    if inches is None:
        return None
    feet = round(inches / 12, 3)
    if feet > most:
        raise QuantityError(f"{text.strip()} is more than {most:g} ft; measure again.")
    return feet


def length_text(value: float) -> str:
    """A length as it is read back: "79", "14.5"."""
    return f"{round(value, 3):g}"
