"""What changed from one version of the job format to the next: a small function for each."""

from __future__ import annotations

import re
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


def _what_is_there(data: dict[str, Any]) -> dict[str, Any]:
    """3 → 4: what was found is a part of its own, the scope became answers, and what nobody has said is said by nobody."""
    moved = {
        "chain": ("underground", "drop_a", "riser_conductors", "load_conductors", "disconnect_a"),
        "old_panel": ("meter_label_a",),
        "service_run": ("raceway", "trade_size", "utility_fault_a", "transformer_kva", "transformer_percent_z"),
    }
    existing: dict[str, Any] = {}
    chain = _part(data, "chain")
    for part, names in moved.items():
        held = _part(data, part)
        existing.update({name: held[name] for name in names if name in held})
        if isinstance(data.get(part), dict):
            data = {**data, part: {name: value for name, value in held.items() if name not in names}}
    if "raceway" not in existing and "trade_size" in existing:
        existing["raceway"] = "cable"
    replaced = chain.get("replaced")
    links = [one for one in replaced if isinstance(one, str)] if isinstance(replaced, list) else []
    if chain.get("disconnect_a") is not None or "disconnect" in links:
        existing["disconnect_at"] = "indoors" if chain.get("disconnect_inside") else "outdoors"
    window = {name: value for name, value in _part(data, "fit").items() if name in ("meter_low_in", "meter_high_in")}
    data = {name: value for name, value in data.items() if name != "chain"}
    if isinstance(data.get("fit"), dict):
        data["fit"] = {name: value for name, value in data["fit"].items() if name not in window}
    for name, found in (("existing", existing), ("utility", window)):
        if found:
            data[name] = {**found, **_part(data, name)}
    kind = data.get("scope", "unsaid")
    if isinstance(kind, str):
        answers = dict(ANSWERS.get(kind, {"service": kind}))  # a kind that nobody knows is refused where it is read
        if "disconnect" in links:
            answers["disconnect"] = "new"
        data["scope"] = {**answers, "renews": [link for link in links if link != "disconnect"]}
    return {**_unsaid(data), "version": 4}


# What each kind of job meant, as answers.
_PLAIN = {"panel_place": "same", "old_boxes": "one", "disconnect": "as_is", "feeder": "as_is"}
ANSWERS = {
    "unsaid": {},
    "swap": {"service": "kept", **_PLAIN},
    "larger_bus": {"service": "kept_for_now", **_PLAIN},
    "upgrade": {"service": "upgraded", **_PLAIN},
    "relocated": {"service": "kept", **_PLAIN, "panel_place": "moved"},
    "merged": {"service": "kept", **_PLAIN, "old_boxes": "several"},
    "outside_disconnect": {"service": "kept", **_PLAIN, "disconnect": "new"},
    "sub_panel": {"service": "kept", **_PLAIN, "feeder": "renewed"},
    "split": {"service": "split", **_PLAIN},
}


def _unsaid(data: dict[str, Any]) -> dict[str, Any]:
    """Ticks that nobody had to set, and that made a figure smaller or a warning quieter while they were not: not said."""
    for name in ("uses_neutral", "is_motor"):
        data = _each_value(data, "loads", name, lambda value: None if value is False else value)
    for part, name in (("measured", "renewable"), ("sub_panel", "insulated")):
        if _part(data, part).get(name) is False:
            data = {**data, part: {**data[part], name: None}}
    if "inverter_opposite" in (held := _part(data, "equipment")) and held.get("inverter_a") is None:
        data = {**data, "equipment": {**held, "inverter_opposite": None}}
    if (held := _part(data, "location")).get("damp") is True:  # it stood for wet places too
        data = {**data, "location": {**held, "wet": True}}
    if (held := _part(data, "sub_panel")).get("wires") == 3:  # a new one has four
        data = {**data, "sub_panel": {**held, "found": True}}
    if (held := _part(data, "decisions")).get("conductor_rule") == "full":
        data = {**data, "decisions": {**held, "conductor_rule": "strict"}}
    return data


