"""The panels as a tree: who is fed from whom, which circuits belong to which, and a job as one of them sees it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from msgspec.structs import replace

from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.feed import Feed
from robust_ledger.job.parts.panel_tree import AHEAD, MAIN, FurtherBox, Panel
from robust_ledger.job.parts.panels import NewPanel
from robust_ledger.ledger.place import Place

FEEDER = "feeder."  # of an equipment key: the breaker of a panel's feeder
_OF_FEED = tuple(name for name in Feed.__struct_fields__ if name != "unknown")
_OF_BOX = tuple(name for name in NewPanel.__struct_fields__ if name != "unknown")
_AS_SERVICE = {"THWN-2": "thwn", "XHHW-2": "xhhw"}


def back_fed_key(panel_id: str) -> CircuitKey:
    """The back-fed main of a panel, which sits in spaces of its bus."""
    return CircuitKey.of_equipment("main" if panel_id == MAIN else f"main.{panel_id}")


def place_of(panel: Panel, field: str) -> Place:
    """Where a field of a node is entered; the main panel's feeder and its record are parts of the job of their own."""
    if panel.id != MAIN:
        return Place.of("panels", f"{panel.id}.{field}")
    box, _, name = field.rpartition(".")
    if name in ("load_a", "main_a"):  # what it carries is never said, and its own main is one figure with its breaker
        box, name = "", "breaker_a"
    return Place(f"panel:{name}" if box else f"main_feed:{name}")


def main_node(job: Job) -> Panel:
    """The main panel as a node like every other. Straight from the meter, and in a split service, it has its own main; from the load side of an
    enclosed disconnect it has no breaker of its own."""
    feed, at = job.main_feed, above_main(job)
    feeding = job.panel_of(_fed_by_spaces(job, at))
    fed_by = feed.fed_by
    if at == "meter" or (job.scope.split and at == "disconnect" and feeding is None):
        fed_by = "breaker"
    elif fed_by == "breaker" and (feeding is None or not feeding.takes_circuits):
        fed_by = "lugs"
    own = {name: getattr(feed, name) for name in _OF_FEED} | {"fed_from": at, "fed_by": fed_by}
    own["metal"] = feed.metal or job.decisions.metal
    own["wiring"] = feed.wiring or _AS_SERVICE[job.service_run.insulation]
    box = FurtherBox(
        **{name: getattr(job.panel, name) for name in _OF_BOX}, main_a=feed.breaker_a if fed_by == "tap" else None
    )
    return Panel(id=MAIN, name="main panel", separate_building=False, found=main_feed_stays(job), box=box, **own)


def node_of(job: Job, key: str) -> Panel | None:
    """Any node by its key, the main panel too."""
    return main_node(job) if key == MAIN else job.panel_of(key)


def main_fed(job: Job) -> bool:
    """Whether the conductors to the main panel are its own: something stands ahead of it, or it is one panel of a split service."""
    return above_main(job) != "meter" or job.scope.split


def main_feed_stays(job: Job) -> bool:
    """Whether the feeder to the main panel is one that was found and goes on: not made new, and not one that only begins with a new
    disconnect or a moved panel."""
    at = above_main(job)
    node = job.panel_of(at)
    kept = node.there if node is not None else at == "disconnect" and job.kept_disconnect
    return kept and "feeder" not in job.scope.renews


def panel_name(job: Job, panel_id: str) -> str:
    """What a panel is called: "main panel", "garage panel"."""
    if panel_id == MAIN:
        return "main panel"
    panel = job.panel_of(panel_id)
    name = (panel.name if panel else panel_id) or "sub"
    if panel is not None and not panel.takes_circuits:
        return name
    return name if name.lower().endswith("panel") else f"{name} panel"


def panel_ids(job: Job) -> tuple[str, ...]:
    """The main panel and every other that circuits land in, in the order in which they are fed."""
    return (MAIN, *(panel.id for panel in in_order(job) if panel.takes_circuits))


