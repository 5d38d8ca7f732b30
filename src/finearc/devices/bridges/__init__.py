"""Bridges from other open ways of streaming to the device link."""
