"""Open formats in and out: capture bundle, result, tables."""
