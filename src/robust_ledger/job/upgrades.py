"""What changed from one version of the job format to the next: a small function for each."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def _charging_school(data: dict[str, Any]) -> dict[str, Any]:
    """1 → 2: how vehicle charging counts is no longer a choice of the optional method alone."""
    decisions = data.get("decisions")
    if isinstance(decisions, dict) and "ev_in_optional" in decisions:
        kept = {key: value for key, value in decisions.items() if key != "ev_in_optional"}
        was = decisions["ev_in_optional"]
        data = {**data, "decisions": {**kept, "ev_school": "block" if was == "general" else was}}
    return {**data, "version": 2}


# One small function per version: version n → version n + 1.
UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _charging_school}
