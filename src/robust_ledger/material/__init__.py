"""What the job takes, counted from the plan."""

__all__ = ["item", "room"]
