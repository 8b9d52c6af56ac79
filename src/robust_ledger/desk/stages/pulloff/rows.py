"""The circuits of the old panel as rows of their table."""

from __future__ import annotations

from robust_ledger.callout.words import MARK_SHORT
from robust_ledger.desk.kit.table import Row
from robust_ledger.job.conductors import size_text
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan

FEEDS = 4

# Which cell of a row shows a field of its circuit; a finding about none of these is about what the circuit feeds.
_CELL_OF = {"spaces": 1, "breaker_a": 2, "gauge": 3, "feeds": FEEDS, "marks": 5}


def row_of(circuit: Circuit, plan: Plan) -> Row:
    """A circuit as the table of the old panel shows it; what the plan makes of it is kept back in an exercise."""
    marks = [MARK_SHORT[mark] for mark in circuit.marks]
    branch = plan.branch(CircuitKey.of_tag(circuit.tag))
    partner = branch.partner.tag if branch and branch.partner else circuit.shares_neutral_with
    if partner is not None:
        marks.append(f"mw {partner}")
    if circuit.clamp_a is not None:
        marks.append(f"{circuit.clamp_a:g} A")
    found = "?" if circuit.breaker_a is None else f"{circuit.breaker_a:g}"
    if circuit.off and circuit.breaker_a is None:
        found = "-"
    is_veiled = bool(plan.withheld)
    becomes = "-" if is_veiled else branch.rating_text if branch else "combined"
    changed = branch is not None and not is_veiled and not branch.off and branch.breaker.value != circuit.breaker_a
    fields = [f.field for f in plan.findings_at(Place.circuit(circuit.tag)) if f.open or f.cured]
    warn = {_CELL_OF.get(field, FEEDS) for field in fields} | ({2, 6} if changed else set())
    return Row(
        str(circuit.tag),
        (
            str(circuit.tag),
            ",".join(circuit.spaces) or "-",
            f"{found}/2" if circuit.poles == 2 else found,
            size_text(circuit.gauge, circuit.metal) if circuit.gauge else "?",
            circuit.feeds or "unknown",
            " ".join(marks),
            becomes,
        ),
        "faint" if circuit.off else "",
        tuple(sorted(warn)),
    )
