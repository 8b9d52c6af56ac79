"""Which circuits may have half a tandem."""

from __future__ import annotations

from robust_ledger.branch.model import Branch


def halves_allowed(branch: Branch) -> bool:
    """Half a tandem holds one standard pole without a shared neutral; arc-fault and ground-fault breakers are not made so."""
    return branch.poles == 1 and not branch.partner and not branch.to_device
