"""The old panel as found: who sits where, and what about it cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from robust_ledger.branch.circuits import partner_key
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.models import Circuit, Job, Mark
from robust_ledger.job.spaces import leg_of, parse_position
from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.service.finding import Findings

STAGE = "pulloff"


def old_panel_findings(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """Spaces used twice or outside the panel, 2-poles on one leg, shared neutrals with both hots on one leg."""
    taken: dict[str, int] = {}
    yield from _kind(job, codebook)
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


def _kind(job: Job, codebook: Codebook) -> Iterator[Finding]:
    """What the kind of panel means for whoever stands in front of it."""
    panel = job.old_panel

    finding = Findings("old_panel", codebook, STAGE).make
    if panel.kind == "fuses":
        yield finding("fuses", Severity.NOTE, "old_panel:kind", "Fuses",
                      "Pulling a block or moving the cover may switch the house off, or bare what is live behind it.",
                      "Look behind nothing before the utility has disconnected it; read every fuse, they are easily too large.")  # fmt: skip
    if panel.kind != "split_bus":
        return
    yield finding("split", Severity.NOTE, "old_panel:kind", "Split bus: no single main",
                  "Several handles of the upper bus together switch the house off; one of them feeds the lower bus.",
                  "Switch all of the upper bus off and test both buses.", "service_grouped")  # fmt: skip
    if panel.split_at is None or not 1 < panel.split_at <= panel.spaces:
        yield finding("split_at", Severity.ASK, "old_panel:split_at", "Where the lower bus begins is not told",
                      "Which circuits hang on the breaker that feeds it is not known.", "Enter its first space.")  # fmt: skip
        return
    for circuit in job.circuits:
        sides = {position[0] >= panel.split_at for space in circuit.spaces if (position := parse_position(space))}
        if len(sides) == 2:
            yield _finding(circuit, "old_split", Severity.ASK, f"Tag {circuit.tag} sits on both buses as written down",
                           "A 2-pole takes both its hots from one bus.", "Read the space numbers again.", codebook, "two_pole")  # fmt: skip


def old_positions(job: Job) -> list[str]:
    """Every position of the old panel to be called out: whole spaces, and both halves of tandem spaces."""
    halved = set(job.old_panel.tandem_spaces)
    for circuit in job.circuits:
        halved |= {position[0] for space in circuit.spaces if (position := parse_position(space)) and position[1]}
    spaces = range(1, job.old_panel.spaces + 1)
    return [position for s in spaces for position in ((f"{s}a", f"{s}b") if s in halved else (str(s),))]


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
    position = parse_position(space)
    return leg_of(position[0]) if position else ""


def _spaces(circuit: Circuit, job: Job, taken: dict[str, int], codebook: Codebook) -> Iterator[Finding]:
    for space in dict.fromkeys(circuit.spaces):
        position = parse_position(space)
        if position is None or position[0] > job.old_panel.spaces:
            yield _finding(
                circuit,
                f"old_outside:{space}",
                Severity.ASK,
                f"Tag {circuit.tag}: space {space} is not in the old panel",
                f"The old panel has spaces 1 to {job.old_panel.spaces}.",
                "Correct the space, or the panel's count.",
                codebook,
                "directory",
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
