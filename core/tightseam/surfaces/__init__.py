"""What a pose does to the skin itself, measured against its neutral."""
