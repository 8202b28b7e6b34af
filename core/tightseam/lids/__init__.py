"""Lids: how they lie on the eye."""
