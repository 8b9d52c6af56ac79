"""What stands on the wall, before and after: one model that every paper, list, hold and drawing reads."""

__all__ = ["bonds", "changes", "joints", "model", "one_line", "one_line_drawing", "room", "tree_drawing"]
