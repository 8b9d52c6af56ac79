"""The walk-through on the desk."""
