"""The golfer model: a parametric player with true angles, turned into sensor logs.

The stand-in for the devices, the source of the demo, and the truth the core is tested against.
"""
