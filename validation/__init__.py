"""Accuracy against simulated truth and open recordings. ``python -m validation`` prints every figure."""
