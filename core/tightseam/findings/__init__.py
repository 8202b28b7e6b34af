"""What is found to be wrong, and what may put it right: one kind of each for all stations."""
