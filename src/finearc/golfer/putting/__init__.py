"""A putting stroke as it truly is: the putter about its pivot, the arms that hold it, and what sensors and cameras
would log. The truth that the putting laboratory is tested against, and what its stand-ins play."""
