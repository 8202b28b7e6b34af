"""Binding: which bones carry which part."""
