"""Recordings, and stand-ins for what is outside."""
