"""Imported once, by the process that those beside the server are forked from: what takes seconds to load is there when they begin."""

import signal

from jobs.children import load

signal.signal(signal.SIGINT, signal.SIG_IGN)  # the server ends it, also while it loads
load()