def in_order(job: Job) -> tuple[Panel, ...]:
    """The nodes beside the main panel that a feeder goes to, each after the one that feeds it."""
    if not job.panels:
        return ()
    made: list[Panel] = []
    fed = [panel for panel in job.panels if panel.is_fed]
    above = {panel.id: parent(job, panel) for panel in fed}

    def put(feeding: str) -> None:
        for panel in fed:
            if above[panel.id] == feeding:
                made.append(panel)
                put(panel.id)

    for start in (*AHEAD, MAIN):
        put(start)
    return tuple(made)


def fed_nodes(job: Job) -> tuple[Panel, ...]:
    """Every node with a feeder of its own, each after the one that feeds it: the main panel too where it has one, and no enclosure of the
    disconnect ahead."""
    nodes, behind = [panel for panel in in_order(job) if not is_enclosure(job, panel)], fed_below(job, MAIN)
    own = (main_node(job),) if main_fed(job) else ()
    return (*(one for one in nodes if one.id not in behind), *own, *(one for one in nodes if one.id in behind))


def parent(job: Job, panel: Panel) -> str:
    """What feeds a panel: "meter", "disconnect", "panel" or an id. One that is fed by itself, or by nothing there is, counts as fed
    from the main panel; `lost` tells of it. What is fed from a disconnect with spaces of its own has its breaker in those."""
    fed_from = above_main(job) if panel.id == MAIN else MAIN if lost(job, panel) else panel.fed_from
    box = _fed_by_spaces(job, fed_from)
    return fed_from if box == panel.id else box


def _fed_by_spaces(job: Job, at: str) -> str:
    """The node whose spaces a breaker sits in: of a disconnect with spaces of its own that enclosure."""
    box = ahead_box(job) if at == "disconnect" else None
    return box.id if box is not None else at


def fed_at(job: Job, panel: Panel) -> str:
    """The same for the way of the current: the enclosure of the disconnect is the disconnect itself, and one that is not there is no
    stop on the way."""
    above, box = parent(job, panel), ahead_box(job)
    above = "disconnect" if box is not None and above == box.id else above
    return "meter" if above == "disconnect" and not job.disconnect_ahead else above


def above_main(job: Job) -> str:
    """What feeds the main panel: "meter", "disconnect", or the id of another node. One that is itself fed from the main panel feeds nothing."""
    chosen = job.panel_of(job.main_feed.fed_from)
    if chosen is not None and chosen.is_fed and not main_lost(job):
        return "disconnect" if is_enclosure(job, chosen) else chosen.id
    return "disconnect" if job.disconnect_ahead else "meter"


def main_lost(job: Job) -> str:
    """Why it is not known what feeds the main panel: "by itself", "by one that is not there", "by one that is taken out" or "by one that nothing
    feeds"; "" where it is."""
    at = job.main_feed.fed_from
    if not at or at in AHEAD:
        return ""
    first, passed = job.panel_of(at), {MAIN}
    if first is None or not first.is_fed:
        return "by one that is taken out" if first is not None and first.gone else "by one that is not there"
    while at not in AHEAD:
        panel = job.panel_of(at)
        if at in passed:
            return "by itself"
        if panel is None or lost(job, panel):
            return "by one that nothing feeds"
        passed.add(at)
        at = panel.fed_from
    return ""


def above(job: Job, key: str) -> str:
    """The key of what feeds a node on the way of the current; "" for the meter."""
    if key == "meter":
        return ""
    if key == MAIN:
        return above_main(job)
    panel = job.panel_of(key)
    return fed_at(job, panel) if panel is not None and not is_enclosure(job, panel) else "meter"


def way_up(job: Job, key: str) -> tuple[str, ...]:
    """What stands between a node and the meter, the nearest first."""
    made: list[str] = []
    at = above(job, key)
    while at not in ("", "meter") and at not in made:
        made.append(at)
        at = above(job, at)
    return tuple(made)


