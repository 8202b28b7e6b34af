"""Ratios against named references, measured in one run: `make bench`."""
