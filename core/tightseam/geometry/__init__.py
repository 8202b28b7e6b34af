"""Meshes as plain arrays: one operation a file, arrays in, arrays out. Knows nothing of faces or rigs."""
