"""The swing record: what is kept of a swing, one document and one codec."""
