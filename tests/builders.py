"""Small houses and circuits for the worked examples."""

from __future__ import annotations

from robust_ledger.branch.callout import read_callout
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.edits import add_circuit
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Dwelling, Load, LoadKind, Nameplate
from robust_ledger.job.readers.quantity import read_nameplate
from robust_ledger.plan import Plan, plan

K = LoadKind


def load(kind: LoadKind, rating: str, name: str = "", **more) -> Load:
    """A load with a rating as written on a nameplate: load(K.DRYER, "5.5kW")."""
    name = name or f"{kind.value.replace('_', ' ')} {rating}"
    plate = read_nameplate(rating, more.pop("volts", 240))
    return Load.read({"id": name.replace(" ", "-").lower(), "name": name, "kind": kind, "nameplate": plate, **more})


def unknown_load(kind: LoadKind, name: str, volts: float = 240, **more) -> Load:
    return Load.read({"id": name, "name": name, "kind": kind, "nameplate": Nameplate(volts=volts), **more})


def house(area: float | None = 1500, *loads: Load, edition: str = "2023", unit: str = "ft2", **more) -> Job:
    """A job with a floor area and loads; `more` goes to the job."""
    dwelling = Dwelling(area=area, area_unit=unit, **more.pop("dwelling", {}))
    return Job.read({"dwelling": dwelling, "loads": loads, "edition": edition, **more})


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
