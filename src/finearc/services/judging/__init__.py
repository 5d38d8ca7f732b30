"""By what is judged, and judging again."""
