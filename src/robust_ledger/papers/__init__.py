"""The sheets and packets."""

__all__ = ["cut", "packet", "sheet", "sheets.permit_facts"]
