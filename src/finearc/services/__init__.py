"""Use cases of the lesson. ``ports`` holds what they need from the outside."""
