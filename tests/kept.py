"""What takes long to make and is always the same: made once for all runs and processes that have the same source."""

from __future__ import annotations

import fcntl
import hashlib
import pickle
import shutil
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from importlib.metadata import version
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
FOLDER = ROOT / ".kept"
COMPUTES = ("numpy", "scipy", "libigl", "cholespy", "numba")


@cache
def source_hash(*folders: str) -> str:
    """Of all Python files below some folders, and of the libraries that compute."""
    digest = hashlib.sha256(" ".join(version(name) for name in COMPUTES).encode())
    for path in sorted(p for folder in folders for p in (ROOT / folder).rglob("*.py")):
        digest.update(str(path.relative_to(ROOT)).encode() + path.read_bytes())
    return digest.hexdigest()[:16]


def kept_place(name: str, folders: Iterable[str], make: Callable[[Path], None]) -> Path:
    """A file or folder that `make` writes, unless another run or process has; what older sources made of it is thrown away."""
    place = FOLDER / f"{name}-{source_hash(*folders)}"
    FOLDER.mkdir(exist_ok=True)
    if place.exists():
        return place
    with _alone(FOLDER / f"{name}.lock"):
        if not place.exists():
            for old in FOLDER.glob(f"{name}-*"):
                shutil.rmtree(old) if old.is_dir() else old.unlink()
            fresh = FOLDER / f"fresh-{name}"
            make(fresh)
            fresh.rename(place)
    return place


def kept(name: str, make: Callable[[], Any]) -> Any:
    """A value that depends on nothing but the core."""
    place = kept_place(name, ("core/tightseam",), lambda path: path.write_bytes(pickle.dumps(make())))
    return pickle.loads(place.read_bytes())


@contextmanager
def _alone(path: Path) -> Iterator[None]:
    with path.open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield
