"""Where settings, profiles, the index, versions and unsaved work live."""

from __future__ import annotations

import os
from pathlib import Path

NAME = "robust-ledger"


def home() -> Path:
    """The user's state folder; ROBUST_LEDGER_HOME overrides it (tests, a stick)."""
    override = os.environ.get("ROBUST_LEDGER_HOME")
    if override:
        return Path(override)
    state = os.environ.get("XDG_STATE_HOME", "")
    return (Path(state) if os.path.isabs(state) else Path.home() / ".local" / "state") / NAME
