"""A lesson's putts: the distances that are planned, what is noted of them, and how they are read step by step."""
