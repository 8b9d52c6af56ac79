"""The directory in step with the panel: wording that an inspector takes, what changed places, and the breakers against the cover."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.branch.subject import of_branch
from robust_ledger.branch.vocabulary import OwnWords, read_words
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import covered, parse_position, shown
from robust_ledger.ledger.entry import Entry, Finding, Step
from robust_ledger.ledger.place import NOWHERE, Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.placement import Placement
from robust_ledger.panel.puzzle import name_of
from robust_ledger.panel.reach import UNKNOWN, Reach

STAGE = "bench"
_VAGUE = re.compile(r"\b(misc|miscellaneous|various|general|stuff|things|other|etc)\b", re.I)
_BARE = re.compile(
    r"^(?:lights?|lighting|outlets?|receptacles?|plugs?|rooms?|bed ?rooms?|bath(?:room)?s?|basement|upstairs|downstairs)$",
    re.I,
)
_PERSON = re.compile(
    r"\b(?!(?:driver|passenger|master|men|women|ladies|neighbor|maker)['’]?s)\w+['']s\b|\b(?:mom|dad|mum|kids?|baby|grandma|grandpa)\b",
    re.I,
)


_SEVERAL = frozenset({"bedroom", "bath", "unfinished_basement"})  # rooms there are several of, or that are large


def _bare(words: str, own: OwnWords) -> bool:
    """Whether a description is one word that does not tell where: "lts", "BR", "plugs"."""
    said = read_words(words, own)
    one = len(words.split()) == 1 and said.words == 1 and not said.appliances
    return bool(_BARE.match(words)) or (one and (said.places <= _SEVERAL or not said.places))


@lru_cache(maxsize=4096)
def wording(text: str, several: bool, own: OwnWords = ()) -> str:
    """What is wrong with a description in the directory; "" when it is specific. `several`: another circuit reads the same."""
    words = " ".join(text.split())
    if not words:
        return ""
    if match := _PERSON.search(words):
        return f'"{match[0]}" names a person, who may move out; name the room by where it is'
    if match := _VAGUE.search(words):
        return f'"{match[0]}" says nothing of what goes dead; name room and outlets'
    if _bare(words, own):
        return "too short to be found by; say which room, and lights or receptacles"
    if several:
        return "another circuit reads the same; say what tells them apart"
    return ""


def wording_findings(branches: Sequence[Branch], codebook: Codebook, own: OwnWords = ()) -> Iterator[Finding]:
    """Descriptions that are not specific, at their circuits."""
    live = [b for b in branches if not b.off and b.origin is not Origin.FUTURE]
    counts = Counter(b.directory_text.lower() for b in live)
    for branch in live:
        if not branch.feeds:
            continue
        problem = wording(branch.feeds, counts[branch.directory_text.lower()] > 1, own)
        if not problem and _bare(branch.feeds, own) and not branch.room:
            problem = "too short to be found by; say which room"
        if problem:
            yield of_branch(branch, codebook).find(
                "bench.words",
                feeds=branch.feeds,
                problem=problem,
            )


class Change(Struct, frozen=True):
    """One line of the change list: a circuit, where it was, where it is, with how much wire to spare."""

    key: CircuitKey
    tag: str
    text: str
    old: str
    new: str
    device: str
    reach: str
    origin: str


def change_list(
    job: Job, branches: Sequence[Branch], placement: Placement, reach: Mapping[CircuitKey, Reach]
) -> tuple[Change, ...]:
    """Every circuit with its old space and its new one, in the order of tags; numbers on the wires stay what they were."""
    made = []
    for branch in branches:
        sources = [circuit for tag in branch.sources if (circuit := job.circuit(tag))]
        old = ", ".join(space for circuit in sources for space in circuit.spaces)
        position = placement.positions.get(branch.key, "")
        new = " + ".join(numbers(job, branch, position)) if position else "off" if branch.off else "waiting"
        words = reach[branch.key].words if branch.key in reach else ""
        idle = branch.off or branch.origin is Origin.FUTURE
        device = "" if idle else f"{branch.rating_text} {branch.device}"
        made.append(
            Change(
                branch.key, branch.tag, branch.directory_text, old or "none", new, device, words, branch.origin_words
            )
        )
    return tuple(made)


def numbers(job: Job, branch: Branch, position: str) -> list[str]:
    """The numbers of the spaces a circuit takes, as the panel is marked."""
    space, half = parse_position(position) or (0, "")
    return [shown(f"{one}{half}", job.panel.numbering, job.panel.spaces) for one in covered(space, branch.poles)]


def count_entries(job: Job, branches: Sequence[Branch], placement: Placement) -> list[Entry]:
    """Breakers on each side against the cover's twist-outs, blanks to order, circuits against the label, tandems."""
    by_key = {b.key: b for b in branches}
    taken: set[int] = set()
    halves = 0
    for key, position in placement.positions.items():
        if by_key[key].origin is Origin.FUTURE:
            continue
        space, half = parse_position(position) or (0, "")
        taken |= set(covered(space, by_key[key].poles))
        halves += bool(half)
    made = []
    for side, odd, words in (("left", 1, "left"), ("right", 0, "right")):
        work = Working(f"panel.twist_outs_{side}", f"Twist-outs to remove, {words}", Place("panel:spaces"))
        spaces = sum(1 for space in range(1, job.panel.spaces + 1) if space % 2 == odd)
        full = sum(1 for space in taken if space % 2 == odd)
        work.given(f"spaces on the {words}", spaces, "", Place("panel:spaces"))
        made.append(work.entry(work.given(f"spaces with a breaker on the {words}, this job's only", full, "")))
    work = Working("panel.blanks", "Filler plates needed if all twist-outs are out", Place("panel:spaces"))
    have = work.given("spaces", job.panel.spaces, "", Place("panel:spaces"))
    made.append(work.entry(work.difference("left open", have, work.given("with a breaker", len(taken), ""), "")))
    work = Working("panel.circuits", "Circuits in the panel, each pole one", Place("panel:max_circuits"))
    circuits = sum(by_key[key].poles for key in placement.positions if by_key[key].origin is not Origin.FUTURE)
    if job.panel.max_circuits is not None:
        work.given("most circuits by the label", job.panel.max_circuits, "", Place("panel:max_circuits"))
    made.append(work.entry(work.given("circuits of this job", circuits, "")))
    work = Working("panel.tandems", "Tandem breakers", Place("panel:tandem_spaces"))
    made.append(
        work.entry(
            work.given(
                "spaces with a tandem", len({p[:-1] for p in placement.positions.values() if p[-1:] in "ab"}), ""
            )
        )
    )
    return made


