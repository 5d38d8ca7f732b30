"""The device link, from bytes to a bay, and the stand-ins that speak it."""
