"""A made-up house whose years are played."""
