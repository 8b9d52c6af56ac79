"""What is raised where a part of the document is given what it cannot hold."""

from __future__ import annotations

from collections.abc import Iterable


class ModelError(ValueError):
    """A value that a part of the document cannot hold. `place` is the way to it, from the part down: names of fields and numbers
    counted from 0."""

    def __init__(self, message: str, place: tuple[str | int, ...] = ()) -> None:
        super().__init__(message)
        self.place = place

    @property
    def sentence(self) -> str:
        """The fault with its place counted from 1: "loads, entry 3, nameplate, amount: a number is expected here, not text"."""
        words = [f"entry {part + 1}" if isinstance(part, int) else str(part).replace("_", " ") for part in self.place]
        return f"{', '.join(words) or 'the job'}: {self}"


class NoFieldError(ModelError):
    """A name that is no field of a part: a fault of whoever wrote it, in code, in the words of the line or in a file."""

    def __init__(self, part: str, names: Iterable[str]) -> None:
        super().__init__(f"{part} has no field {', '.join(sorted(names))}")
