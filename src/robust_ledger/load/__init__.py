"""The dwelling's service load by four methods, and each feeder's."""

__all__ = ["answers", "converter", "cooking", "edition", "feeder", "methods", "nameplates", "result", "tape", "whatif"]
