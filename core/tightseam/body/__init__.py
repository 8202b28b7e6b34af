"""A body for the head: what of one is taken, where the head goes, and how the neck fades into it."""
