"""Which cable comes in through which knockout of the new enclosure, with the connector it takes, and what is left free [312.5(C), 110.12(A)]."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct

from robust_ledger.branch.model import Branch, Origin
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.findings import Findings
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.spaces import parse_position
from robust_ledger.ledger.entry import Entry, Finding
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working
from robust_ledger.panel.geometry import Inside
from robust_ledger.panel.placement import Placement
from robust_ledger.panel.reach import Wire

SIDES = ("top", "bottom", "left", "right", "back")


class Entering(Struct, frozen=True):
    """A cable on its way in: its circuits, the side, where along it, and the trade size [in] of its connector; "?" where its wire is not
    known."""

    keys: tuple[CircuitKey, ...]
    side: str
    at_in: float
    trade_size: str
    new: bool


class Hole(Struct, frozen=True):
    """A knockout with the cables through it; `at_in` is None for holes that are made where one is needed."""

    side: str
    at_in: float | None
    cables: tuple[Entering, ...]

    @property
    def free(self) -> bool:
        """Whether no cable comes in through it."""
        return not self.cables


class KnockoutPlan(Struct, frozen=True):
    """Every knockout, side by side, and the cables that find none."""

    holes: tuple[Hole, ...]
    left_over: tuple[Entering, ...]

    def entries(self, panel_id: str) -> Iterator[Entry]:
        """How many connectors go in, and how many knockouts that are written down stay free."""
        place = Place("panel:interior.knockouts")
        work = Working(f"knockouts.{panel_id}.connectors", "Connectors or clamps, with a bushing each", place)
        yield work.entry(work.given("holes with a cable", sum(not hole.free for hole in self.holes), "", place))
        work = Working(f"knockouts.{panel_id}.free", "Knockouts that stay free", place)
        yield work.entry(work.given("knockouts without a cable", sum(hole.free for hole in self.holes), "", place))


def knockout_plan(
    job: Job,
    branches: Sequence[Branch],
    placement: Placement,
    wires: Mapping[CircuitKey, Wire],
    box: Inside,
    codebook: Codebook,
) -> KnockoutPlan:
    """The cables of every placed circuit dealt to the knockouts of their side with the least way along it; as many to a connector as
    its label allows. A side whose knockouts are not written down has a hole wherever one is needed."""
    cables = list(_cables(job, branches, placement, wires, box, codebook))
    holes: list[Hole] = []
    left: list[Entering] = []
    for side in SIDES:
        mine = [cable for cable in cables if cable.side == side]
        places = dict(box.knockouts).get(side, ())
        if not places:
            holes += [Hole(side, None, (cable,)) for cable in mine]
            continue
        dealt, over = _deal(mine, places, max(1, job.panel.cables_per_connector))
        holes += [Hole(side, at, tuple(dealt[n])) for n, at in enumerate(places)]
        left += over
    return KnockoutPlan(tuple(holes), tuple(left))


def _deal(
    cables: Sequence[Entering], places: Sequence[float], each: int
) -> tuple[dict[int, list[Entering]], list[Entering]]:
    """Cables to knockouts with the least distance in all; those that come with the wall go first where not all find one."""
    dealt: dict[int, list[Entering]] = {n: [] for n in range(len(places))}
    seats = [n for n in range(len(places)) for _ in range(each)]
    wanted = sorted(cables, key=lambda cable: cable.new)[: len(seats)]
    if not wanted:
        return dealt, list(cables)
    import numpy as np  # late: the desk is up before numbers of this kind are needed
    from scipy.optimize import linear_sum_assignment

    # A second cable in a connector only where no other knockout is left: any way along the side costs less.
    far = 10 * (max(places) + max(abs(cable.at_in) for cable in wanted) + 1)
    cost = np.array([[abs(places[n] - c.at_in) + far * (s % each > 0) for s, n in enumerate(seats)] for c in wanted])
    rows, columns = linear_sum_assignment(cost)
    for row, column in zip(rows, columns, strict=True):
        dealt[seats[column]].append(wanted[row])
    return dealt, [cable for cable in cables if cable not in wanted]


def _cables(
    job: Job,
    branches: Sequence[Branch],
    placement: Placement,
    wires: Mapping[CircuitKey, Wire],
    box: Inside,
    codebook: Codebook,
) -> Iterator[Entering]:
    """One for each cable; circuits that share a neutral come in one. What enters at a place that is not known is left to any knockout
    near the side its breaker is on."""
    by_key = {branch.key: branch for branch in branches}
    for key, position in placement.positions.items():
        branch, wire = by_key[key], wires.get(key)
        if wire is None or branch.origin is Origin.FUTURE or branch.key.kind == "equip":
            continue
        if branch.partner and branch.partner in placement.positions and key > branch.partner:
            continue  # it comes in with its partner
        keys = (key, branch.partner) if branch.partner in placement.positions else (key,)
        space, _half = parse_position(position) or (1, "")
        side, at_in = _where(job, branch, wire, box, space % 2 == 0)
        yield Entering(tuple(keys), side, at_in, _trade_size(branch, wire, len(keys) > 1, codebook), wire.free is None)


def _where(job: Job, branch: Branch, wire: Wire, box: Inside, right: bool) -> tuple[str, float]:
    """The side a cable enters at, and how far along it."""
    change = job.change(branch.key)
    circuit = job.circuit(branch.origin_tag) if branch.origin_tag is not None else None
    side = change.new_side or (circuit.enters if circuit and wire.free is not None else "")
    if not side:
        return ("bottom" if job.fit.enters == "bottom" else "top"), box.gutters_in[1 if right else 0]
    if change.new_at_in is not None:
        return side, change.new_at_in
    if wire.known:
        return side, wire.start[0] if side in ("top", "bottom", "back") else wire.start[1]
    return side, box.gutters_in[1 if right else 0]


def _trade_size(branch: Branch, wire: Wire, shared: bool, codebook: Codebook) -> str:
    row = codebook.table("connectors").row("size", branch.wire_size or "")
    if row is None:
        return "?"
    return row["wires_3" if shared or wire.poles + wire.neutral > 2 else "wires_2"]


def knockout_findings(made: KnockoutPlan, names: Mapping[CircuitKey, str], codebook: Codebook) -> Iterator[Finding]:
    """Cables without a knockout on their side."""
    find = Findings(codebook, "bench").find
    for side in SIDES:
        over = [cable for cable in made.left_over if cable.side == side]
        if over:
            words = ", ".join(names[cable.keys[0]] for cable in over)
            yield find(
                "panel.knockouts",
                at=Place("panel:interior.knockouts"),
                of=side,
                count=len(over),
                side=side,
                words=words,
            )
