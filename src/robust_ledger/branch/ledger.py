"""The protection ledger: of every circuit what protected it as found, what is required now, what is planned and where [210.8, 210.12, 406.4(D),
422.5, 680]."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct

from robust_ledger.branch.asked import IF_EXTENDED, NOT_KNOWN, REQUIRED, Verdict
from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.subject import of_branch
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.devices import FOUND
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.tree import is_enclosure, on_supply_side, panel_name
from robust_ledger.ledger.entry import Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.text import UNKNOWN

# What protects a circuit beyond its breaker.
_AT_OUTLETS = {"gfci_outlet": "GFCI receptacle", "dead_front": "GFCI dead front", "afci_outlet": "AFCI receptacle"}
_GROUND_AT_OUTLETS = ("gfci_outlet", "dead_front")
# Protected in every edition one may meet, so that what is there has it somewhere.
_ALWAYS = ("hot tub", "pool pump", "hydromassage tub")


class LedgerRow(Struct, frozen=True):
    """The protection of one circuit. `found`: in words, "?" where nobody looked, "" for a new one; `planned` and `where`: the breaker or device of
    the plan, and where it sits; `comes_back`: whether what was found is in the plan again; None where that is not known."""

    key: CircuitKey
    tag: str
    feeds: str
    panel: str
    found: str
    arc: Verdict
    ground: Verdict
    planned: str
    where: str
    comes_back: bool | None

    @property
    def entry_id(self) -> str:
        """The entry behind it, with the reasons and sections."""
        return f"protection.{self.key}"

    @property
    def required(self) -> str:
        """What is required now, in words: "arc-fault and ground-fault", "nothing", "only if extended", "?" while either is not
        known."""
        needed = [name for name, one in (("arc-fault", self.arc), ("ground-fault", self.ground)) if one.needed]
        if NOT_KNOWN in (self.arc.word, self.ground.word):
            return " and ".join((*needed, UNKNOWN))
        if needed:
            return " and ".join(needed)
        later = any(one.word == IF_EXTENDED for one in (self.arc, self.ground))
        return "only if extended" if later else "nothing"

    @property
    def sections(self) -> str:
        """The sections of both verdicts, each once."""
        return ", ".join(dict.fromkeys(cite.printed for one in (self.arc, self.ground) for cite in one.cites))


def ledger(job: Job, branches: Sequence[Branch]) -> tuple[LedgerRow, ...]:
    """A row for each circuit that gets a breaker."""
    return tuple(
        _row(job, one) for one in branches if one.protection and not one.off and one.origin is not Origin.FUTURE
    )


def _row(job: Job, branch: Branch) -> LedgerRow:
    made = branch.protection
    assert made is not None, branch.key
    old = [one for tag in branch.sources if (one := job.circuit(tag)) is not None] if not branch.key.second else []
    outlets = _at_outlets(old)
    planned, where = str(made.device), "breaker"
    if made.at == "first_outlet":
        kinds = [name for name, one in (("arc-fault", made.arc), ("ground-fault", made.ground)) if one.needed]
        planned, where = f"{' and '.join(kinds) or made.found} device", "first outlet"
    elif not made.electronic and outlets:
        planned, where = "; ".join(outlets), "stays at its outlets"
    elif not made.electronic:
        planned, where = "none", ""
    return LedgerRow(
        branch.key, branch.tag, branch.directory_text, branch.panel, found_text(old) if old else "", made.arc, made.ground, planned, where,
        _comes_back(old, made.electronic or made.at == "first_outlet", bool(outlets)),
    )  # fmt: skip


def _at_outlets(old: Sequence[Circuit]) -> list[str]:
    return list(dict.fromkeys(_AT_OUTLETS[one.guarded] for one in old if one.guarded in _AT_OUTLETS))


def _comes_back(old: Sequence[Circuit], planned: bool, outlets: bool) -> bool | None:
    if any(one.device in FOUND for one in old):
        return planned
    if outlets or all(one.guarded == "none" for one in old):
        return True
    return None


def found_text(old: Sequence[Circuit]) -> str:
    """What protected old circuits, in words; "?" where nobody has looked."""
    made = [f"{FOUND[one.device]} breaker" for one in old if one.device in FOUND] + _at_outlets(old)
    if made:
        return "; ".join(dict.fromkeys(made))
    return "none" if old and all(one.guarded == "none" for one in old) else UNKNOWN


def supply_side_findings(job: Job, branches: Sequence[Branch], codebook: Codebook) -> Iterator[Finding]:
    """Branch circuits in an enclosure that no service disconnect, and no bond of the service, stands ahead of [230.70, 230.82]."""
    find = Findings(codebook, "bench").find
    for panel_id in dict.fromkeys(one.panel for one in branches):
        panel = job.panel_of(panel_id)
        node = "disconnect" if panel is not None and is_enclosure(job, panel) else panel_id
        mine = [one for one in branches if one.panel == panel_id and not one.off and one.key.kind != "equip"]
        if mine and on_supply_side(job, node):
            names = ", ".join(one.name for one in mine[:4])
            yield find(
                "bench.supply_side",
                at=Place.branch(mine[0].key),
                of=panel_id,
                panel=panel_name(job, panel_id),
                names=names,
            )


def ledger_findings(job: Job, branches: Sequence[Branch], codebook: Codebook) -> Iterator[Finding]:
    """What has been protected for as long as anybody has wired it, with its protection not seen, or seen to be missing; protection at the first
    outlet where it cannot be had."""
    by_key = {one.key: one for one in branches}
    for row in ledger(job, branches):
        branch = by_key[row.key]
        find, made = of_branch(branch, codebook).find, branch.protection
        if made is None or branch.serves is None:
            continue
        if made.refused:
            yield find("bench.first_outlet", why=made.refused, device=str(made.device))
        name = next((name for name in _ALWAYS if name in branch.serves.appliances), "")
        if not name or made.electronic or made.at == "first_outlet" or not branch.sources:
            continue
        if made.ground.word not in (REQUIRED, IF_EXTENDED):
            continue
        guarded = [one.guarded for tag in branch.sources if (one := job.circuit(tag)) is not None]
        if all(one == "none" for one in guarded):
            yield find("bench.unprotected", appliance=name, cites=made.ground.cites)
        elif not any(one in _GROUND_AT_OUTLETS for one in guarded):
            yield find("bench.found_protection", appliance=name, cites=made.ground.cites)
