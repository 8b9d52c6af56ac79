"""The HTML file for the phone."""
