"""What is typed into a field, read and written."""
