"""The document: what the user knows; its parts, edits, files and the table of its fields."""

__all__ = [
    "conductors",
    "devices",
    "doors",
    "edits",
    "fields",
    "files",
    "job",
    "keys",
    "parts",
    "readers",
    "spaces",
    "templates",
    "tree",
    "upgrades",
    "whole",
]
