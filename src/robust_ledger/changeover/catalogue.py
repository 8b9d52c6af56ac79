"""The tasks that ship with the product, read from `tasks.toml`."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any, Literal

from msgspec import Struct

Phase = Literal["before", "dark", "after"]
PHASES: tuple[Phase, ...] = ("before", "dark", "after")
PHASE_WORDS: dict[str, str] = {"before": "with the power on", "dark": "dark", "after": "power back at the main"}


class Kind(Struct, frozen=True):
    """A task of the catalogue. `minutes`: least, usual and most for one person, each time; `hold`: the signed list that ends it; `moved`: how
    it is done in the other phase that `movable` names."""

    id: str
    words: str
    phase: Phase
    place: str
    minutes: tuple[float, float, float]
    each: str = ""
    when: str = ""
    needs: tuple[str, ...] = ()
    daylight: bool = False
    dry: bool = False
    hold: str = ""
    who: str = "us"
    movable: str = ""
    moved: str = ""
    tools: tuple[str, ...] = ()
    material: tuple[tuple[str, str], ...] = ()


class Catalogue(Struct, frozen=True):
    """Every task by its id, the places that hold one person, those that things are carried up to, and what things weigh [lb]."""

    kinds: Mapping[str, Kind]
    narrow: frozenset[str]
    up: frozenset[str]
    pounds: Mapping[str, float]


@cache
def catalogue() -> Catalogue:
    """The catalogue of the product."""
    data: dict[str, Any] = tomllib.loads(Path(__file__).with_name("tasks.toml").read_text(encoding="utf-8"))
    return Catalogue(
        {key: _kind(key, row) for key, row in data["task"].items()},
        frozenset(data["narrow"]),
        frozenset(data["up"]),
        data["pounds"],
    )


def _kind(key: str, row: Mapping[str, Any]) -> Kind:
    lists = {name: tuple(row.get(name, ())) for name in ("minutes", "needs", "tools")}
    return Kind(key, **{**row, **lists, "material": tuple(row.get("material", {}).items())})
