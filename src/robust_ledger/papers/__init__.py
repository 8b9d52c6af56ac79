"""The sheets and packets."""
