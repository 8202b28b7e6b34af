"""What was stored last stands in a file beside the database's own (its write-ahead log) until somebody moves it over: here, every half
minute, so that the file alone is nearly always whole."""

import sqlite3
import threading
import time
from contextlib import closing
from pathlib import Path

EVERY = 30.0  # s


def move_over(file: Path) -> None:
    """Move what others have stored into the database's file, as far as nobody is reading it (SQLite, wal_checkpoint PASSIVE)."""
    with closing(sqlite3.connect(file)) as database:
        database.execute("PRAGMA synchronous=FULL")
        database.execute("PRAGMA wal_checkpoint(PASSIVE)")


def keep_moving_over(file: Path) -> None:
    """Do so from now on, beside everything else."""
    threading.Thread(target=_for_ever, args=(file,), name="at rest", daemon=True).start()


def _for_ever(file: Path) -> None:
    while True:
        time.sleep(EVERY)
        try:
            move_over(file)
        except sqlite3.Error:  # busy, or the disk is full: the log keeps what it has
            continue
