"""Every expression on every other: measured, and what is wrong with them together."""
