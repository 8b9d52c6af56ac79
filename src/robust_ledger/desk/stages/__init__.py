"""The stages, a folder each; the manifest finds them."""
