"""Players: what is known of them, and what they asked to keep."""
