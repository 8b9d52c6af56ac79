"""Arrange: the best layout of the new panel, proven, as an integer program in lawful places only.

Fewest splices come first, then legs within their band, then wishes, then least surplus and movement; each level is solved with
the ones before it held. "Proven" means the solver closed its gap to nothing; a time-out is never called optimal.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.keys import CircuitKey
from robust_ledger.ledger.progress import Progress, go_on, unwatched

if TYPE_CHECKING:
    import numpy as np

TIGHT_BAND_A = 0.25
TIME_LIMIT_S = 10.0
ALL_LIMIT_S = 30.0  # for all that is weighed together
MOST_SEATS = 25_000  # 84 spaces with as many circuits have 7,000
INFEASIBLE = 2  # the solver's word for it
# A splice outweighs any imbalance, and a whole step of a wish any surplus: scales that cannot mix.
_EXCESS_SHARE, _SURPLUS_SHARE = 0.4, 0.4

FEWEST, BALANCED, CLOSEST, ONLY_SPLICES = "fewest splices", "best balance", "closest to the old order", "only splices"


class ArrangeError(Exception):
    """Why there is no answer; the text is meant for the user."""


class TooLongError(ArrangeError):
    """Time was up before anything was known; the text is meant for the user."""


class Seat(Struct, frozen=True):
    """One lawful place of an item: the position of each of its circuits, the spaces it covers (half a tandem by its letter), and
    what it costs: splices, amperes on leg A less those on B, wishes, surplus and movement [in]. `group` is the panel it is in, where
    several are arranged together; spaces are numbered through all of them."""

    positions: tuple[tuple[CircuitKey, str], ...]
    covers: tuple[int, ...]
    half: str
    splices: int
    tilt_a: float
    wish: float
    surplus: float
    order: float
    group: int = 0


class Item(Struct, frozen=True):
    """What is placed as one: a circuit, or two that share a neutral. `needed` False: a reservation, which may have to wait."""

    name: str
    keys: tuple[CircuitKey, ...]
    needed: bool
    seats: tuple[Seat, ...]


class Puzzle(Struct, frozen=True):
    """Everything the arrangement is made from. `groups`: the number of panels, each with legs of its own."""

    spaces: int
    items: tuple[Item, ...]
    band_a: float
    groups: int = 1


class Option(Struct, frozen=True):
    """One arrangement with what it costs. `gap` is what the solver has left unproven, 0 for proven; `left` are reservations
    that found no place; `groups` tells the panel of each circuit, where several are arranged together, `panels` its id. `imbalance_a`
    is that of the worst of them."""

    name: str
    placements: Mapping[CircuitKey, str]
    splices: int
    imbalance_a: float
    order: float
    tandems: int
    gap: float
    seconds: float
    left: tuple[str, ...] = ()
    groups: Mapping[CircuitKey, int] = {}
    panels: Mapping[CircuitKey, str] = {}

    @property
    def proven(self) -> bool:
        """Whether nothing better can be."""
        return self.gap <= 1e-6

    def moved_from(self, before: Mapping[CircuitKey, str]) -> int:
        """How many circuits sit elsewhere than before."""
        return sum(1 for key, position in self.placements.items() if before.get(key) != position)


class Answer(Struct, frozen=True):
    """Two or three arrangements that no other one beats in everything, the first with fewest splices; or none, with the smallest
    set of demands that cannot hold together, or what would make room."""

    options: tuple[Option, ...]
    conflict: tuple[str, ...] = ()
    seconds: float = 0.0


class _Model:
    """The program: a column for every seat of every item, one for each space that holds a tandem, and for each panel one for the excess
    of the legs over their band."""

    def __init__(self, puzzle: Puzzle, halves: bool, reserve_all: bool) -> None:
        import numpy as np
        from scipy.sparse import csr_matrix

        self.puzzle, self.np = puzzle, np
        self.seats = [
            (number, seat) for number, item in enumerate(puzzle.items) for seat in item.seats if halves or not seat.half
        ]
        self.tandems = sorted({seat.covers[0] for _, seat in self.seats if seat.half})
        self.count = len(self.seats)
        self.size = self.count + len(self.tandems) + puzzle.groups
        self.excesses = slice(self.size - puzzle.groups, self.size)
        rows: list[tuple[dict[int, float], float, float]] = []
        of_item: list[dict[int, float]] = [{} for _ in puzzle.items]
        for n, (owner, _) in enumerate(self.seats):
            of_item[owner][n] = 1.0
        for item, columns in zip(puzzle.items, of_item, strict=True):
            rows.append((columns, 1.0 if item.needed or reserve_all else 0.0, 1.0))
        rows += self._space_rows()
        band = puzzle.band_a
        for group in range(puzzle.groups):
            excess = self.size - puzzle.groups + group
            tilts = {n: s.tilt_a for n, (_, s) in enumerate(self.seats) if s.tilt_a and s.group == group}
            rows.append(({**tilts, excess: -1.0}, -np.inf, band))
            rows.append(({**tilts, excess: 1.0}, -band, np.inf))
        self.low, self.high = np.array([r[1] for r in rows]), np.array([r[2] for r in rows])
        data = [(value, row, column) for row, (columns, _, _) in enumerate(rows) for column, value in columns.items()]
        values, row_of_, column_of = zip(*data, strict=True)
        self.matrix = csr_matrix((values, (row_of_, column_of)), shape=(len(rows), self.size))
        self.extra: list[tuple[np.ndarray, float]] = []
        self.upper = np.ones(self.size)
        self.upper[self.excesses] = np.inf
        self.owner = np.array([number for number, _ in self.seats], dtype=np.int64)
        self.least_excess = [max(0.0, least_tilt_a(puzzle, group) - band) for group in range(puzzle.groups)]

    def _space_rows(self) -> list[tuple[dict[int, float], float, float]]:
        rows = []
        whole: dict[int, dict[int, float]] = {}
        half: dict[tuple[int, str], dict[int, float]] = {}
        for n, (_, seat) in enumerate(self.seats):
            if seat.half:
                half.setdefault((seat.covers[0], seat.half), {})[n] = 1.0
            else:
                for space in seat.covers:
                    whole.setdefault(space, {})[n] = 1.0
        for number, space in enumerate(self.tandems):
            whole.setdefault(space, {})[self.count + number] = 1.0
        for columns in whole.values():
            rows.append((columns, 0.0, 1.0))
        place_of = {space: self.count + number for number, space in enumerate(self.tandems)}
        for (space, _), columns in half.items():
            rows.append(({**columns, place_of[space]: -1.0}, -1.0, 0.0))
        return rows

    def cost(self, value: Callable[[Seat], float]) -> np.ndarray:
        made = self.np.zeros(self.size)
        made[: self.count] = [value(seat) for _, seat in self.seats]
        return made

    def excess(self, weight: float) -> np.ndarray:
        made = self.np.zeros(self.size)
        made[self.excesses] = weight
        return made

    def tandem_cost(self) -> np.ndarray:
        made = self.np.zeros(self.size)
        made[self.count : self.excesses.start] = 1.0
        return made

    def hold(self, cost: np.ndarray, most: float) -> None:
        """From here on this cost may not rise above what was reached."""
        self.extra.append((cost, most))
        self._leave_out(cost, most)

    def _leave_out(self, cost: np.ndarray, most: float) -> None:
        """Seats that cost more than is left when every other item has its cheapest one cannot be in any answer."""
        np, own = self.np, cost[: self.count]
        if not self.count or own.min() < 0:
            return
        least = np.full(len(self.puzzle.items), np.inf)
        np.minimum.at(least, self.owner, own)
        for number, item in enumerate(self.puzzle.items):
            if not item.needed or not np.isfinite(least[number]):
                least[number] = 0.0
        spare = most - float(least.sum()) + 1e-6
        self.upper[: self.count][own - least[self.owner] > spare] = 0.0

    def solve(self, cost: np.ndarray, limit_s: float) -> tuple[np.ndarray | None, float]:
        """The best point and the gap left; None when nothing fits. Raises TooLongError when time is up before either is known."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        np = self.np
        constraints = [LinearConstraint(self.matrix, self.low, self.high)]
        if self.extra:
            table = np.array([row for row, _ in self.extra])
            constraints.append(LinearConstraint(table, -np.inf, np.array([most for _, most in self.extra])))
        whole = np.ones(self.size)
        whole[self.excesses] = 0
        lower = np.zeros(self.size)
        lower[self.excesses] = self.least_excess
        result = milp(
            cost,
            integrality=whole,
            bounds=Bounds(lower, self.upper),
            constraints=constraints,
            options={"time_limit": limit_s, "mip_rel_gap": 0.0},
        )
        if result.x is None:
            if result.status != INFEASIBLE:
                raise TooLongError(
                    f"No layout was found within {limit_s:.0f} s, and none was proven impossible; nothing was changed."
                )
            return None, 0.0
        gap = abs(float(result.fun) - float(result.mip_dual_bound)) if result.status != 0 else 0.0
        return result.x, gap


