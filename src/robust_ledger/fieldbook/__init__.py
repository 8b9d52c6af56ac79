"""The HTML file for the phone."""

__all__ = ["book"]
