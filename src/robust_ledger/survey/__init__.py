"""The walk-through: the service path, location, fit, overhead, grounding, defects."""

__all__ = [
    "cautions",
    "chain",
    "chain_drawing",
    "defects",
    "fit",
    "fit_drawing",
    "grounding",
    "overhead",
    "overhead_drawing",
    "result",
    "scope",
    "verdict",
]
