"""Typed access to one code edition: figures, sections and tables, with inheritance between editions."""

from __future__ import annotations

import tomllib
from functools import cache, lru_cache
from typing import Any

from msgspec import Struct

from robust_ledger.codebook.errors import CodebookError, UnknownRuleError
from robust_ledger.codebook.tables import Table, read_rows
from robust_ledger.ledger.editions import DEFAULT_EDITION, EDITION_DATA, EDITIONS
from robust_ledger.ledger.entry import Citation, Step

_FIELDS = {
    "values": {"value", "unit", "section", "verify", "since"},
    "rules": {"section", "verify", "since"},
    "tables": {"file", "section", "verify", "since"},
}

# A codebook lives long and never changes; one with local figures may be put away again.
_remembered = lru_cache(maxsize=4096)


class Codebook(Struct, frozen=True, eq=False):
    """The figures of one edition. Every look-up that finds nothing raises UnknownRuleError; there are no defaults."""

    edition: str
    data: dict[str, dict[str, dict[str, Any]]]

    @_remembered
    def cite(self, rule: str) -> Citation:
        """The section a rule has in this edition."""
        return self._cite(self._item("rules", rule))

    @_remembered
    def step(self, key: str, label: str = "") -> Step:
        """A figure of the code as an operand, with its unit and section."""
        item = self._item("values", key)
        return Step(label or key.replace("_", " "), item["value"], item["unit"], cites=(self._cite(item),))

    @_remembered
    def number(self, key: str) -> float:
        """A figure of the code as a bare number, for decisions (the step is what gets printed)."""
        return float(self._item("values", key)["value"])

    @_remembered
    def table(self, name: str) -> Table:
        """A table of the code with its section."""
        item = self._item("tables", name)
        rows = read_rows(item["file"])
        if cells := item.get("cells"):
            rows = tuple(
                {column: cells.get((number, column), cell) for column, cell in row.items()}
                for number, row in enumerate(rows)
            )
        return Table(name, self._cite(item), rows)

    def keys(self, kind: str) -> tuple[str, ...]:
        """The keys of a kind of data: "figures", "rules", "tables"."""
        return tuple(self.data[kind])

    def _cite(self, item: dict[str, Any]) -> Citation:
        return Citation(item["section"], self.edition, item.get("verify", ""), item.get("local", False))

    def _item(self, kind: str, key: str) -> dict[str, Any]:
        try:
            return self.data[kind][key]
        except KeyError:
            raise UnknownRuleError(f"Edition {self.edition} has no {kind[:-1]} named {key}.") from None


@cache
def load_codebook(edition: str = DEFAULT_EDITION) -> Codebook:
    """Read an edition with all it inherits.

    Raises:
        UnknownRuleError: there is no such edition.
        CodebookError: its data has unknown or duplicate keys, or a figure without unit or section.
    """
    if edition not in EDITIONS:
        raise UnknownRuleError(f"There is no code edition {edition}; there are {', '.join(EDITIONS)}.")
    text = (EDITION_DATA / f"{edition}.toml").read_text(encoding="utf-8")
    return Codebook(edition, parse_edition(text, edition))


def parse_edition(text: str, name: str) -> dict[str, dict[str, dict[str, Any]]]:
    """Parse one edition's TOML and lay it over its parent's data, refusing what cannot be meant."""
    try:
        raw = tomllib.loads(text)
    except tomllib.TOMLDecodeError as problem:
        raise CodebookError(f"The data of edition {name} cannot be read: {problem}.") from None
    if unknown := set(raw) - {"edition", "parent", *_FIELDS}:
        raise CodebookError(f"Edition {name} has an unknown section: {', '.join(sorted(unknown))}.")
    parent = load_codebook(raw["parent"]).data if "parent" in raw else None
    merged: dict[str, dict[str, dict[str, Any]]] = {}
    for kind, fields in _FIELDS.items():
        merged[kind] = dict(parent[kind]) if parent else {}
        for key, item in raw.get(kind, {}).items():
            if parent and key not in merged[kind] and "since" not in item:
                raise CodebookError(f"Edition {name} states {kind}.{key}, which its parent does not know.")
            if extra := set(item) - fields:
                raise CodebookError(f"Edition {name}: {kind}.{key} has an unknown key {', '.join(sorted(extra))}.")
            if absent := fields - {"verify", "since"} - set(item):
                raise CodebookError(f"Edition {name}: {kind}.{key} lacks {', '.join(sorted(absent))}.")
            merged[kind][key] = item
    return merged
