"""Practice between lessons: making a lesson's plan, and what becomes of it."""
