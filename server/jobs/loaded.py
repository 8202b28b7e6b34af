"""Imported once, by the process that those beside the server are forked from: what takes seconds to load is there when they begin."""

from jobs.children import load

load()
