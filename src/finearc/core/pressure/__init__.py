"""Pressure under the feet: mats and force plates, from cells to forces, feet and their course through a swing."""
