"""How often each finding fires over generated jobs: one that fires on more than half of them is looked at again (docs/quality.md).

python scripts/how_often.py [JOBS]
"""

from __future__ import annotations

import sys
from collections import Counter
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parents[1] / "tests"), str(Path(__file__).parents[1] / "tests" / "installation")]

from trees import tree  # noqa: E402 - the folders of the tests come first

from robust_ledger.plan import plan  # noqa: E402


def main(jobs: int) -> None:
    """Counts jobs, not findings: one that fires on six circuits of a job counts once."""
    made: Counter[tuple[str, str]] = Counter()
    for seed in range(jobs):
        made.update({(one.kind, str(one.severity)) for one in plan(tree(seed)).findings})
    for (kind, severity), count in made.most_common():
        print(f"{count / jobs:4.0%}  {severity:<4}  {kind}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000)
