"""The long run: python tests/torture/run.py [kills] [hostile inputs]. Prints what was done and what went wrong; exit 1 when
anything did."""

from __future__ import annotations

import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
from hostile import hostile
from kills import between_operations, kills, monkeys
from races import races


def main() -> int:
    many_kills, many_inputs, seed = (int(word) for word in [*sys.argv[1:], "1000", "100000", "1"][:3])
    wrong: list[str] = []
    for words, action in (
        (f"{many_kills} kills", lambda: kills(many_kills, seed)),
        ("kills between file operations", lambda: between_operations(seed)[1]),
        (f"{many_inputs} hostile inputs", lambda: hostile(many_inputs, seed)),
        (f"{3 * many_kills} times two who take a lock at once", lambda: races(3 * many_kills)),
        ("20 monkeys of 1,000 steps", lambda: [line for n in range(20) for line in monkeys(1000, seed + n)]),
    ):
        start = time.perf_counter()
        found = action()
        print(f"{words}: {len(found)} complaints, {time.perf_counter() - start:.0f} s", flush=True)
        for line in found[:20]:
            print(f"  {line}", flush=True)
        wrong += found
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