def on_supply_side(job: Job, key: str) -> bool:
    """Whether a node is a disconnect ahead of the service equipment and none of it: a meter disconnect, or another so marked [230.85]."""
    panel = job.panel_of(key)
    marked = job.scope.panel_stays_first if key == "disconnect" else panel is not None and panel.supply
    return marked and all(on_supply_side(job, one) for one in way_up(job, key))


def is_service_at(job: Job, key: str) -> bool:
    """Whether a node is service equipment: the first disconnect on its way from the utility [100, 230.70]."""
    return not on_supply_side(job, key) and all(on_supply_side(job, one) for one in way_up(job, key))


def by_service(job: Job, key: str) -> bool:
    """Whether the conductors to a node are the service's: it is service equipment, or stands ahead of it."""
    return on_supply_side(job, key) or is_service_at(job, key)


def carries_all(job: Job, key: str) -> bool:
    """Whether everything of the dwelling goes through the conductors to a node: they are the service's, and every other node is ahead of it
    or fed from it."""
    if not by_service(job, key):
        return False
    nodes = {MAIN, *(panel.id for panel in in_order(job) if not is_enclosure(job, panel))}
    return nodes <= {key, *way_up(job, key), *fed_below(job, key)}


def in_another_building(job: Job, key: str) -> bool:
    """Whether a node stands in a building apart from the dwelling: it is said to, or one it is fed from inside that building is."""
    ways = (key, *way_up(job, key)) if key != MAIN else ()
    return any(panel is not None and panel.separate_building for panel in map(job.panel_of, ways))


def main_behind(job: Job) -> bool:
    """Whether the main panel stands behind a service disconnect, so that a feeder feeds it."""
    return not is_service_at(job, MAIN)


def lost(job: Job, panel: Panel) -> str:
    """Why it is not known what feeds a panel: "by itself", "by one that is not there" or "by one that is taken out"; "" where it is."""
    by_id = {one.id: one for one in job.panels}
    at, passed = panel, {panel.id}
    while at.fed_from not in (*AHEAD, MAIN):
        feeding = by_id.get(at.fed_from)
        if feeding is None or not feeding.is_fed:
            why = "by one that is taken out" if feeding is not None and feeding.gone else "by one that is not there"
            return why if at is panel else ""
        if at.fed_from == panel.id:
            return "by itself"
        if at.fed_from in passed:  # a circle further up: told there
            return ""
        passed.add(at.fed_from)
        at = feeding
    return ""


def fed_below(job: Job, panel_id: str) -> frozenset[str]:
    """A node and every one that is fed from it, directly or by way of others; the main panel too."""
    made = {panel_id}
    for _twice in (1, 2):  # what hangs on the main panel comes only once that is in
        for panel in in_order(job):
            if parent(job, panel) in made:
                made.add(panel.id)
        if MAIN not in made and job.main_feed.fed_from and above_main(job) in made:
            made.add(MAIN)
    return frozenset(made)


def depth(job: Job, panel: Panel) -> int:
    """How many panels stand between it and the service."""
    count, at = 0, parent(job, panel)
    while (above := job.panel_of(at)) is not None and count < len(job.panels):
        count, at = count + 1, parent(job, above)
    return count + (at == MAIN)


def takes_spaces(job: Job, panel: Panel) -> bool:
    """Whether the breaker of its feeder sits in a panel of this job; from an enclosed disconnect it goes on from the load side."""
    at = parent(job, panel)
    feeding = job.panel_of(at)
    from_breaker = panel.fed_by not in ("lugs", "tap")
    return panel.is_fed and from_breaker and at not in AHEAD and (feeding is None or feeding.takes_circuits)


def by_load_side(job: Job, panel: Panel) -> bool:
    """Whether what protects its feeder is the device of the node above it: feed-through lugs, a tap, or the load side of a
    disconnect."""
    feeding = job.panel_of(parent(job, panel))
    return panel.fed_by == "lugs" or is_tap(job, panel) or (feeding is not None and not feeding.takes_circuits)


def is_tap(job: Job, panel: Panel) -> bool:
    """Whether its conductors are a tap: no device of their own where they begin, behind the service equipment [240.2, 240.21(B)]."""
    return panel.fed_by == "tap" and not by_service(job, panel.id)


