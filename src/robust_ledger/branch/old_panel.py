"""The old panel as found: who sits where, and what about it cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.circuits import partner_key
from robust_ledger.branch.subject import STAGE, of_circuit
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panels import OldBox, OldPanel
from robust_ledger.job.spaces import OldPosition, leg_of, parse_old
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place


def old_panel_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Spaces used twice or outside the panel, 2-poles on one leg, shared neutrals with both hots on one leg."""
    taken: dict[str, int] = {}
    for mark, box in job.all_boxes:
        yield from _kind(job, codebook, mark, box)
    for circuit in job.circuits:
        yield from _spaces(circuit, job, taken, codebook)
        fused = in_fuses(job, circuit)  # blocks and plug fuses have no legs by their number
        legs = set() if fused else {leg for space in circuit.spaces if (leg := old_leg(space))}
        if circuit.poles == 2 and len(circuit.spaces) == 2 and len(legs) == 1:
            yield of_circuit(circuit, codebook).find("branch.old_legs", spaces=" and ".join(circuit.spaces))
        partner = job.circuit(tag) if (tag := partner_key(job, circuit).tag) is not None else None
        if partner and circuit.tag < partner.tag:
            other = {leg for space in partner.spaces if (leg := old_leg(space))}
            if legs and legs == other:
                yield of_circuit(circuit, codebook, named=False).find(
                    "branch.neutral_one_leg", tag=circuit.tag, partner_tag=partner.tag, leg=min(legs)
                )
            elif legs and other and not (Mark.TIED in circuit.marks and Mark.TIED in partner.marks):
                yield of_circuit(circuit, codebook, named=False).find(
                    "branch.neutral_no_tie", tag=circuit.tag, partner_tag=partner.tag
                )


def in_fuses(job: Job, circuit: Circuit) -> bool:
    """Whether a circuit was found in a fuse box."""
    found = [position for space in circuit.spaces if (position := parse_old(space))]
    boxes = [job.old_box(one.box) for one in found]
    return any(box is not None and box.kind == "fuses" for box in boxes)


def spaces_of(job: Job, position: OldPosition) -> int:
    """How many spaces the panel has that a position is in; none where there is no such panel."""
    box = job.old_box(position.box)
    return box.spaces if box is not None else 0


def box_name(job: Job, mark: str) -> str:
    """What an old panel is called: "old", "right-hand"."""
    box = job.old_box(mark)
    if isinstance(box, OldBox):
        return box.name or f'"{mark}"'
    return "old" if not mark else f'"{mark}"'


def box_place(mark: str, field: str) -> Place:
    """The place of an old panel's field."""
    return Place.of("old_boxes", f"{mark}.{field}") if mark else Place.of("old_panel", field)


def _kind(job: Job, codebook: Codebook, mark: str, panel: OldPanel) -> Iterator[Finding]:
    """What the kind of panel means for whoever stands in front of it."""
    name = f": {box_name(job, mark)}" if mark else ""
    find = Findings(codebook, STAGE, topic=f"old_box.{mark}" if mark else "old_panel").find
    if panel.kind == "fuses":
        yield find("old_box.fuses", at=box_place(mark, "kind"), name=name)
        plugs = [
            circuit
            for circuit in job.circuits
            if circuit.poles == 1 and (circuit.breaker_a or 0) >= 30 and any(_box_of(s) == mark for s in circuit.spaces)
        ]
        if plugs:
            tags = ", ".join(str(circuit.tag) for circuit in plugs)
            yield find("old_box.plug_30", at=box_place(mark, "kind"), count=len(plugs), name=name, tags=tags)
    if panel.kind != "split_bus":
        return
    yield find("old_box.split", at=box_place(mark, "kind"), name=name)
    if panel.split_at is None or not 1 < panel.split_at <= panel.spaces:
        yield find("old_box.split_at", at=box_place(mark, "split_at"))
        return
    for circuit in job.circuits:
        found = [position for space in circuit.spaces if (position := parse_old(space))]
        sides = {one.space >= panel.split_at for one in found if one.box == mark}
        if len(sides) == 2:
            yield of_circuit(circuit, codebook).find(
                "branch.old_split",
            )


def old_positions(job: Job) -> list[str]:
    """Every position of the old panel to be called out: whole spaces, and both halves of tandem spaces."""
    halved = {f"{mark}{space}" for mark, box in job.all_boxes for space in box.tandem_spaces}
    for circuit in job.circuits:
        halved |= {one.whole for space in circuit.spaces if (one := parse_old(space)) and one.half}
    spaces = [f"{mark}{space}" for mark, box in job.all_boxes for space in range(1, box.spaces + 1)]
    return [position for s in spaces for position in ((f"{s}a", f"{s}b") if s in halved else (s,))]


def blank_positions(job: Job) -> set[str]:
    """The positions that nothing is wired to, as they were called out."""
    return {f"{mark}{space}" for mark, box in job.all_boxes for space in box.blank_spaces}


def called_out_text(job: Job) -> str:
    """How far the call-out has come: "12 of 30 positions called out, 14 tags"."""
    positions = old_positions(job)
    named = set(positions) & ({space for circuit in job.circuits for space in circuit.spaces} | blank_positions(job))
    return f"{len(named)} of {len(positions)} positions called out, {len(job.circuits)} tags"


def first_free_position(job: Job) -> str:
    """The first position no circuit holds; "-" when all are called out."""
    taken = {space for circuit in job.circuits for space in circuit.spaces} | blank_positions(job)
    return next((position for position in old_positions(job) if position not in taken), "-")


def _box_of(space: str) -> str | None:
    position = parse_old(space)
    return position.box if position else None


def old_leg(space: str) -> str:
    """The leg of a space in the old panel, rows alternating; "" when the space is no number."""
    position = parse_old(space)
    return leg_of(position.space) if position else ""


def _tandems(job: Job, position: OldPosition) -> tuple[int, ...]:
    box = job.old_box(position.box)
    return box.tandem_spaces if box is not None else ()


def _spaces(circuit: Circuit, job: Job, taken: dict[str, int], codebook: Codebook) -> Iterator[Finding]:
    for space in dict.fromkeys(circuit.spaces):
        position = parse_old(space)
        most = spaces_of(job, position) if position else job.old_panel.spaces
        if position is None or position.space > most:
            name = box_name(job, position.box) if position else "old"
            yield of_circuit(circuit, codebook).find("branch.old_outside", of=space, space=space, name=name, most=most)
        elif position.half and (marked := _tandems(job, position)) and position.space not in marked:
            yield of_circuit(circuit, codebook).find("branch.old_tandem", of=space, whole=position.whole)
        twin = {space, space.rstrip("ab")} if space[-1:] in ("a", "b") else {space, f"{space}a", f"{space}b"}
        before = next((taken[s] for s in sorted(twin) if s in taken), None)
        # Two wires under one breaker are two tags in one space, and told as such.
        if before is not None and Mark.DOUBLED not in circuit.marks:
            yield of_circuit(circuit, codebook, named=False).find(
                "branch.old_twice", of=space, tag=circuit.tag, before=before, space=space, number=space.rstrip("ab")
            )
        taken[space] = circuit.tag
