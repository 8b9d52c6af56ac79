"""Changeover on the desk."""
