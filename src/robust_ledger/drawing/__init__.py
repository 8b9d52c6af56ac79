"""Scenes as data: desk, PDF and SVG paint the same one."""

__all__ = ["scene", "svg"]
