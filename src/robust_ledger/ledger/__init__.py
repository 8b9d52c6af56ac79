"""Entries with their working, steps, citations, findings, places."""

__all__ = ["editions", "entry", "groups", "place", "progress", "room", "text", "working"]
