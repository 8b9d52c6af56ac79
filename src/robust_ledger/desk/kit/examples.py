"""The jobs that come with the product."""

from __future__ import annotations

import sys
from pathlib import Path


def examples_folder() -> Path:
    """Where the shipped jobs are: in the source tree, or where an installation has put them."""
    in_tree = Path(__file__).parents[4] / "examples"
    return in_tree if in_tree.is_dir() else Path(sys.prefix) / "share" / "robust-ledger" / "examples"


EXAMPLES = examples_folder()
DEMO = EXAMPLES / "marrow-lane.ledger.json"
SMALL_DEMO = EXAMPLES / "tansy-court.ledger.json"
SPLIT_DEMO = EXAMPLES / "quarry-rise.ledger.json"
