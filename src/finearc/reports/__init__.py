"""The page that goes home."""
