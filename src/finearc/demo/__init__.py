"""The demo: a harbour-side indoor academy over a ten-week winter clinic, all invented."""
