"""The window: spine, margin, bottom line, start."""
