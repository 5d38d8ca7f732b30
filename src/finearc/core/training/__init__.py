"""Live feedback: which part of a movement it is, whether a value is within its band there, what counts as a good
repetition, how the band and the feedback change with success, and what was felt before it was shown."""
