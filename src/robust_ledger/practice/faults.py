"""The faults that a practice panel can hide."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files
from typing import Literal

from msgspec import Struct


class FaultKind(Struct, frozen=True):
    """A kind of fault: from which level on it is hidden, the finding it makes (`also`: one that comes along), where it is seen, what it could
    have done. `at`: whether it is at a circuit's spaces or of the whole house; `marked`: calling it out is naming it."""

    key: str
    level: int
    words: str
    finding: str
    seen: str
    harm: str
    also: str = ""
    at: Literal["space", "house"] = "space"
    marked: bool = False


@cache
def fault_kinds() -> dict[str, FaultKind]:
    """Every kind by its key."""
    data = tomllib.loads(files("robust_ledger.practice").joinpath("faults.toml").read_text(encoding="utf-8"))
    return {key: FaultKind(key, **row) for key, row in data.items()}


@cache
def watched() -> frozenset[str]:
    """The findings that are judged in practice; whatever else the plan says of a panel counts for nothing."""
    return frozenset(name for kind in fault_kinds().values() for name in (kind.finding, kind.also) if name)


def at_spaces(spaces: tuple[str, ...]) -> str:
    """ "space 3 and 5: " ahead of what is there; nothing for what is of the house."""
    return f"space {' and '.join(spaces)}: " if spaces else ""


def judged_name(finding_id: str) -> str:
    """Which judged finding an id is of: "branch.doubled:tag:4" is of "branch.doubled", "branch.old_tandem:5a:tag:4" of "branch.old_tandem";
    empty for what is not judged."""
    if finding_id in watched():
        return finding_id
    name = finding_id.partition(":")[0]
    return name if name in watched() else ""
