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


def _trade_words(data: dict[str, Any]) -> dict[str, Any]:
    """2 → 3: the words of the US trade. Only names change, of fields, of kinds of cable, and of findings that were accepted."""
    data = {("grounding" if key == "earth" else key): value for key, value in data.items()}
    for part, names in _RENAMED.items():
        if isinstance(data.get(part), dict):
            data = {**data, part: {names.get(key, key): value for key, value in data[part].items()}}
    data = _each(data, "circuits", "cable", {"armoured": "bx", "armoured_strip": "ac"})
    data = _each(data, "defects", "part", {"earth": "grounding"})
    decisions = data.get("decisions")
    if isinstance(decisions, dict):
        data = {**data, "decisions": {key: _keys_of(key, value) for key, value in decisions.items()}}
    return {**data, "version": 3}


_RENAMED = {
    "heading": {"licence": "license"},
    "grounding": {"school": "practice", "conductor": "gec", "conductor_new": "gec_new"},
    "overhead": {"head_ft": "weatherhead_ft"},
    "equipment": {"surge": "spd", "surge_at": "spd_at", "surge_a": "spd_a"},
    "panel": {"interrupting_a": "aic_a"},
    "sub_panel": {"interrupting_a": "aic_a"},
    "decisions": {f"{name}_school": f"{name}_practice" for name in ("ev", "defect", "outlet", "smoke", "lighting")},
}
# Findings by the beginnings of their ids; the longer ones first.
_FINDINGS = {
    "earth.conductor": "grounding.gec",
    "earth.": "grounding.",
    "odd.earth.": "odd.grounding.",
    "odd.panel.interrupting_a": "odd.panel.aic_a",
    "overhead.head_ft": "overhead.weatherhead_ft",
    "service.surge": "service.spd",
    "service.interrupting": "service.aic",
    "feeder.interrupting": "feeder.aic",
    "load.ev_school": "load.ev_practice",
    "branch.aluminium": "branch.aluminum",
    "branch.armour": "branch.armor",
}


def _each(data: dict[str, Any], part: str, field: str, words: dict[str, str]) -> dict[str, Any]:
    """The job with the words of one field of every item of a list changed."""
    items = data.get(part)
    if not isinstance(items, list):
        return data

    def changed(item: Any) -> Any:
        value = item.get(field) if isinstance(item, dict) else None
        return {**item, field: words[value]} if isinstance(value, str) and value in words else item

    return {**data, part: [changed(item) for item in items]}


def _keys_of(name: str, value: Any) -> Any:
    """A decision with the keys of circuits and of findings as they are called now."""
    if name == "accepted" and isinstance(value, dict):
        return {_finding(key): reason for key, reason in value.items()}
    if name in ("placements", "circuits") and isinstance(value, dict):
        return {_key(key): held for key, held in value.items()}
    return [_key(key) for key in value] if name == "pins" and isinstance(value, list) else value


def _finding(finding_id: str) -> str:
    old = next((old for old in _FINDINGS if finding_id.startswith(old)), "")
    renamed = _FINDINGS.get(old, "") + finding_id.removeprefix(old)
    return renamed.replace("equip:surge", "equip:spd")


def _key(key: Any) -> Any:
    return "equip:spd" if key == "equip:surge" else key


# One small function per version: version n → version n + 1.
UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _charging_school, 2: _trade_words}
