"""The bench on the desk."""
