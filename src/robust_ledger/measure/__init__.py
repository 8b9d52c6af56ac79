"""Recordings, and stand-ins for what is outside."""

__all__ = [
    "metering.checks",
    "metering.crowds",
    "metering.csv_reader",
    "metering.demand",
    "metering.read",
    "metering.recording",
    "simulate.basis",
    "simulate.clamp",
    "simulate.house",
    "simulate.study",
    "simulate.tester",
    "simulate.trip",
    "simulate.year",
]
