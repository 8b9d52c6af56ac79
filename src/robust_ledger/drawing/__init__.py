"""Scenes as data: desk, PDF and SVG paint the same one."""
