"""The dwelling's service load by four methods, and each feeder's."""
