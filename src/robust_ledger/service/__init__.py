"""Main, conductors, bonds, feeders, fault current."""

__all__ = [
    "alternatives",
    "ampacity",
    "bonding",
    "bonds",
    "conventions",
    "fault_drawing",
    "figures",
    "kept_equipment",
    "one_line",
    "one_line_drawing",
    "raceway",
    "reading",
    "result",
    "sizing",
    "tree_drawing",
]
