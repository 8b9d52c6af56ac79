"""The electrical code's figures and sections by edition, and local amendments."""

__all__ = ["codebook", "conductors", "errors", "local"]
