"""What the room of the material answers with: items and cuts, worked out when first asked for."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from msgspec import Struct

from robust_ledger.changeover.torque import Parts
from robust_ledger.ledger.entry import Entry
from robust_ledger.ledger.room import Room
from robust_ledger.material.cuts import cuts_of
from robust_ledger.material.item import Cut, Item
from robust_ledger.material.items import items_of


class Material(Room, Struct, frozen=True, dict=True):
    """The material of a job."""

    parts: Parts
    lazy = ("material.",)

    @cached_property
    def entries(self) -> dict[str, Entry]:  # type: ignore[override]
        """None at once."""
        return {}

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """Every item, group by group."""
        return items_of(self.parts)

    @cached_property
    def cuts(self) -> tuple[Cut, ...]:
        """Every conductor to be cut."""
        return cuts_of(self.parts)

    @property
    def unknown(self) -> tuple[str, ...]:
        """Items of which it is not known how many it takes."""
        return tuple(item.words for item in self.items if not item.entry.known)

    def families(self) -> Iterator[Entry]:
        """Every item and every cut."""
        yield from (item.entry for item in self.items)
        yield from (cut.entry for cut in self.cuts)