_OF_FEEDER = (
    "name", "breaker_a", "load_a", "metal", "wiring", "insulated", "length_ft", "separate_building", "found", "wires",
    "metal_path", "rods", "disconnect",
)  # fmt: skip
_OF_BOX = {"bonded": "first_disconnect", "aic_a": "aic_a"}
_SAID = ("load_a", "insulated", "length_ft", "found", "metal_path", "bonded", "rods", "disconnect", "aic_a")


def _panels(data: dict[str, Any]) -> dict[str, Any]:
    """4 → 5: a sub-panel and the panels of a split service are panels as the main one is; a second old panel is one of several."""
    sub, scope, decisions = _part(data, "sub_panel"), _part(data, "scope"), _part(data, "decisions")
    made: list[dict[str, Any]] = []
    if sub.get("breaker_a") is not None or scope.get("feeder") == "renewed":
        held = {name: sub[name] for name in _OF_FEEDER if name in sub}
        box = {new: sub[old] for old, new in _OF_BOX.items() if old in sub}
        made.append({"id": "sub", **held, **({"box": box} if box else {})})
        decisions = {name: _fed(name, value) for name, value in decisions.items()}
    mains = decisions.get("split_mains_a")
    if scope.get("service") == "split" and isinstance(mains, list) and mains:
        there = _part(data, "existing")
        ahead = scope.get("disconnect") == "new" or there.get("disconnect_a") is not None or there.get("disconnect_at")
        fed = {"fed_from": "disconnect" if ahead else "meter", "separate_building": False}
        bond = not ahead or scope.get("disconnect_kind") in ("meter", "supply")
        box = {"main": "breaker", "first_disconnect": bond}
        decisions = {name: value for name, value in decisions.items() if name != "split_mains_a"}
        decisions["split_main_a"] = mains[0]
        made += [
            {"id": f"panel-{number}", "name": f"panel {number}", "breaker_a": rating, **fed, "box": box}
            for number, rating in enumerate(mains[1:], 2)
        ]
    if not mains:
        decisions.pop("split_mains_a", None)
    if made or not any(sub.get(name) for name in _SAID):
        data = {name: value for name, value in data.items() if name != "sub_panel"}
    right = _part(data, "right_panel")
    if right.get("spaces"):
        data = {**data, "old_boxes": [{"mark": "r", "name": "right-hand", **right}]}
    data = {name: value for name, value in data.items() if name != "right_panel"}
    return {
        **data,
        **({"panels": made} if made else {}),
        **({"decisions": decisions} if decisions else {}),
        "version": 5,
    }


def _fed(name: str, value: Any) -> Any:
    """A decision with the sub-panel's feeder as it is called now."""
    if name == "accepted" and isinstance(value, dict):
        return {
            f"feeder.sub.{key.removeprefix('feeder.')}" if key.startswith("feeder.") else key: reason
            for key, reason in value.items()
        }
    if name in ("placements", "circuits") and isinstance(value, dict):
        return {_fed_key(key): held for key, held in value.items()}
    return [_fed_key(key) for key in value] if name == "pins" and isinstance(value, list) else value


def _fed_key(key: Any) -> Any:
    return "equip:feeder.sub" if key == "equip:feeder" else key


def _nodes(data: dict[str, Any]) -> dict[str, Any]:
    """5 → 6: beside panels there are nodes of other kinds, and the main panel may be fed from any of them. Nothing moves: all that was is
    a panel, and what fed the main panel goes on to do so."""
    return {**data, "version": 6}


