"""A process that ends with the one that began it, be that killed: nobody is left to take what it makes."""

from __future__ import annotations

import os
import threading
import time


def end_with_parent() -> None:
    """Look after the parent from now on, once a second."""
    threading.Thread(target=_end_with, args=[os.getppid()], daemon=True).start()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(1)
