"""Entries with their working, steps, citations, findings, places."""
