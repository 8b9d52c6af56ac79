"""The whole plan as plain text, one line a step: what the golden files hold, so that a change of any number or word shows as a
changed line. `python tests/golden_text.py` writes the files anew, for the changes that mean to move them."""

from __future__ import annotations

import hashlib
import json
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QCoreApplication
from PyQt6.QtPdf import QPdfDocument

from robust_ledger.exchange.plan_json import plan_data
from robust_ledger.job.files import parse_job, read_job
from robust_ledger.job.job import Job
from robust_ledger.papers.packet import write_packet
from robust_ledger.plan import Plan, plan

HERE = Path(__file__).parent / "golden"
EXAMPLES = Path(__file__).parents[1] / "examples"
DEMOS = ("marrow-lane", "tansy-court", "quarry-rise")
GENERATED = HERE / "jobs.jsonl"
DIGESTS = HERE / "generated.txt"


def demo(name: str) -> Job:
    return read_job(EXAMPLES / f"{name}.ledger.json")


def generated() -> list[Job]:
    """The forty generated jobs, kept in the format they were written in, so that they pass through every upgrade."""
    return [parse_job(line, f"job {n}") for n, line in enumerate(GENERATED.read_text("utf-8").splitlines(), 1)]


def _shown(value: object) -> object:
    """A decision as its words: which class it is made of is not the text's business."""
    return str(value) if isinstance(value, str) else value


def plan_lines(made: Plan) -> Iterator[str]:
    """Every entry with its steps and citations, then everything else of the plan, each on its line."""
    data = plan_data(made)
    for entry_id, entry in sorted(data.pop("entries").items()):
        yield f"[{entry_id}] {entry['label']} = {entry['text']}{_marks(entry)}"
        for step in entry["steps"]:
            yield f"    {step['label']} | {step['how']} | {_shown(step['value'])!r}{'' if step['unit'] == '%' else ' '}{step['unit']}{_marks(step)}"
    for name, part in data.items():
        yield f"# {name}"
        rows = part if isinstance(part, list) else part.items() if isinstance(part, dict) else [part]
        for row in rows:
            yield f"    {json.dumps(row, ensure_ascii=False, sort_keys=True)}"


def _marks(item: dict) -> str:
    cites = ", ".join(
        f"{c['section']}{'!' if c.get('verify') else ''}{'*' if c.get('local') else ''}" for c in item["sections"]
    )
    unknown = f" unknown: {item['why_unknown']}" if item.get("why_unknown") else ""
    return "".join((f" [{cites}]" if cites else "", f" @{item['place']}" if item["place"] else "", unknown))


def paper_lines(made: Plan) -> Iterator[str]:
    """The words of every sheet and of every drawing as they were written to a folder."""
    with tempfile.TemporaryDirectory() as folder:
        for path in sorted(write_packet(made, Path(folder), "job")):
            yield f"# {path.name}"
            if path.suffix == ".pdf":
                sheet = QPdfDocument(None)
                sheet.load(str(path))
                for page in range(sheet.pageCount()):
                    yield from sheet.getAllText(page).text().splitlines()
            else:
                yield from path.read_text("utf-8").splitlines()


def digests(name: str, lines: Iterable[str]) -> Iterator[str]:
    """One short digest for each family of lines of a generated job, so that a difference says where to look."""
    family = ""
    parts: dict[str, Any] = {}
    for line in lines:
        if line.startswith("["):
            family = ".".join(line[1:].partition("]")[0].split(".")[:2]).partition(":")[0]
        elif line.startswith("# "):
            family = line
        parts.setdefault(family, []).append(line)
    for key, some in parts.items():
        yield f"{name} {key} {hashlib.sha256(chr(10).join(some).encode()).hexdigest()[:12]}"


def demo_text(name: str) -> str:
    return "\n".join([*plan_lines(made := plan(demo(name))), *paper_lines(made)]) + "\n"


def generated_lines(number: int, job: Job) -> list[str]:
    return list(digests(f"{number:02}", [*plan_lines(made := plan(job)), *paper_lines(made)]))


def main() -> None:
    app = QCoreApplication([])  # the reader of sheets asks for one
    for name in DEMOS:
        (HERE / f"{name}.txt").write_text(demo_text(name), encoding="utf-8")
    lines = [line for number, job in enumerate(generated(), 1) for line in generated_lines(number, job)]
    DIGESTS.write_text("\n".join(lines) + "\n", encoding="utf-8")
    app.quit()


if __name__ == "__main__":
    main()
