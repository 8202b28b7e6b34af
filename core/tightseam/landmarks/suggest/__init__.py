"""Landmarks found on a bare head, from its form alone."""
