"""Timings, printed as ratios beside a peer in one run: ``python -m bench.analyze``."""
