"""What formats cannot hold, as shapes, bones and weights that they can."""
