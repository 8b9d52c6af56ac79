"""The tape: a load calculation as a running list, one entry behind each line, the way it is done with a pencil."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from robust_ledger.ledger.entry import Citation, Entry, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.text import amount_text, number_text
from robust_ledger.ledger.working import Working


class TapeLine(Struct, frozen=True):
    """One line: amount × factor = result. Only `counted` lines run into the subtotal; the others are added up first."""

    group: str
    label: str
    amount: str
    factor: str
    result_va: float | None
    subtotal_va: float | None
    counted: bool
    entry_id: str
    place: Place
    cites: tuple[Citation, ...]


class Calculation(Struct, frozen=True):
    """A load calculation by one method: its tape, its total [VA] and the amperes [A] that follow.

    `general` is what the floor area, small-appliance and laundry circuits come to after demand [VA]; `factors` says
    by load id what part of its nameplate is counted. Both tell what each circuit is expected to carry. `practice` says which of
    several readings or practices was used, empty where there is one. `set_point_idle`: an energy management system comes to more than the
    loads it holds back count for, so that they count without it.
    """

    method: str
    title: str
    cite: Citation
    lines: tuple[TapeLine, ...]
    total: Entry
    amperes: Entry
    entries: tuple[Entry, ...]
    general: Entry
    factors: dict[str, Step]
    practice: str = ""
    set_point_idle: bool = False

    @property
    def division(self) -> Step:
        """The step that turns volt-amperes into amperes, before rounding."""
        return self.amperes.named("division")

    @property
    def rounding(self) -> Citation:
        """The section by which fractions of an ampere are dropped."""
        return self.amperes.named("rounding").cites[0]


class Tape:
    """Collects lines and entries while a calculation is being made."""

    def __init__(self, method: str) -> None:
        self.method = method
        self.lines: list[TapeLine] = []
        self.entries: list[Entry] = []
        self.counted: list[Entry] = []
        self.general: Entry | None = None
        self.factors: dict[str, Step] = {}

    def working(self, name: str, label: str, place: Place = NOWHERE) -> Working:
        """The working of a line of this tape."""
        return Working(f"load.{self.method}.{name}", label, place)

    def add(self, group: str, entry: Entry, amount: Step | str, factor: Step | str = "", counted: bool = True) -> Entry:
        """Write a line. A counted one runs into the subtotal, which is unknown from the first unknown line on."""
        self.entries.append(entry)
        if counted:
            self.counted.append(entry)
        known = all(e.known for e in self.counted)
        subtotal = sum(e.amount for e in self.counted) if known else None
        self.lines.append(
            TapeLine(
                group,
                entry.label,
                amount if isinstance(amount, str) else amount.text(),
                factor if isinstance(factor, str) else factor_text(factor),
                entry.amount if entry.known else None,
                subtotal if counted else None,
                counted,
                entry.id,
                entry.place,
                entry.cites,
            )
        )
        return entry

    def close(self, title: str, cite: Citation, line_volts: Step, rounding: Iterable[Citation]) -> Calculation:
        """Add up the counted lines and turn them into amperes at the service voltage [220.5(B)]."""
        work = Working(f"load.{self.method}.total", f"{title}: calculated load")
        assert self.general is not None, "a calculation begins with its general load"
        total_step = work.total(
            "calculated load", [work.entry_step(e) for e in self.counted] or [Step("nothing", 0, "VA")], "VA", [cite]
        )
        total = work.entry(total_step, [cite])
        amps = Working(f"load.{self.method}.amperes", f"{title}: amperes")
        load = amps.entry_step(total)
        exact = amps.quotient("at the service voltage", load, amps.take(line_volts), "A", name="division")
        rounded = amps.round_half_up("calculated load, rounded", exact, rounding)
        amperes = amps.entry(rounded, [cite, *rounding])
        return Calculation(
            self.method,
            title,
            cite,
            tuple(self.lines),
            total,
            amperes,
            (*self.entries, total, amperes),
            self.general,
            self.factors,
        )

    def count(self, load_ids: Iterable[str], counted: Entry, connected: Iterable[Entry], why: str) -> None:
        """Note what part of their nameplates the loads of one line are counted at."""
        plates = list(connected)
        known = counted.known and all(p.known for p in plates) and sum(p.amount for p in plates) > 0
        part = counted.amount / sum(p.amount for p in plates) if known else None
        for load_id in load_ids:
            self.factors[load_id] = Step(why, part, "", cites=counted.cites, place=Place.entry(counted.id))


def factor_text(step: Step) -> str:
    """A factor as written on the tape: "75%" for a bare ratio, "3 VA/ft²" for one with a unit."""
    if not step.known:
        return "?"
    if step.unit == "":
        return f"{number_text(step.amount * 100, 1)}%"
    return amount_text(step.value, step.unit)
