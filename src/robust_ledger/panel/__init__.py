"""The new panel: geometry, reach, arrangement, directory."""