def splices_entry(branches: Sequence[Branch], reach: Mapping[CircuitKey, Reach]) -> Entry:
    """Splices in this layout, circuit by circuit; wires of which no length is known are told and not counted."""
    work = Working("panel.splices", "Splices in this layout", Place("panel:interior.first_row_in"))
    by_key = {b.key: b for b in branches}
    short = [
        work.given(f"{name_of(by_key[one.key])}: {one.words.partition(':')[0]}", one.splices, "", Place.branch(one.key))
        for one in reach.values()
        if one.splices
    ]
    if unknown := sum(1 for one in reach.values() if one.verdict == UNKNOWN):
        work.note("wires whose reach is not known, not counted", str(unknown))
    return work.entry(work.total("splices", short or [Step("every known wire reaches", 0)], ""))


def count_findings(
    job: Job, branches: Sequence[Branch], entries: Mapping[str, Entry], codebook: Codebook
) -> Iterator[Finding]:
    """More circuits than the label allows; kinds of breakers that its list does not have, or that nobody has read there."""
    find = Findings(codebook, STAGE).find
    tandems = entries["panel.tandems"].amount
    if tandems and job.panel.devices and "tandem" not in job.panel.devices:
        yield find("bench.tandem_listed", at=Place("panel:devices"), tandems=entries["panel.tandems"])
    kinds = [str(one.device) for one in branches if one.to_device and not one.off and one.has_breaker]
    if not job.panel.devices and (tandems or kinds):
        made = " and ".join(
            [f"{len(kinds)} AFCI or GFCI breakers"] * bool(kinds) + [f"{tandems:g} tandems"] * bool(tandems)
        )
        yield find("bench.list_unread", at=Place("panel:devices"), made=made)
    circuits, most = entries["panel.circuits"], job.panel.max_circuits
    if most is None and tandems:
        yield find("bench.max_unread", at=Place("panel:max_circuits"), circuits=circuits, spaces=job.panel.spaces)
    if most is not None and circuits.amount > most:
        yield find("bench.max_circuits", at=Place("panel:max_circuits"), circuits=circuits, most=most)


def bar_findings(job: Job, branches: Sequence[Branch], codebook: Codebook) -> Iterator[Finding]:
    """One neutral for each terminal: whether the bars have enough of them, where that was counted."""
    find = Findings(codebook, STAGE).find
    live = [b for b in branches if not b.off and b.origin is not Origin.FUTURE]
    pigtail = job.panel.neutral_style == "pigtail"
    pairs = sum(1 for b in live if b.partner and b.key < b.partner)
    neutrals = sum(1 for b in live if b.poles == 1 or b.uses_neutral) - pairs
    on_bar = neutrals if pigtail else neutrals - sum(1 for b in live if b.to_device)
    have = job.panel.neutral_terminals
    if have is not None and on_bar > have:
        yield find("bench.neutral_terminals", at=Place("panel:neutral_terminals"), on_bar=on_bar, have=have)
    grounds = len(live) - pairs + sum(1 for b in branches if b.off)
    if job.panel.ground_terminals is not None and grounds > job.panel.ground_terminals:
        yield find(
            "bench.ground_terminals",
            at=Place("panel:ground_terminals"),
            grounds=grounds,
            ground_terminals=job.panel.ground_terminals,
        )


def reach_findings(
    branches: Sequence[Branch],
    reach: Mapping[CircuitKey, Reach],
    splices: Entry,
    codebook: Codebook,
    apart: Place = NOWHERE,
) -> Iterator[Finding]:
    """Wires that are short where they are now, and wires of which no length is known. `apart`: the input that would tell how far the
    panel is from the old ones, where that is not known."""
    find = Findings(codebook, STAGE).find
    by_key = {b.key: b for b in branches}
    short = [one for one in reach.values() if one.splices]
    if short:
        tags = ", ".join(by_key[one.key].tag for one in short)
        yield find(
            "bench.splices",
            at=Place.branch(short[0].key),
            count=int(splices.amount),
            tags=f"tag{'s' if len(short) > 1 else ''} {tags}",
        )
    unknown = [one for one in reach.values() if one.verdict == UNKNOWN]
    if unknown and apart:
        yield find("bench.apart", at=apart, count=len(unknown))
    elif unknown:
        known = any(one.conductors for one in reach.values())
        tags = ", ".join(by_key[one.key].tag for one in unknown[:12]) + (" …" if len(unknown) > 12 else "")
        yield find(
            "bench.no_length",
            at=Place.branch(unknown[0].key),
            known=known,
            count=len(unknown),
            tags=tags,
        )