def is_service(job: Job, panel: Panel) -> bool:
    """Whether a panel is a service disconnect itself: nothing of the service stands ahead of it but a meter disconnect or the like."""
    return is_service_at(job, panel.id)


def ahead_box(job: Job) -> Panel | None:
    """The panel that is the enclosure of the disconnect ahead, as in a meter-main with spaces of its own; None where there is none."""
    if not job.disconnect_ahead:
        return None
    return next((panel for panel in job.panels if panel.fed_by == "same" and panel.fed_from == "disconnect"), None)


def is_enclosure(job: Job, panel: Panel) -> bool:
    """Whether a panel is the enclosure of the disconnect ahead, so that it has no feeder."""
    box = ahead_box(job)
    return box is not None and box.id == panel.id


def feeder_tag(job: Job, panel: Panel) -> int | None:
    """The old circuit that fed a panel: as said, else the one that is called a feeder and names it, or is the only one it can be."""
    if panel.id == MAIN or panel.feeder_tag is not None or not takes_spaces(job, panel):
        return panel.feeder_tag
    alone, name = len(job.panels) == 1, panel.name.strip().lower()
    said = {one.feeder_tag for one in job.panels}
    for circuit in job.circuits:
        words = circuit.feeds.lower()
        if "feeder" in words and not circuit.off and circuit.tag not in said and (alone or (name and name in words)):
            return circuit.tag
    return None


def feeder_key(job: Job, panel: Panel) -> CircuitKey | None:
    """The circuit that is a panel's feeder; None where its breaker is in no panel of this job."""
    if not takes_spaces(job, panel):
        return None
    tag = feeder_tag(job, panel)
    return CircuitKey.of_tag(tag) if tag is not None else CircuitKey.of_equipment(f"{FEEDER}{panel.id}")


def panel_of_key(job: Job, key: CircuitKey) -> str:
    """The panel a circuit belongs to. A feeder's breaker is where it is fed from; what is marked for no panel there is, is in the main
    one."""
    return panels_of(job)(key)


def panels_of(job: Job) -> Callable[[CircuitKey], str]:
    """The same for many circuits of one job, whose feeders are looked for once."""
    if not job.panels:
        return lambda _key: MAIN
    fed_by_tag = {tag: panel for panel in reversed(job.panels) if (tag := feeder_tag(job, panel)) is not None}
    return lambda key: _panel_of(job, key, fed_by_tag)


def _panel_of(job: Job, key: CircuitKey, fed_by_tag: Mapping[int, Panel]) -> str:
    if key.kind == "equip":
        kind, _, of = key.name.partition(".")
        if kind == "main":
            return of if job.panel_of(of) is not None else MAIN
        fed = node_of(job, of) if kind == "feeder" else None
        return parent(job, fed) if fed is not None and takes_spaces(job, fed) else MAIN
    if key.tag is not None:
        fed = fed_by_tag.get(key.tag)
        if fed is not None and takes_spaces(job, fed):
            return parent(job, fed)
    chosen = job.change(key).panel
    panel = job.panel_of(chosen) if chosen else None
    return chosen if panel is not None and panel.takes_circuits and panel.is_fed else MAIN


def record_of(job: Job, panel_id: str) -> NewPanel:
    """The record of a panel."""
    panel = job.panel_of(panel_id)
    return panel.box if panel is not None else job.panel


def seen_from(job: Job, panel_id: str) -> Job:
    """The job with one panel in the main one's place: its record, and only the placements in it. For all that is about one panel."""
    if panel_id == MAIN and not job.panels:
        return job
    decided = job.decisions
    of = panels_of(job)
    placements = {key: at for key, at in decided.placements.items() if of(key) == panel_id}
    pins = tuple(key for key in decided.pins if of(key) == panel_id)
    decisions = replace(decided, placements=placements, pins=pins)
    return replace(job, panel=record_of(job, panel_id), decisions=decisions)
