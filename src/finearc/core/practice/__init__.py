"""Practice between lessons: a plan that a person can follow by hand, and what happens to it when a day is missed."""
