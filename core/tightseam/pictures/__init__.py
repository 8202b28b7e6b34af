"""Drawings for pages that people print."""
