"""What leaves: the limits of who receives a rig, and what offends them."""