def least_tilt_a(puzzle: Puzzle, group: int = 0) -> float:
    """The least difference of a panel's legs that any choice of leg for each item can give [A], whatever space it gets: sums of
    hundredths of an ampere as bits of one whole number. Without this bound the solver would halve spaces for minutes to prove it."""
    sums, offset = 1, 0  # bit n stands for the sum n − offset
    for item in puzzle.items:
        tilts = {round(seat.tilt_a * 100) for seat in item.seats if seat.group == group}
        if not item.needed or any(seat.group != group for seat in item.seats):
            tilts.add(0)
        if not tilts:
            continue
        lowest = min(tilts)
        after = 0
        for tilt in tilts:
            after |= sums << (tilt - lowest)
        sums, offset = after, offset - lowest
    above = sums >> offset if offset >= 0 else sums << -offset
    below = sums & ((1 << (offset + 1)) - 1) if offset >= 0 else 0
    nearest = [(above & -above).bit_length() - 1] if above else []
    nearest += [offset - (below.bit_length() - 1)] if below else []
    return min(nearest) / 100 if nearest else 0.0


def solve(puzzle: Puzzle, progress: Progress = unwatched, limit_s: float = TIME_LIMIT_S) -> Answer:
    """Arrange: the job's own order of wants, then the same with the tightest legs, then closest to the old order.

    Raises CanceledError once `progress` answers False. What was not weighed when the time for all of it is up is left out.
    """
    start = time.perf_counter()
    made: list[Option] = []
    for number, name in enumerate((FEWEST, BALANCED, CLOSEST)):
        go_on(progress, 0.05 + 0.3 * number)
        left_s = ALL_LIMIT_S - (time.perf_counter() - start)
        if made and left_s < 1.0:
            break
        band = min(TIGHT_BAND_A, puzzle.band_a) if name == BALANCED else puzzle.band_a
        try:
            option = _option(name, replace(puzzle, band_a=band), progress, min(limit_s, max(1.0, left_s / 3)))
        except TooLongError:
            if not made:
                raise
            break  # the layouts before it stand
        if option is None:
            break
        if not any(dict(option.placements) == dict(one.placements) or _beats(one, option) for one in made):
            made.append(option)
    return Answer(tuple(made), seconds=time.perf_counter() - start)


