"""How a job can stand, in words: quick to load, as the first page has need of no more."""

STANDS = {"planned": "planned", "in_work": "in work", "done": "done", "inspected": "inspected", "damaged": "DAMAGED"}
