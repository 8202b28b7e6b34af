"""Lids: set up, tuned, measured and mended."""