def _main_feed(data: dict[str, Any]) -> dict[str, Any]:
    """6 → 7: the feeder of the main panel is a record of the same shape as any other's. It lies where the service conductors lay: until now it
    was sized with them. A main of a split service and a breaker in a meter-main are one figure, of which a job had one in use."""
    decisions, there, run = (dict(_part(data, part)) for part in ("decisions", "existing", "service_run"))
    split, inside = decisions.pop("split_main_a", None), decisions.pop("inside_breaker_a", None)
    by_node = decisions.get("main_fed_from") not in (None, "", "meter", "disconnect")
    is_split = _part(data, "scope").get("service") == "split" and not by_node
    feed = {
        "fed_from": decisions.pop("main_fed_from", ""),
        "fed_by": (fed_by := decisions.pop("inside_fed_by", "lugs")),
        "breaker_a": split if is_split or (inside is None and fed_by != "breaker") else inside,
        "length_ft": run.pop("inside_ft", None),
        "conductors": there.pop("feeder_conductors", ""),
        "wires": there.pop("feeder_wires", None),
        "found_wiring": there.pop("feeder_wiring", ""),
    }
    if feed["conductors"]:
        feed["insulation_c"] = there.get("insulation_c")
    ahead = (
        there.get("disconnect_a") is not None
        or there.get("disconnect_at")
        or _part(data, "scope").get("disconnect") == "new"
    )
    if ahead or by_node or is_split:
        feed |= {name: run[name] for name in ("ambient_c", "current_carrying", "rooftop") if name in run}
        feed |= {"sets": run["sets"]} if "sets" in run and not is_split else {}
    unsaid = {"fed_from": "", "fed_by": "lugs", "current_carrying": 2, "rooftop": False}
    feed = {name: value for name, value in feed.items() if value not in (None, "", unsaid.get(name))}
    if isinstance(decisions.get("accepted"), dict):
        decisions["accepted"] = {_as_fed(key): reason for key, reason in decisions["accepted"].items()}
    record = dict(_part(data, "record"))
    torque = record.get("torque")
    if isinstance(torque, dict) and isinstance(torque.get("rows"), dict):
        rows = {_LOAD_SIDE.sub(r"\1.lugs.panel.\2", str(key)): row for key, row in torque["rows"].items()}
        record["torque"] = {**torque, "rows": rows}
    parts = {"decisions": decisions, "existing": there, "service_run": run, "record": record}
    return {
        **data,
        **{name: part for name, part in parts.items() if isinstance(data.get(name), dict)},
        **({"main_feed": feed} if feed else {}),
        "version": 7,
    }


def _as_fed(finding_id: str) -> str:
    if finding_id.startswith("inside.later"):
        return finding_id.replace("inside.", "feeder.panel.", 1)
    return _FED.get(finding_id, finding_id)


# Terminations at what is ahead of the main panel, but for the meter's.
_LOAD_SIDE = re.compile(r"^(?!meter\.)([a-z0-9-]+)\.load\.([ABNG])$")
# Findings of the main panel's feeder as they are called since it is one like the others.
_FED = {
    "inside.breaker": "feeder.panel.breaker",
    "inside.bus": "feeder.panel.bus",
    "inside.dwelling_feeder": "feeder.panel.dwelling_feeder",
    "inside.small": "feeder.panel.load",
    "service.feeder_wires": "feeder.panel.wires",
    "service.kept_feeder": "feeder.panel.wire",
    "service.split_rating": "feeder.panel.rating",
    "service.split_bus": "feeder.panel.bus",
    "service.split_share": "feeder.panel.load",
}


def _part(data: dict[str, Any], part: str) -> dict[str, Any]:
    held = data.get(part)
    return held if isinstance(held, dict) else {}


def _each_value(data: dict[str, Any], part: str, field: str, change: Callable[[Any], Any]) -> dict[str, Any]:
    """The job with one field of every item of a list changed, where it has it."""
    items = data.get(part)
    if not isinstance(items, list):
        return data
    made = [{**x, field: change(x[field])} if isinstance(x, dict) and field in x else x for x in items]
    return {**data, part: made}


# One small function per version: version n → version n + 1.
UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _charging_school,
    2: _trade_words,
    3: _what_is_there,
    4: _panels,
    5: _nodes,
    6: _main_feed,
}
