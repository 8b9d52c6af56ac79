"""A module a sheet, each with its SHEET."""
