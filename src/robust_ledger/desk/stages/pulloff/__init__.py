"""Pull-off on the desk."""
