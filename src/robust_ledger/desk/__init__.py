"""The window and its stages; all that knows Qt."""
