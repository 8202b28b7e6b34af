"""Packages: everything of a character that a receiver gets, with what of it is lost, measured."""
