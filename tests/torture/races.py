"""Two real processes that take a job's lock at the same moment, again and again: never may both believe that they have it.

races.py ROUNDS    prints who had it in each kind of round, and what went wrong
"""

from __future__ import annotations

import json
import multiprocessing
import os
import sys
import tempfile
from collections import Counter
from multiprocessing.synchronize import Barrier
from pathlib import Path
from typing import Any

from robust_ledger.jobbook.lock import Holder, JobLock, lock_file

KINDS = ("free", "left behind", "taken over")
LEFT = {"who": "anna", "host": os.uname().nodename, "since": "2026-11-28T07:10", "id": "left"}
ELSEWHERE = {**LEFT, "host": "elsewhere", "id": "elsewhere"}


def _taker(path: Path, rounds: int, barrier: Barrier, results: Any) -> None:
    """Take it as often as is asked, together with the other; what was got is told once both have."""
    for number in range(rounds):
        lock, kind = JobLock(path), KINDS[number % len(KINDS)]
        over = Holder(**ELSEWHERE) if kind == "taken over" else None
        barrier.wait()
        got = lock.take(over=over) is None and lock.is_ours
        barrier.wait()
        results.put((number, got))
        barrier.wait()
        lock.release()
        barrier.wait()


def races(rounds: int) -> list[str]:
    """So many rounds; answers those in which not just one had it, in words."""
    context = multiprocessing.get_context("fork")
    wrong: list[str] = []
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "job.ledger.json"
        path.write_text("{}")
        barrier, results = context.Barrier(3), context.Queue()
        takers = [context.Process(target=_taker, args=(path, rounds, barrier, results)) for _ in range(2)]
        for one in takers:
            one.start()
        for number in range(rounds):
            kind = KINDS[number % len(KINDS)]
            if kind != "free":
                lock_file(path).write_text(json.dumps(LEFT if kind == "left behind" else ELSEWHERE))
            barrier.wait()
            barrier.wait()
            had = Counter(got for _round, got in (results.get(timeout=60), results.get(timeout=60)))
            if had[True] != 1:
                wrong.append(f"round {number}, {kind}: {had[True]} had it")
            barrier.wait()
            barrier.wait()
            if lock_file(path).exists():
                wrong.append(f"round {number}, {kind}: the lock stayed")
                lock_file(path).unlink()
        for one in takers:
            one.join(60)
    return wrong


if __name__ == "__main__":
    found = races(int(sys.argv[1]))
    print("\n".join(found) or "nothing")
    sys.exit(1 if found else 0)
