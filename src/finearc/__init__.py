"""Fine Arc: measures golf swings, finds the cause of a fault, keeps the record."""

__version__ = "0.10.0"
