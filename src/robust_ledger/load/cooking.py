"""Household cooking appliances: the demand table with its notes [220.55]."""

from __future__ import annotations

import math
from collections.abc import Sequence

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.working import Working


def cooking_demand(work: Working, nameplates: Sequence[Entry], codebook: Codebook) -> Step:
    """Demand load [VA] of cooking appliances rated over 1¾ kW, the least that the table and its notes permit.

    Column C covers all of them together (notes 1 and 2 above 12 kW); note 3 lets the ones up to 8¾ kW be taken by
    columns A and B instead, with column C for the rest. Unknown when a nameplate is, above 27 kW, or past the table.
    """
    steps = [work.entry_step(entry) for entry in nameplates]
    cite = [codebook.table("cooking_demand").cite]
    if any(not step.known for step in steps):
        return work.total("demand of cooking appliances", steps, "VA", cite)
    ratings_kw = [step.amount / 1000 for step in steps]
    ends, column_b_max = codebook.step("cooking_table_max_kw"), codebook.number("cooking_column_b_max_kw")
    if max(ratings_kw) > ends.amount or len(steps) > len(codebook.table("cooking_demand").rows):
        work.given(f"the table ends at {ends.text()} and 20 appliances: cooking demand", None, "VA")
        return work.total("demand of cooking appliances", [Step("cooking demand", None, "VA")], "VA", cite)
    by_c = _column_c(work, ratings_kw, codebook, "all of them")
    small = [kw for kw in ratings_kw if kw <= column_b_max]
    if not small:
        return work.total("demand of cooking appliances", [by_c], "VA", cite)
    parts = _columns_a_b(work, small, codebook)
    large = [kw for kw in ratings_kw if kw > column_b_max]
    if large:
        parts.append(_column_c(work, large, codebook, "the larger ones"))
    by_note_3 = work.total("with note 3", parts, "VA", cite)
    chosen = by_c if by_c.amount <= by_note_3.amount else by_note_3
    work.note("permitted and lower", "column C for all" if chosen is by_c else "columns A and B for those up to 8¾ kW")
    return work.total("demand of cooking appliances", [chosen], "VA", cite)


def _column_c(work: Working, ratings_kw: list[float], codebook: Codebook, which: str) -> Step:
    """Column C, raised 5% for each kilowatt or major fraction by which the (average) rating exceeds 12 kW."""
    table = codebook.table("cooking_demand")
    row = table.rows[len(ratings_kw) - 1]
    limit = codebook.step("range_over_kw", "column C holds up to")
    base = work.take(
        Step(f"column C, {which}: {len(ratings_kw)}", float(row["column_c_kw"]) * 1000, "VA", cites=(table.cite,))
    )
    if max(ratings_kw) <= limit.amount:
        return base
    average = sum(max(limit.amount, kw) for kw in ratings_kw) / len(ratings_kw)
    over = math.floor(average - limit.amount + 0.5 + 1e-9)
    work.take(Step("average rating, none taken below 12 kW", average, "kW", cites=limit.cites))
    steps_over = work.given("kilowatts or major fractions over 12", over, "kW")
    raise_by = work.product(
        "raised by",
        [work.take(codebook.step("range_step", "for each")), steps_over],
        "",
        codebook.step("range_step").cites,
    )
    added = work.product("addition to column C", [base, raise_by], "VA")
    return work.total("column C, raised", [base, added], "VA")


def _columns_a_b(work: Working, ratings_kw: list[float], codebook: Codebook) -> list[Step]:
    """Columns A (under 3½ kW) and B (to 8¾ kW), each on the sum of its own appliances."""
    table = codebook.table("cooking_demand")
    column_a_below = codebook.number("cooking_column_a_below_kw")
    parts = []
    for column, picked in (
        ("A", [kw for kw in ratings_kw if kw < column_a_below]),
        ("B", [kw for kw in ratings_kw if kw >= column_a_below]),
    ):
        if not picked:
            continue
        row = table.rows[len(picked) - 1]
        percent = float(row[f"column_{column.lower()}_percent"])
        summed = work.given(f"column {column}: sum of {len(picked)}", sum(picked) * 1000, "VA")
        factor = work.take(Step(f"column {column} factor", percent / 100, "", cites=(table.cite,)))
        parts.append(work.product(f"column {column}", [summed, factor], "VA"))
    return parts
