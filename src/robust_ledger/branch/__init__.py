"""Branch circuits: breaker and wire of each, protection, the old panel."""
