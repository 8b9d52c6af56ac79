"""The whole plan as JSON: every entry by its id, every finding, the tapes and the schedule. Documented in docs/entries.md."""

from __future__ import annotations

import json
from typing import Any

from msgspec.json import decode, encode

from robust_ledger.branch.ledger import LedgerRow
from robust_ledger.branch.model import Branch
from robust_ledger.installation.model import Node, Run
from robust_ledger.job.tree import panel_name
from robust_ledger.ledger.entry import Citation, Entry, Finding
from robust_ledger.load.methods import recommended_name
from robust_ledger.load.tape import Calculation
from robust_ledger.plan import Plan
from robust_ledger.service.conventions import conventions
from robust_ledger.survey.defects import material
from robust_ledger.survey.scope import title as scope_title

PLAN_FORMAT = "robust-ledger-plan"


def plan_text(plan: Plan) -> str:
    """The plan as indented JSON, the same for the same job to the byte."""
    return json.dumps(plan_data(plan), indent=2, ensure_ascii=False, allow_nan=False)


def plan_data(plan: Plan) -> dict[str, Any]:
    """The plan as plain data, ready for JSON; unknown values are None."""
    return {
        "format": PLAN_FORMAT,
        "version": 1,
        "edition": plan.codebook.edition,
        "title": plan.job.heading.title,
        "method": plan.job.decisions.load_method,
        "entries": {entry_id: _entry(entry) for entry_id, entry in plan.all_entries.items()},
        "calculations": {name: _calculation(one) for name, one in plan.load.calculations.items()},
        "methods": {
            name: {
                "open": method.open,
                "why": method.why,
                "amperes": method.calculation.amperes.id,
                "main": method.main.id,
            }
            for name, method in plan.load.methods.items()
        },
        "recommended": recommended_name(plan.load.recommended) or None,
        "what_if": [
            {"key": column.key, "title": column.title, "entries": [entry.id for entry in column.entries]}
            for column in plan.what_if.columns
        ],
        "chain": [
            {
                "link": link.name,
                "limit": link.limit.id,
                "planned": link.planned.id,
                "verdict": link.verdict,
                "made_new": link.made_new,
            }
            for link in plan.walk.chain
        ],
        "alternatives": [
            {
                "rating_a": alternative.rating_a,
                "metal": alternative.metal,
                "passes": alternative.passes,
                "verdict": alternative.verdict,
                "entries": [e.id for e in alternative.entries],
            }
            for alternative in plan.service.alternatives
        ],
        "scope": {"words": scope_title(plan.job), "asks": list(plan.walk.asked)},
        "bonds": [
            {"node": node.key, "bond": node.bond.kind, "bonded": node.bond.bonded, "entry": node.bond.entry.id}
            for node in plan.installation.bonded
            if node.bond is not None
        ],
        "nodes": [_node(node) for node in plan.installation.nodes.values()],
        "runs": [_run(run) for run in plan.installation.runs],
        "joints": [
            {
                "key": one.key,
                "words": one.words,
                "part": one.part,
                "wire": one.wire.text() if one.wire is not None else "",
                "node": one.node,
                "change": str(one.change),
            }
            for one in plan.installation.joints
        ],
        "labels": _plain(plan.installation.labels),
        "one_line": _plain(plan.one_line),
        "defects": [
            {"id": defect.defect.id, "touch": defect.by_touch, "scope": defect.by_scope, "ours": defect.ours}
            for defect in plan.walk.defects
        ],
        "defect_material": list(material(plan.job)),
        "conventions": [
            {"about": name, "words": words} for name, words, _cites in conventions(plan.job, plan.codebook)
        ],
        "circuits": [_circuit(plan, branch) for branch in plan.circuits.branches],
        "protection": [_protection(row) for row in plan.circuits.ledger],
        "required": [
            {
                "name": one.name,
                "asked": one.needed,
                "there": list(one.keys),
                "sections": [_cite(cite) for cite in one.cites],
            }
            for one in plan.circuits.requirements
        ],
        "outlets": [
            {
                "key": one.key,
                "count": one.count,
                "by_va": one.by_va.id,
                "by_use": one.by_use.id,
                "holds": dict(one.verdicts),
            }
            for one in plan.circuits.practices
        ],
        "changes": _plain(plan.bench.changes),
        "findings": [_finding(finding) for finding in plan.findings],
        "groups": [{"title": one.title, "findings": [f.id for f in one.findings]} for one in plan.groups],
        "stages": {stage: plan.stage_state(stage) for stage in plan.filled},
        "schedule": _plain(plan.bench.schedule),
        "placements": plan.bench.placement.positions,
        "waiting": plan.bench.placement.waiting,
        "panels": [_panel(plan, panel_id) for panel_id in plan.benches],
    }


