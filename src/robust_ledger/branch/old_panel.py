"""The old panel as found: who sits where, and what about it cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.circuits import partner_key
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.panels import OldPanel
from robust_ledger.job.spaces import OldPosition, leg_of, parse_old
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.findings import Findings

STAGE = "pulloff"


def old_panel_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Spaces used twice or outside the panel, 2-poles on one leg, shared neutrals with both hots on one leg."""
    taken: dict[str, int] = {}
    yield from _kind(job, codebook, "old_panel")
    if job.right_panel.spaces:
        yield from _kind(job, codebook, "right_panel")
    for circuit in job.circuits:
        yield from _spaces(circuit, job, taken, codebook)
        legs = {leg for space in circuit.spaces if (leg := old_leg(space))}
        if circuit.poles == 2 and len(circuit.spaces) == 2 and len(legs) == 1:
            yield _finding(
                circuit,
                "old_legs",
                Severity.ASK,
                f"Tag {circuit.tag} is a 2-pole on one leg as written down",
                f"Spaces {' and '.join(circuit.spaces)} are on the same leg, which gives no 240 V.",
                "Read the space numbers again.",
                codebook,
                "two_pole",
            )
        partner = job.circuit(int(key.removeprefix("tag:"))) if (key := partner_key(job, circuit)) else None
        if partner and circuit.tag < partner.tag:
            other = {leg for space in partner.spaces if (leg := old_leg(space))}
            if legs and legs == other:
                yield _finding(
                    circuit,
                    "neutral_one_leg",
                    Severity.FIX,
                    f"Tags {circuit.tag} and {partner.tag} share a neutral on one leg",
                    f"As found both hots sit on leg {min(legs)}: the shared neutral carries the sum of both.",
                    "The plan lands them on opposite legs behind one handle.",
                    codebook,
                    "multiwire",
                    "multiwire_neutral",
                )
            elif legs and other and not (Mark.TIED in circuit.marks and Mark.TIED in partner.marks):
                yield _finding(
                    circuit,
                    "neutral_no_tie",
                    Severity.NOTE,
                    f"Tags {circuit.tag} and {partner.tag} share a neutral and open one by one",
                    "With one of them switched off its white wire still carries the other's current.",
                    "The plan puts both behind one handle. Seen tied together: mark both «tie».",
                    codebook,
                    "multiwire",
                )


def panel_of(job: Job, position: OldPosition) -> OldPanel:
    """The panel, of one or two, that a position is in."""
    return job.right_panel if position.right else job.old_panel


def _kind(job: Job, codebook: Codebook, part: str) -> Iterator[Finding]:
    """What the kind of panel means for whoever stands in front of it."""
    panel = getattr(job, part)

    finding = Findings(part, codebook, STAGE).make
    if panel.kind == "fuses":
        yield finding("fuses", Severity.NOTE, f"{part}:kind", "Fuses",
                      "Pulling a block or moving the cover may switch the house off, or bare what is live behind it.",
                      "Look behind nothing before the utility has disconnected it; read every fuse, they are easily too large.")  # fmt: skip
    if panel.kind != "split_bus":
        return
    yield finding("split", Severity.NOTE, f"{part}:kind", "Split bus: no single main",
                  "Several handles of the upper bus together switch the house off; one of them feeds the lower bus.",
                  "Switch all of the upper bus off and test both buses.", "service_grouped")  # fmt: skip
    if panel.split_at is None or not 1 < panel.split_at <= panel.spaces:
        yield finding("split_at", Severity.ASK, f"{part}:split_at", "Where the lower bus begins is not told",
                      "Which circuits hang on the breaker that feeds it is not known.", "Enter its first space.")  # fmt: skip
        return
    for circuit in job.circuits:
        found = [position for space in circuit.spaces if (position := parse_old(space))]
        sides = {one.space >= panel.split_at for one in found if panel_of(job, one) is panel}
        if len(sides) == 2:
            yield _finding(circuit, "old_split", Severity.ASK, f"Tag {circuit.tag} sits on both buses as written down",
                           "A 2-pole takes both its hots from one bus.", "Read the space numbers again.", codebook, "two_pole")  # fmt: skip


