"""The old panel as found: who sits where, and what about it cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.circuits import partner_key
from robust_ledger.branch.subject import STAGE, of_circuit
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panels import OldBox, OldPanel
from robust_ledger.job.spaces import OldPosition, leg_of, parse_old
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings
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
            yield of_circuit(circuit, codebook).make(
                "old_legs",
                Severity.ASK,
                title=f"Tag {circuit.tag} is a 2-pole on one leg as written down",
                text=f"Spaces {' and '.join(circuit.spaces)} are on the same leg, which gives no 240 V.",
                remedy="Read the space numbers again.",
                rules=("two_pole",),
                field="spaces",
            )
        partner = job.circuit(tag) if (tag := partner_key(job, circuit).tag) is not None else None
        if partner and circuit.tag < partner.tag:
            other = {leg for space in partner.spaces if (leg := old_leg(space))}
            if legs and legs == other:
                yield of_circuit(circuit, codebook).make(
                    "neutral_one_leg",
                    Severity.FIX,
                    title=f"Tags {circuit.tag} and {partner.tag} share a neutral on one leg",
                    text=f"As found both hots sit on leg {min(legs)}: the shared neutral carries the sum of both.",
                    remedy="The plan lands them on opposite legs behind one handle.",
                    rules=(
                        "multiwire",
                        "multiwire_neutral",
                    ),
                    field="marks",
                )
            elif legs and other and not (Mark.TIED in circuit.marks and Mark.TIED in partner.marks):
                yield of_circuit(circuit, codebook).make(
                    "neutral_no_tie",
                    Severity.NOTE,
                    title=f"Tags {circuit.tag} and {partner.tag} share a neutral and have no handle tie or common trip",
                    text="With one of them switched off its white wire still carries the other's current.",
                    remedy='The plan ties both handles. Seen tied already: mark both "tie".',
                    rules=("multiwire",),
                    field="marks",
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
    make = Findings(f"old_box.{mark}" if mark else "old_panel", codebook, STAGE).make
    if panel.kind == "fuses":
        yield make(
            "fuses",
            Severity.NOTE,
            at=box_place(mark, "kind"),
            title=f"Fuses{name}",
            text="Pulling a block or moving the dead front may switch the house off, or bare what is live behind it.",
            remedy="Open nothing before the utility has disconnected it; check every fuse for over-fusing.",
        )
        plugs = [
            circuit
            for circuit in job.circuits
            if circuit.poles == 1 and (circuit.breaker_a or 0) >= 30 and any(_box_of(s) == mark for s in circuit.spaces)
        ]
        if plugs:
            tags = ", ".join(str(circuit.tag) for circuit in plugs)
            yield make(
                "plug_30",
                Severity.ASK,
                at=box_place(mark, "kind"),
                title=f"Plug fuses of 30 A{name}: {'tags' if len(plugs) > 1 else 'tag'} {tags}",
                text="Put in where 15 or 20 A kept blowing, as a rule; the wire behind may have been too hot for years.",
                remedy="Measure each wire and look at its insulation before it gets a breaker.",
                rules=("small_conductors",),
            )
    if panel.kind != "split_bus":
        return
    yield make(
        "split",
        Severity.NOTE,
        at=box_place(mark, "kind"),
        title=f"Split bus{name}: no single main",
        text="Up to six throws in the upper section shut the house off; one of them feeds the lower bus.",
        remedy="Switch all of the upper bus off and test both buses.",
        rules=("service_grouped",),
    )
    if panel.split_at is None or not 1 < panel.split_at <= panel.spaces:
        yield make(
            "split_at",
            Severity.ASK,
            at=box_place(mark, "split_at"),
            title="Where the lower bus begins is not entered",
            text="Which circuits are fed by that breaker is not known.",
            remedy="Enter its first space.",
        )
        return
    for circuit in job.circuits:
        found = [position for space in circuit.spaces if (position := parse_old(space))]
        sides = {one.space >= panel.split_at for one in found if one.box == mark}
        if len(sides) == 2:
            yield of_circuit(circuit, codebook).make(
                "old_split",
                Severity.ASK,
                title=f"Tag {circuit.tag} sits on both buses as written down",
                text="A 2-pole takes both its hots from one bus.",
                remedy="Read the space numbers again.",
                rules=("two_pole",),
                field="spaces",
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
            yield of_circuit(circuit, codebook).make(
                f"old_outside:{space}",
                Severity.ASK,
                title=f"Tag {circuit.tag}: space {space} is not in the {name} panel",
                text=f"The {name} panel has spaces 1 to {most}." if most else "There is no such panel.",
                remedy="Correct the space, or the panel's count.",
                rules=("directory",),
                field="spaces",
            )
        elif position.half and (marked := _tandems(job, position)) and position.space not in marked:
            yield of_circuit(circuit, codebook).make(
                f"old_tandem:{space}",
                Severity.ASK,
                title=f"Tag {circuit.tag}: a tandem in space {position.whole}, which is not marked for one",
                text="Put in where the panel was not made for it, or the spaces marked were written down wrongly.",
                remedy="Look at the label again. The new panel gets a full space for each of the two.",
                rules=("tandem_spaces",),
                field="spaces",
            )
        twin = {space, space.rstrip("ab")} if space[-1:] in ("a", "b") else {space, f"{space}a", f"{space}b"}
        before = next((taken[s] for s in sorted(twin) if s in taken), None)
        # Two wires under one breaker are two tags in one space, and told as such.
        if before is not None and Mark.DOUBLED not in circuit.marks:
            yield of_circuit(circuit, codebook).make(
                f"old_twice:{space}",
                Severity.ASK,
                title=f"Tags {before} and {circuit.tag} are both in space {space}",
                text="Two circuits cannot share one space, unless two wires sit under one breaker or it is a tandem.",
                remedy=f"Correct the space, or write the halves of a tandem as {space.rstrip('ab')}a and {space.rstrip('ab')}b.",
                rules=("directory",),
                field="spaces",
            )
        taken[space] = circuit.tag
