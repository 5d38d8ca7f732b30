"""What has its own geometry in a putt: the stroke's instants, what the wrists add to it, the putter against a free
pendulum, and how motion grows with the distance. Motions are small, so everything is told relative to address."""