def _beats(one: Option, other: Option) -> bool:
    """Whether an arrangement is as good in everything that counts."""
    return (
        one.splices <= other.splices
        and one.imbalance_a <= other.imbalance_a + 1e-6
        and one.order <= other.order + 1e-6
        and one.tandems <= other.tandems
    )


def _option(name: str, puzzle: Puzzle, progress: Progress, limit_s: float) -> Option | None:
    start = time.perf_counter()
    found = _first_level(name, puzzle, limit_s)
    if found is None:
        return None
    model, point, gap = found
    go_on(progress, 0.5)
    point, more = _later_levels(name, model, point, limit_s)
    seats = [seat for value, (_, seat) in zip(point, model.seats, strict=False) if value > 0.5]
    placed = {key: position for seat in seats for key, position in seat.positions}
    left = tuple(item.name for item in puzzle.items if not item.needed and item.keys[0] not in placed)
    return Option(
        name,
        placed,
        sum(seat.splices for seat in seats),
        max(abs(sum(seat.tilt_a for seat in seats if seat.group == group)) for group in range(puzzle.groups)),
        sum(seat.order for seat in seats),
        len({seat.covers[0] for seat in seats if seat.half}),
        max(gap, more),
        time.perf_counter() - start,
        left,
        {key: seat.group for seat in seats for key, _ in seat.positions} if puzzle.groups > 1 else {},
    )


