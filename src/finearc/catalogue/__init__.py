"""What is data: ranges, findings, drills, schools, clubs. TOML in, the core's objects out."""
