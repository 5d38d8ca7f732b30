"""Courses to lay over a player's."""
