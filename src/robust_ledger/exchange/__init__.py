"""Tables and the plan in open formats, both ways."""
