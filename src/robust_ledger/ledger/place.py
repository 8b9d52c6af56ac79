"""Where something is in the job, or which entry it is: made here, so that nothing is cut out of text elsewhere."""

from __future__ import annotations


class Place(str):
    """An input of the job ("fit:handle_in", "circuit:7", "load:range", "branch:tag:7") or an entry ("entry:service.main"): what a
    finding is about, what a step rests on, and where a click on either leads."""

    __slots__ = ()

    @classmethod
    def of(cls, kind: str, name: object) -> Place:
        """One of many of a kind: Place.of("load", load.id)."""
        return cls(f"{kind}:{name}")

    @classmethod
    def circuit(cls, tag: int | None) -> Place:
        """An old circuit as found."""
        return cls(f"circuit:{tag}")

    @classmethod
    def load(cls, load_id: str) -> Place:
        """That of a load."""
        return cls(f"load:{load_id}")

    @classmethod
    def branch(cls, key: str) -> Place:
        """A circuit of the new panel, by its key."""
        return cls(f"branch:{key}")

    @classmethod
    def entry(cls, entry_id: str) -> Place:
        """That of an entry."""
        return cls(f"entry:{entry_id}")

    @property
    def kind(self) -> str:
        """The part of the job, or "entry"."""
        return self.partition(":")[0]

    @property
    def name(self) -> str:
        """What stands behind the kind: the field, the tag, the id."""
        return self.partition(":")[2]

    @property
    def entry_id(self) -> str:
        """The entry it leads to; "" for an input."""
        return self.name if self.kind == "entry" else ""


NOWHERE = Place("")
