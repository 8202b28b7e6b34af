"""Recipes: the edits that made one character, made again on another."""
