"""The key of a circuit of the new panel: made and read here and nowhere else; and what the main panel is called."""

from __future__ import annotations

from typing import Literal, cast

from robust_ledger.ledger.text import is_whole

Kind = Literal["tag", "load", "future", "equip", ""]
MOST_LETTERS = 220  # a name of 200, with its kind
MAIN = "panel"  # what the main panel is called among the panels


class CircuitKey(str):
    """A circuit of the new panel by where it comes from: an old tag ("tag:7", its split-off second "tag:7.2"), a load that gets its
    own ("load:sauna"), a future ("future:shop.1") or equipment on a breaker ("equip:generator").

    It is text, so that a job keeps it as it is and a dictionary finds it; what it says is asked of it, never cut out of it.
    """

    __slots__ = ()

    @classmethod
    def of_tag(cls, tag: int) -> CircuitKey:
        """That of an existing circuit."""
        return cls(f"tag:{tag}")

    @classmethod
    def of_second(cls, tag: int) -> CircuitKey:
        """The second circuit of an old one that is split."""
        return cls(f"tag:{tag}.2")

    @classmethod
    def of_load(cls, load_id: str) -> CircuitKey:
        """That of a circuit for a listed load."""
        return cls(f"load:{load_id}")

    @classmethod
    def of_future(cls, future_id: str, number: int) -> CircuitKey:
        """That of one of the circuits of a future."""
        return cls(f"future:{future_id}.{number}")

    @classmethod
    def of_equipment(cls, name: str) -> CircuitKey:
        """That of a device that stands on the bus of itself: an interlock's breaker, a surge device."""
        return cls(f"equip:{name}")

    @property
    def kind(self) -> Kind:
        """What it comes from; "" for a key of no kind that is known."""
        kind = self.partition(":")[0]
        return cast(Kind, kind) if kind in ("tag", "load", "future", "equip") else ""

    @property
    def name(self) -> str:
        """What stands behind the kind: the tag, the load's id, the name of the equipment."""
        return self.partition(":")[2]

    @property
    def tag(self) -> int | None:
        """The old tag of a circuit that keeps its wires; None for any other, also for a split-off second."""
        return int(self.name) if self.kind == "tag" and self.name.isascii() and is_whole(self.name) else None

    @property
    def second(self) -> bool:
        """Whether it is the second circuit of a split one."""
        return self.kind == "tag" and "." in self


NO_CIRCUIT = CircuitKey("")
