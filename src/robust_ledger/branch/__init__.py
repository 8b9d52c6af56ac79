"""Branch circuits: breaker and wire of each, protection, the old panel."""

__all__ = [
    "ampacity",
    "asked",
    "circuits",
    "equipment",
    "ledger",
    "links",
    "model",
    "old_panel",
    "outlets",
    "passes",
    "readings",
    "result",
    "rooms",
    "subject",
    "vocabulary",
]