def _first_level(name: str, puzzle: Puzzle, limit_s: float) -> tuple[_Model, np.ndarray, float] | None:
    """Everything placed, then fewest splices with legs in their band. Whole spaces with every reservation are tried first; a
    reservation is given up before a tandem is used."""
    for halves, reserve_all in ((False, True), (False, False), (True, False)):
        if halves and not any(seat.half for item in puzzle.items for seat in item.seats):
            break
        model = _Model(puzzle, halves, reserve_all)
        if not reserve_all:
            few = model.tandem_cost() * len(puzzle.items)
            keep = model.np.zeros(model.size)
            keep[: model.count] = [0.0 if puzzle.items[owner].needed else -1.0 for owner, _ in model.seats]
            point, gap = model.solve(few + keep, limit_s)
            if point is None:
                continue
            model.hold(few + keep, float((few + keep) @ point) + 0.5)
        whole = sum(abs(seat.tilt_a) for item in puzzle.items for seat in item.seats[:1]) + 1.0
        cost = model.cost(lambda seat: seat.order if name == CLOSEST else float(seat.splices))
        if name != ONLY_SPLICES:
            cost = cost + model.excess(_EXCESS_SHARE / whole)
        point, gap = model.solve(cost, limit_s)
        if point is not None:
            model.hold(cost, float(cost @ point) + 1e-6)
            return model, point, gap
    return None


def _later_levels(name: str, model: _Model, point: np.ndarray, limit_s: float) -> tuple[np.ndarray, float]:
    """Splices where the old order came first, then wishes, then surplus and movement as a part of the same solve."""
    most = sum(max((seat.surplus for seat in item.seats), default=0.0) for item in model.puzzle.items) + 1.0
    levels = [(model.cost(lambda seat: float(seat.splices)), 0.5)] if name == CLOSEST else []
    levels.append((model.cost(lambda seat: seat.wish + _SURPLUS_SHARE * seat.surplus / most), 0.0))
    gap = 0.0
    for cost, slack in levels:
        try:
            found, more = model.solve(cost, limit_s)
        except TooLongError:  # what the levels before it found stands, unproven from here on
            return point, float("inf")
        gap = max(gap, more)
        if found is not None:
            point = found
            model.hold(cost, float(cost @ point) + slack + 1e-6)
    return point, gap


def fewest_splices(puzzle: Puzzle, limit_s: float = TIME_LIMIT_S) -> int | None:
    """Only the first level: how many splices cannot be avoided; None when not everything fits, or time is up before that is known."""
    try:
        found = _first_level(ONLY_SPLICES, puzzle, limit_s)
    except TooLongError:
        return None
    if found is None:
        return None
    model, point, _ = found
    return round(float(model.cost(lambda seat: float(seat.splices)) @ point))