def _node(node: Node) -> dict[str, Any]:
    """A node of the installation: what it is, what becomes of it, and the entries behind it."""
    return {
        "key": node.key,
        "kind": node.kind,
        "title": node.title,
        "above": node.above,
        "change": str(node.change),
        "service_equipment": node.service,
        "rating": node.rating.id if node.rating is not None else "",
        "fault": node.fault.id if node.fault is not None else "",
    }


def _run(run: Run) -> dict[str, Any]:
    """A run with its conductors: size, what becomes of it, and the keys of its ends in the torque log."""
    return {
        "key": run.key,
        "from": run.start,
        "to": run.end,
        "kind": run.kind,
        "change": str(run.change),
        "raceway": f"{run.raceway.trade_size} {run.raceway.kind}".strip() if run.raceway is not None else "",
        "conductors": [
            {
                "name": one.name,
                "size": one.size.text(),
                "entry": one.size.id,
                "change": str(one.change),
                "ends": [end.key for end in one.joints],
            }
            for one in run.conductors
        ],
    }


def _panel(plan: Plan, panel_id: str) -> dict[str, Any]:
    """A panel of the job: what feeds it, its circuits in their spaces, and what waits."""
    bench, node = plan.benches[panel_id], plan.installation.node_of(panel_id)
    return {
        "id": panel_id,
        "name": panel_name(plan.job, panel_id),
        "fed_from": node.above if node is not None else "",
        "schedule": _plain(bench.schedule),
        "placements": bench.placement.positions,
        "waiting": bench.placement.waiting,
        "changes": _plain(bench.changes),
        "entries": list(bench.entries),
    }


def _circuit(plan: Plan, branch: Branch) -> dict[str, Any]:
    """A circuit of the new panel: where it comes from, its breaker, why it is of its kind, and how its wires come to it."""
    made, reach = branch.protection, plan.benches[branch.panel].reach.get(branch.key)
    return {
        "key": branch.key,
        "tag": branch.tag,
        "panel": branch.panel,
        "text": branch.directory_text,
        "from": branch.origin_words,
        "breaker": branch.breaker.id,
        "device": "" if branch.off else str(branch.device),
        "arc_fault": {"word": made.arc.word, "why": made.arc.why} if made else None,
        "ground_fault": {"word": made.ground.word, "why": made.ground.why} if made else None,
        "listed": made.listed if made else None,
        "reach": {"verdict": reach.verdict, "splices": reach.splices, "margin_in": reach.margin_in} if reach else None,
    }


def _protection(row: LedgerRow) -> dict[str, Any]:
    """A row of the protection ledger: as found, required now, planned and where, with the entry that has the reasons."""
    return {
        "key": row.key,
        "tag": row.tag,
        "text": row.feeds,
        "found": row.found,
        "required": row.required,
        "sections": row.sections,
        "planned": row.planned,
        "where": row.where,
        "comes_back": row.comes_back,
        "entry": row.entry_id,
    }


def _plain(made: Any) -> Any:
    """Anything of the plan as JSON has it: fields by their names, lists, plain text."""
    return decode(encode(made, enc_hook=str))


def _entry(entry: Entry) -> dict[str, Any]:
    return {
        "label": entry.label,
        "value": entry.value,
        "unit": entry.unit,
        "text": entry.text(),
        "why_unknown": entry.why_unknown,
        "local": entry.local,
        "sections": [_cite(cite) for cite in entry.cites],
        "place": entry.place,
        "steps": [
            {
                "label": step.label,
                "how": step.how,
                "value": step.value,
                "unit": step.unit,
                "sections": [_cite(cite) for cite in step.cites],
                "place": step.place,
            }
            for step in entry.steps
        ],
    }


def _calculation(one: Calculation) -> dict[str, Any]:
    return {
        "title": one.title,
        "section": _cite(one.cite),
        "total": one.total.id,
        "amperes": one.amperes.id,
        "practice": one.practice,
        "tape": [{**_plain(line), "cites": [_cite(cite) for cite in line.cites]} for line in one.lines],
    }


def _finding(finding: Finding) -> dict[str, Any]:
    data = _plain(finding)
    del data["field"], data["acceptable"], data["several"], data["each"]  # for the desk, and for groups
    return {**data, "severity": str(finding.severity), "cites": [_cite(cite) for cite in finding.cites]}


def _cite(cite: Citation) -> dict[str, Any]:
    marks: dict[str, Any] = {
        **({"verify": cite.verify} if cite.verify else {}),
        **({"local": True} if cite.local else {}),
    }
    return {"section": cite.section, "edition": cite.edition, **marks}
