"""One module a family: definitions only."""
