"""The window and its stages; all that knows Qt."""

__all__ = ["shell.application"]
