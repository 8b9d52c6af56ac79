"""Made-up panels with hidden faults, and drills."""
