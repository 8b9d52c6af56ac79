"""Main, conductors, bonds, feeders, fault current."""
