"""Records into responses."""
