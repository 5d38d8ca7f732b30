"""A round: what the clips on a player's clubs log in four hours, with the truth of each motion."""
