"""Sets of utilities' figures that jobs share: one JSON document, each set by the utility's name."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from robust_ledger.job.parts.base import ModelError
from robust_ledger.job.parts.utility import Utility

FORMAT = "robust-ledger-utilities"
MOST = 200


class UtilitySetsError(ValueError):
    """A document that holds no such sets; the message is one sentence."""


def read_utilities(text: str) -> tuple[Utility, ...]:
    """The sets of a document, by name. Raises UtilitySetsError, naming the set."""
    if not text.strip():
        return ()
    try:
        data: Any = json.loads(text)
    except (ValueError, RecursionError):
        raise UtilitySetsError("The utilities' figures cannot be read: the file is not JSON.") from None
    listed = data.get("utilities") if isinstance(data, dict) and data.get("format") == FORMAT else None
    if not isinstance(listed, list) or len(listed) > MOST:
        raise UtilitySetsError(f'The file of utilities\' figures says nothing of "{FORMAT}", or has more than {MOST}.')
    made: dict[str, Utility] = {}
    for number, one in enumerate(listed, 1):
        try:
            utility = Utility.read(one if isinstance(one, dict) else {"name": one})
        except ModelError as problem:
            raise UtilitySetsError(f"Utility {number} of the file: {problem.sentence}.") from None
        if utility.name.strip():
            made[utility.name.strip()] = utility
    return tuple(made.values())


def with_utility(known: Sequence[Utility], kept: Utility) -> tuple[Utility, ...]:
    """The sets with one put in or, by its name, in the place of the one before; in the order of their names."""
    by_name = {one.name.strip(): one for one in known} | {kept.name.strip(): kept}
    return tuple(by_name[name] for name in sorted(by_name, key=str.lower))


def text_of(utilities: Sequence[Utility]) -> str:
    """The document of these sets."""
    data = {"format": FORMAT, "version": 1, "utilities": [one.as_data() for one in utilities]}
    return json.dumps(data, indent=2, ensure_ascii=False) + "\n"
