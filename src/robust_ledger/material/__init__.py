"""What the job takes, counted from the plan."""
