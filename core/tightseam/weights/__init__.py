"""Weights: how much each bone carries of each vertex."""
