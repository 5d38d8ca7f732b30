"""The course of a lesson: diary, changes, what its swings say in summary."""
