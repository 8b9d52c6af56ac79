"""The new panel: geometry, reach, arrangement, directory."""

__all__ = [
    "arrange",
    "bench",
    "bench_drawing",
    "directory",
    "generic",
    "knockouts",
    "moves",
    "puzzle",
    "reach",
    "request",
    "schedule",
]
