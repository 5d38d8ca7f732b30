"""Recordings: raw streams, calibration, swings found in them."""
