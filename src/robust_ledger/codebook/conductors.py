"""Picking conductors and ratings from an edition's tables. Knows sizes, not jobs."""

from __future__ import annotations

from functools import lru_cache

from robust_ledger.codebook.codebook import Codebook


def sizes(codebook: Codebook) -> list[str]:
    """Every conductor size of the ampacity table, smallest first."""
    return [row["size"] for row in codebook.table("ampacity").rows]


@lru_cache(maxsize=1024)
def area_cmil(codebook: Codebook, size: str) -> float | None:
    """Cross-section in circular mils, or None for a size the table does not have."""
    row = codebook.table("ampacity").row("size", size)
    return float(row["area_cmil"]) if row else None


@lru_cache(maxsize=1024)
def ampacity_a(codebook: Codebook, size: str, metal: str, column_c: int) -> float | None:
    """Table ampacity in amperes at 60, 75 or 90 °C, before correction; None where the table has no such conductor."""
    row = codebook.table("ampacity").row("size", size)
    cell = row[f"{metal}_{column_c}c_a"] if row else ""
    return float(cell) if cell else None


@lru_cache(maxsize=32)
def ratings_a(codebook: Codebook) -> list[float]:
    """The standard ratings of overcurrent devices in amperes, smallest first [240.6(A)]."""
    return codebook.table("standard_ratings").numbers("rating_a")


def is_standard_rating(codebook: Codebook, rating_a: float) -> bool:
    """Whether breakers and fuses are made for a rating [A, 240.6(A)]."""
    return rating_a in ratings_a(codebook)


def sound_rating_a(codebook: Codebook, rating_a: float | None) -> float | None:
    """A rating as read where devices are made so; None for one not read, or misread."""
    return rating_a if rating_a and is_standard_rating(codebook, rating_a) else None


def next_rating_a(codebook: Codebook, needed_a: float) -> float | None:
    """The smallest standard rating at or above `needed_a`; None above the last one listed."""
    return next((rating for rating in ratings_a(codebook) if rating >= needed_a - 1e-9), None)


def rating_text(codebook: Codebook, needed_a: float) -> str:
    """The standard rating for so many amperes in words: "150 A"; above the last one "a larger size"."""
    rating = next_rating_a(codebook, needed_a)
    return f"{rating:g} A" if rating is not None else "a larger size"


def previous_rating_a(codebook: Codebook, limit_a: float) -> float | None:
    """The largest standard rating at or below `limit_a`; None below the first."""
    return max((rating for rating in ratings_a(codebook) if rating <= limit_a + 1e-9), default=None)


def row_by_size(codebook: Codebook, table: str, size: str, metal: str) -> dict[str, str] | None:
    """The row of an electrode or bonding table for one ungrounded conductor."""
    area = area_cmil(codebook, size)
    return row_by_area(codebook, table, area, metal) if area is not None else None


@lru_cache(maxsize=1024)
def row_by_area(codebook: Codebook, table: str, area: float, metal: str) -> dict[str, str] | None:
    """The row of such a table for an ungrounded area [cmil]: first upper edge not below it; None above the last."""
    for row in codebook.table(table).rows:
        edge = row[f"{metal}_max_size"]
        limit = float("inf") if not edge else (area_cmil(codebook, edge) or float(edge) * 1000)
        if area <= limit:
            return row
    return None
