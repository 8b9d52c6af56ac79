"""Tables and the plan in open formats, both ways."""

__all__ = ["books", "plan_json", "rows", "tables"]
