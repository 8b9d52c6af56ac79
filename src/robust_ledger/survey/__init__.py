"""The walk-through: the service path, location, fit, overhead, grounding, defects."""
