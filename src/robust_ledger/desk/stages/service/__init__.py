"""Service on the desk."""
