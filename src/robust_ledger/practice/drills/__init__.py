"""Short questions with a worked answer."""
