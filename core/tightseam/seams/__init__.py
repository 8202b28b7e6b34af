"""Seams: every contact between surfaces, measured in millimetres, in every pose."""
