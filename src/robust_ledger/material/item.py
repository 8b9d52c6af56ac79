"""A line of the material list, and a piece of the cut list."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.job.keys import MAIN
from robust_ledger.job.parts.stock import Stock
from robust_ledger.ledger.entry import Entry


class Item(Struct, frozen=True):
    """Something to bring. `entry`: how many, with its working; `unit`: "" for pieces."""

    key: str
    group: str
    words: str
    entry: Entry

    @property
    def unit(self) -> str:
        """What it is counted in."""
        return self.entry.unit

    def to_buy(self, stock: Stock) -> float | None:
        """How many are left to buy; None while it is not known how many it takes."""
        if not self.entry.known:
            return None
        return max(0.0, self.entry.amount - stock.on_hand.get(self.key, 0.0))

    def price(self, stock: Stock) -> float | None:
        """What one costs; a breaker of another panel what it costs for the main one, as long as it has no price of its own."""
        own = stock.prices.get(self.key)
        kind, _panel, *rest = (*self.key.split(".", 2), "")
        return stock.prices.get(f"{kind}.{MAIN}.{rest[0]}") if own is None and kind == "breaker" else own

    def cost(self, stock: Stock) -> float | None:
        """What those cost; None while that is not known."""
        left, price = self.to_buy(stock), self.price(stock)
        if left == 0:
            return 0.0
        return None if left is None or price is None else left * price


class Cut(Struct, frozen=True):
    """A conductor to be cut: what, in which color, how long [ft] each, how many, and for where. `earth`: it goes to an electrode or a pipe;
    `run`: the key of its run."""

    wire: str
    color: str
    length_ft: float | None
    pieces: int
    where: str
    entry: Entry
    earth: bool = False
    run: str = ""


def total_cost(items: tuple[Item, ...], stock: Stock) -> tuple[float, int]:
    """What is to buy costs together, and of how many items that is not known."""
    costs = [item.cost(stock) for item in items]
    return sum(cost for cost in costs if cost is not None), sum(cost is None for cost in costs)
