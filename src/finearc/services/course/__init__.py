"""Rounds: what the clips logged, what the player wrote down, and what both say together."""
