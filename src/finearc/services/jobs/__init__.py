"""Long work: written down before it is begun, done outside the web process, with progress, cancel and retry."""
