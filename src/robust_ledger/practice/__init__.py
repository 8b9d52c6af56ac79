"""Made-up panels with hidden faults, and drills."""

__all__ = [
    "codes",
    "day_order",
    "drills.dictation",
    "drills.model",
    "drills.run",
    "exercise",
    "faults",
    "hand_in",
    "judged",
    "layout",
    "naming",
    "picture",
    "progress",
    "report",
    "score",
    "sights",
    "surroundings",
    "tester",
]
