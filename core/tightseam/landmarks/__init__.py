"""Landmarks, what can be found from them on the mesh, and bones built from them."""
