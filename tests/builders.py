"""Small houses and circuits for the worked examples."""

from __future__ import annotations

from msgspec.structs import replace

from robust_ledger.callout.circuit import read_callout
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import add_circuit, add_panel, change_branch, change_panel, remove_panel, with_part
from robust_ledger.job.job import Job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Dwelling, Load, LoadKind, Nameplate
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.job.parts.scope import Scope
from robust_ledger.job.readers.quantity import read_nameplate
from robust_ledger.job.upgrades import ANSWERS, UPGRADES
from robust_ledger.plan import Plan, plan

K = LoadKind

# The editions whose figures the tests know by hand; another one is no fault of theirs.
JUDGED = ("2017", "2020", "2023")


def load(kind: LoadKind, rating: str, name: str = "", **more) -> Load:
    """A load with a rating as written on a nameplate: load(K.DRYER, "5.5kW")."""
    name = name or f"{kind.value.replace('_', ' ')} {rating}"
    plate = read_nameplate(rating, more.pop("volts", 240))
    return Load.read({"id": name.replace(" ", "-").lower(), "name": name, "kind": kind, "nameplate": plate, **more})


def unknown_load(kind: LoadKind, name: str, volts: float = 240, **more) -> Load:
    return Load.read({"id": name, "name": name, "kind": kind, "nameplate": Nameplate(volts=volts), **more})


def scope_of(kind: str) -> dict:
    """The answers that a kind of job of the older format stands for."""
    return dict(ANSWERS[kind])


def answers(kind: str) -> Scope:
    """The scope of a kind of job of the older format."""
    return Scope.read(scope_of(kind))


# Where what was found is kept, by the part a test names it under.
_FOUND = ("raceway", "trade_size", "utility_fault_a", "transformer_kva", "transformer_percent_z", "meter_label_a")


def spread(parts: dict) -> dict:
    """Parts of a job with what was found and what is renewed where they belong: tests say `chain={"disconnect_a": 200.0, "replaced":
    ("disconnect",)}` for what stands ahead and is made new, and name a raceway with its run."""
    made = {name: dict(values) if isinstance(values, dict) else values for name, values in parts.items()}
    existing, scope = dict(made.pop("existing", {})), made.pop("scope", {})
    scope = scope_of(scope) if isinstance(scope, str) else dict(scope)
    chain = made.pop("chain", {})
    replaced = chain.pop("replaced", None)
    if chain.get("disconnect_a") is not None or "disconnect" in (replaced or ()):
        existing["disconnect_at"] = "indoors" if chain.pop("disconnect_inside", False) else "outdoors"
        scope.setdefault("disconnect_kind", "service")
    elif "disconnect_a" in chain:
        existing["disconnect_at"] = ""
    existing.update(chain)
    for part in ("service_run", "old_panel"):
        held = made.get(part, {})
        existing.update({name: held.pop(name) for name in _FOUND if isinstance(held, dict) and name in held})
    window = made.get("fit", {})
    utility = {n: window.pop(n) for n in ("meter_low_in", "meter_high_in") if isinstance(window, dict) and n in window}
    if replaced is not None:
        scope["renews"] = tuple(one for one in replaced if one != "disconnect")
        scope["disconnect"] = "new" if "disconnect" in replaced else "as_is"
    if "sub_panel" in made or "split_mains_a" in made.get("decisions", {}):
        mains = {"split_mains_a": list(made.get("decisions", {}).get("split_mains_a", ()))}
        held = {
            "sub_panel": made.pop("sub_panel", {}),
            "decisions": {**made.get("decisions", {}), **mains},
            "scope": scope,
        }
        after = UPGRADES[6](UPGRADES[4]({**held, "existing": existing}))
        made.update({name: after[name] for name in ("panels", "decisions", "main_feed") if after.get(name)})
        made.get("decisions", {}).pop("split_mains_a", None)  # what an upgrade leaves of it says nothing
    extra = (("existing", existing), ("scope", scope), ("utility", utility))
    return {**made, **{name: values for name, values in extra if values}}


def with_parts(job: Job, part: str, **values) -> Job:
    """A job with fields of a part changed, what was found and what is renewed where they belong."""
    for name, held in spread({part: values}).items():
        if name == "panels":
            job = replace(job, panels=tuple(Panel.read(one) for one in held))
        else:
            job = with_part(job, name, **held) if held else job
    return job


def sub_panel(job: Job, **fields) -> Job:
    """A job with a panel "sub" behind the main one; fields of its record are written "box.aic_a"."""
    if job.panel_of("sub") is None:
        job = add_panel(job, Panel(id="sub"))
    return change_panel(job, "sub", **fields)


def house_alone(demo: Job) -> Job:
    """The demo without its detached garage: the house with one panel."""
    alone = remove_panel(demo, "garage")
    return change_branch(alone, CircuitKey.of_tag(21), action="keep")


def house(area: float | None = 1500, *loads: Load, edition: str = "2023", unit: str = "ft2", **more) -> Job:
    """A job with a floor area and loads; `more` goes to the job."""
    dwelling = Dwelling(area=area, area_unit=unit, **more.pop("dwelling", {}))
    more["panel"] = {"terminals_c": 75, **more.get("panel", {})}
    return Job.read({"dwelling": dwelling, "loads": loads, "edition": edition, **spread(more)})


def called_out(job: Job, *lines: str) -> Job:
    """The job with circuits called out line by line."""
    for line in lines:
        reading = read_callout(line, job, load_codebook(job.edition))
        assert reading.circuit is not None, (line, reading)
        job = add_circuit(job, reading.circuit)
    return job


def circuit(tag: int = 1, gauge: str | None = "12", breaker_a: float | None = 20, **more) -> Circuit:
    return Circuit.read({"tag": tag, "gauge": gauge, "breaker_a": breaker_a, "feeds": f"circuit {tag}", **more})


def total_va(made: Plan, method: str) -> float:
    return made.load.calculations[method].total.amount


def worked(job: Job, method: str = "standard") -> dict[str, float | None]:
    """The tape of a method by label: what each line came to [VA]."""
    return {line.label: line.result_va for line in plan(job).load.calculations[method].lines}


def titles(made: Plan) -> list[str]:
    return [finding.title for finding in made.findings]


def finding_ids(made: Plan) -> set[str]:
    return {finding.id for finding in made.findings}
