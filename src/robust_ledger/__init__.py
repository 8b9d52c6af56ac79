"""Robust Ledger: one panel replacement, from the walk-through to the papers."""
