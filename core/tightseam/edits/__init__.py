"""Edits: every change a person can make, as typed parameters plus one pure function."""
