"""Bones from landmarks."""
