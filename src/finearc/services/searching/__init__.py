"""Finding swings across players and lessons by words."""
