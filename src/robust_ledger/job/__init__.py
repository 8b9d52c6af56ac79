"""The document: what the user knows; its parts, edits, files and the table of its fields."""
