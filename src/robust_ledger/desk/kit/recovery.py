"""Copies of unsaved work, kept outside the job's folder so that a read-only one is no obstacle."""

from __future__ import annotations

import json
import os
from datetime import datetime
from pathlib import Path

from msgspec import Struct

from robust_ledger.job.files import JobFileError, job_text, parse_job
from robust_ledger.job.job import Job
from robust_ledger.job.whole import write_text


class Recovered(Struct, frozen=True):
    """Unsaved work that an earlier run left behind."""

    file: Path
    job: Job
    path: Path | None
    kept_at: str


class Recovery:
    """This run's copy of unsaved work, and what earlier runs left."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.file = folder / f"unsaved-{os.getpid()}.json"

    def keep(self, job: Job, path: Path | None) -> str:
        """Write the copy atomically; returns a sentence when it cannot be written, else ""."""
        data = {
            "pid": os.getpid(),
            "path": str(path) if path else None,
            "kept_at": datetime.now().isoformat(timespec="minutes"),
        }
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            write_text(self.file, json.dumps({**data, "job": job_text(job)}))
        except OSError as problem:
            return (
                f"Unsaved work cannot be kept aside in {self.folder}: {(problem.strerror or 'unknown reason').lower()}."
            )
        return ""

    def clear(self) -> None:
        self.file.unlink(missing_ok=True)

    def left_behind(self) -> list[Recovered]:
        """What runs that have ended without saving left; damaged copies are passed over."""
        found = []
        for file in sorted(self.folder.glob("unsaved-*.json")):
            try:
                data = json.loads(file.read_text(encoding="utf-8"))
                if _running(int(data["pid"])):
                    continue
                path = Path(data["path"]) if data["path"] else None
                found.append(Recovered(file, parse_job(data["job"], file.name), path, str(data["kept_at"])))
            except (OSError, ValueError, KeyError, TypeError, JobFileError):
                continue
        return found


def _running(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
