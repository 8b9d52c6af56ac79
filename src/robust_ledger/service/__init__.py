"""Main, conductors, bonds, feeders, fault current."""

__all__ = [
    "alternatives",
    "ampacity",
    "bonding",
    "bonds",
    "conventions",
    "emergency",
    "equipment",
    "fault_drawing",
    "feeder",
    "figures",
    "found_feeder",
    "kept_equipment",
    "raceway",
    "reading",
    "result",
    "sizing",
]
