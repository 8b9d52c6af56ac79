"""What every room of the plan answers with: its entries, and families of entries that are worked out when first asked for."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar

from robust_ledger.ledger.entry import Entry


class Room:
    """Base of the rooms' results. `entries` are there at once, by their ids; `lazy` are the beginnings of the ids of those that are
    worked out on asking: one alone where `one_of_family` knows how, else all of them together by `families`."""

    lazy: ClassVar[tuple[str, ...]] = ()
    entries: dict[str, Entry]

    def families(self) -> Iterator[Entry]:
        """Every entry that is worked out on asking."""
        return iter(())

    def one_of_family(self, entry_id: str) -> Entry | None:
        """One of them; None when there is none of that id."""
        return next((entry for entry in self.families() if entry.id == entry_id), None)

    def entry(self, entry_id: str) -> Entry | None:
        """An entry of this room by its id."""
        if entry_id.startswith(self.lazy or ("\0",)):
            return self.one_of_family(entry_id)
        return self.entries.get(entry_id)


def by_id(*entries: Entry) -> dict[str, Entry]:
    """Entries by their ids."""
    return {entry.id: entry for entry in entries}
