"""Practice on the desk."""
