"""What a stage can know of a head at rest, before any light falls on it."""
