"""The parts of the document, a module a subject; each field says all of itself."""