def old_positions(job: Job) -> list[str]:
    """Every position of the old panel to be called out: whole spaces, and both halves of tandem spaces."""
    halved = {str(space) for space in job.old_panel.tandem_spaces}
    halved |= {f"r{space}" for space in job.right_panel.tandem_spaces}
    for circuit in job.circuits:
        halved |= {one.whole for space in circuit.spaces if (one := parse_old(space)) and one.half}
    spaces = [str(space) for space in range(1, job.old_panel.spaces + 1)]
    spaces += [f"r{space}" for space in range(1, job.right_panel.spaces + 1)]
    return [position for s in spaces for position in ((f"{s}a", f"{s}b") if s in halved else (s,))]


def called_out_text(job: Job) -> str:
    """How far the call-out has come: «12 of 30 positions called out, 14 tags»."""
    positions = old_positions(job)
    named = set(positions) & {space for circuit in job.circuits for space in circuit.spaces}
    return f"{len(named)} of {len(positions)} positions called out, {len(job.circuits)} tags"


def first_free_position(job: Job) -> str:
    """The first position no circuit holds; «-» when all are called out."""
    taken = {space for circuit in job.circuits for space in circuit.spaces}
    return next((position for position in old_positions(job) if position not in taken), "-")


def old_leg(space: str) -> str:
    """The leg of a space in the old panel, rows alternating; "" when the space is no number."""
    position = parse_old(space)
    return leg_of(position.space) if position else ""


def _spaces(circuit: Circuit, job: Job, taken: dict[str, int], codebook: Codebook) -> Iterator[Finding]:
    for space in dict.fromkeys(circuit.spaces):
        position = parse_old(space)
        most = panel_of(job, position).spaces if position else job.old_panel.spaces
        if position is None or position.space > most:
            name = "right-hand" if position and position.right else "old"
            yield _finding(
                circuit,
                f"old_outside:{space}",
                Severity.ASK,
                f"Tag {circuit.tag}: space {space} is not in the {name} panel",
                f"The {name} panel has spaces 1 to {most}." if most else "There is no such panel.",
                "Correct the space, or the panel's count.",
                codebook,
                "directory",
            )
        elif position.half and (marked := panel_of(job, position).tandem_spaces) and position.space not in marked:
            yield _finding(
                circuit,
                f"old_tandem:{space}",
                Severity.ASK,
                f"Tag {circuit.tag}: a tandem in space {position.whole}, which is not marked for one",
                "Put in where the panel was not made for it, or the spaces marked were written down wrongly.",
                "Look at the label again. The new panel gets a full space for each of the two.",
                codebook,
                "tandem_spaces",
            )
        twin = {space, space.rstrip("ab")} if space[-1:] in ("a", "b") else {space, f"{space}a", f"{space}b"}
        before = next((taken[s] for s in sorted(twin) if s in taken), None)
        # Two wires under one breaker are two tags in one space, and told as such.
        if before is not None and Mark.DOUBLED not in circuit.marks:
            yield _finding(
                circuit,
                f"old_twice:{space}",
                Severity.ASK,
                f"Tags {before} and {circuit.tag} are both in space {space}",
                "Two circuits cannot share one space, unless two wires sit under one breaker or it is a tandem.",
                f"Correct the space, or write the halves of a tandem as {space.rstrip('ab')}a and {space.rstrip('ab')}b.",
                codebook,
                "directory",
            )
        taken[space] = circuit.tag


def _finding(
    circuit: Circuit, kind: str, severity: Severity, title: str, text: str, remedy: str, codebook: Codebook, *rules: str
) -> Finding:
    cites = tuple(codebook.cite(rule) for rule in rules)
    return Finding(
        f"branch.{kind}:tag:{circuit.tag}", severity, STAGE, f"circuit:{circuit.tag}", title, text, remedy, cites
    )
