"""Device link and the simulated device that stands in for real sensors."""
