"""The rules of the job: pure computation, no HTTP, database or file format.

Inside: SI units, radians, quaternions ``xyzw``, bay axes x to the ball, y to the target, z up,
everyone computed as right-handed (see ``frames.handedness``).
"""
