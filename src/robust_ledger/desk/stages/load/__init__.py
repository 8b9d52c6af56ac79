"""Load on the desk."""
