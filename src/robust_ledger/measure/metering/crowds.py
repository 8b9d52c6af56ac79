"""Faults that are there by the hundred: they are one line, and are left out or taken in together."""

from __future__ import annotations

from robust_ledger.measure.metering.checks import Issue, Kind, Series

MOST_LINES = 60  # of one kind, before they become one line


def lines_of(series: Series) -> list[tuple[Issue, str]]:
    """The lines of a list of faults: each of them, or the first of its kind for all of them."""
    many = _crowds(series)
    lines = [(found[0], f"{kind}: {len(found):,} of them, first: {found[0].words}") for kind, found in many.items()]
    return lines + [(issue, f"{issue.kind}: {issue.words}") for issue in series.issues if issue.kind not in many]


def ticked_with(series: Series, key: str) -> set[str]:
    """The keys of the faults that share the line of one."""
    crowds = _crowds(series).values()
    return next(({one.key for one in found} for found in crowds if found[0].key == key), set())


def _crowds(series: Series) -> dict[Kind, list[Issue]]:
    kinds: dict[Kind, list[Issue]] = {}
    for issue in series.issues:
        kinds.setdefault(issue.kind, []).append(issue)
    return {kind: found for kind, found in kinds.items() if len(found) > MOST_LINES}
