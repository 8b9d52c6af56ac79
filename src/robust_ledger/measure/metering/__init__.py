"""Recordings of the demand, read and judged."""
