"""Blend shapes over several parts."""
