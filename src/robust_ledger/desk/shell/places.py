"""Which stage a place is on, and which entries explain it."""

from __future__ import annotations

from robust_ledger.ledger.entry import Finding
from robust_ledger.plan import Plan

_STAGE_OF_KIND = {
    "fit": "walkthrough",
    "earth": "walkthrough",
    "overhead": "walkthrough",
    "location": "walkthrough",
    "defect": "walkthrough",
    "replaced": "walkthrough",
    "circuit": "pulloff",
    "pull_off": "pulloff",
    "old_panel": "pulloff",
    "right_panel": "pulloff",
    "load": "load",
    "dwelling": "load",
    "job": "load",
    "management": "load",
    "measured": "load",
    "future": "load",
    "local_rules": "load",
    "decisions": "service",
    "service_run": "service",
    "chain": "walkthrough",
    "sub_panel": "service",
    "equipment": "service",
    "conventions": "service",
    "branch": "bench",
    "panel": "bench",
    "heading": "papers",
}
_STAGE_OF_PLACE = {
    "old_panel:meter_label_a": "service",
    "panel:terminals_c": "service",
    "panel:interrupting_a": "service",
    "panel:first_disconnect": "service",
    "panel:main": "service",
    "chain:disconnect_inside": "service",
    "job:scope": "walkthrough",
    "old_panel:marks": "walkthrough",
    "decisions:spares": "walkthrough",
    "decisions:wishes": "bench",
    "old_panel:interior.main_at": "bench",
    "old_panel:interior.first_row_in": "bench",
    "old_panel:interior.terminal_in": "bench",
    "decisions:outlet_school": "bench",
    "decisions:smoke_school": "bench",
    "decisions:lighting_school": "bench",
    "decisions:ahj_arc_fault": "bench",
    "decisions:defect_school": "walkthrough",
    "decisions:ev_school": "load",
    "decisions:load_method": "load",
}


def stage_of(place: str) -> str:
    """The stage that shows a place; "" for an unknown kind."""
    return _STAGE_OF_PLACE.get(place) or _STAGE_OF_KIND.get(place.partition(":")[0], "")


def findings_at(plan: Plan, place: str) -> list[Finding]:
    """Findings of any stage about a place; a branch circuit stands for the old circuit or the load it comes from."""
    kind, _, rest = place.partition(":")
    places = {place}
    if kind == "branch":
        places.add(rest.replace("tag:", "circuit:"))
    elif kind == "circuit":
        places.add(f"branch:tag:{rest}")
    elif kind == "load":
        places.add(f"branch:load:{rest}")
    return [finding for finding in plan.findings if finding.place in places]


def entries_of(plan: Plan, place: str) -> tuple[str, ...]:
    """The entries that explain a place, the most telling first."""
    kind, _, rest = place.partition(":")
    if kind == "circuit":
        rest = f"tag:{rest}"
    if kind in ("circuit", "branch"):
        wanted = [f"branch.breaker.{rest}", f"branch.wire.{rest}", f"branch.expected.{rest}"]
        if kind == "circuit":
            wanted.pop(1)
        else:
            wanted = [f"reach.{rest}", f"protection.{rest}", wanted[0], wanted[2]]
    elif kind == "load":
        counted = [line.entry_id for line in plan.chosen.lines if line.place == place]
        wanted = [f"load.nameplate.{rest}", *counted, f"branch.breaker.load:{rest}", f"branch.wire.load:{rest}"]
    else:
        wanted = [entry_id for entry_id, entry in plan.entries.items() if entry.place == place][:2]
    return tuple(dict.fromkeys(entry_id for entry_id in wanted if plan.entry(entry_id)))
