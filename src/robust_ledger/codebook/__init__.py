"""The electrical code's figures and sections by edition, and local amendments."""
