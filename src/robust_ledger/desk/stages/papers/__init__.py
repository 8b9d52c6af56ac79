"""Papers on the desk."""
