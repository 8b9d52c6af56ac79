"""Breakers by what they watch for: the one vocabulary of what was found, of what a panel's list has and of what is planned."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum

from msgspec import Struct


class DeviceKind(StrEnum):
    """What a breaker watches for besides overcurrent."""

    STANDARD = "standard"
    ARC = "arc-fault"
    GROUND = "ground-fault"
    DUAL = "dual-function"

    @staticmethod
    def watching(arc: bool, ground: bool) -> DeviceKind:
        """The kind that watches for arc-faults, for ground-faults, for both or for neither."""
        if arc and ground:
            return DeviceKind.DUAL
        return DeviceKind.ARC if arc else DeviceKind.GROUND if ground else DeviceKind.STANDARD

    @property
    def arc(self) -> bool:
        """Whether it watches for arc-faults."""
        return self in (DeviceKind.ARC, DeviceKind.DUAL)

    @property
    def ground(self) -> bool:
        """Whether it watches for ground-faults."""
        return self in (DeviceKind.GROUND, DeviceKind.DUAL)


class Device(Struct, frozen=True):
    """A breaker, as a panel's list and the papers name it: "arc-fault 1-pole"."""

    kind: DeviceKind
    poles: int

    def __str__(self) -> str:
        return f"{self.kind} {self.poles}-pole"

    @property
    def electronic(self) -> bool:
        """Whether it watches the neutral too, so that the neutral has to come to it."""
        return self.kind is not DeviceKind.STANDARD


# A breaker that was found, by the words of the document; what is none of these watches for nothing, or was not checked.
FOUND: Mapping[str, DeviceKind] = {"gfci": DeviceKind.GROUND, "afci": DeviceKind.ARC, "dual": DeviceKind.DUAL}
