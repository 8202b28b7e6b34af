"""Short forms of what was computed, close enough to tell any change: samples and sums of arrays, documents with their numbers set apart."""

from __future__ import annotations

import hashlib
import json
import re
from functools import cache
from typing import Any

import numpy as np
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.document.sections import SECTION_NAMES, dump_section

HASH = re.compile(r"[0-9a-f]{64}")
PLACES = 9  # decimals that are kept
SAMPLE_TOLERANCE = 4e-6  # cm; the last digit of a 32-bit number at the size of a head
SUM_TOLERANCE = 2e-4  # cm; of some thousand of them
NUMBER_TOLERANCE = 2e-5  # of the size of what is compared: sums of 32-bit numbers depend on how the loops were compiled


@cache
def factors(count: int) -> np.ndarray:
    """A factor for each of `count` numbers, +0.5 to +1.5 or less than nothing, always the same: a sum with these shows a change of any of
    the numbers, and of their order."""
    rng = np.random.default_rng(count)
    return rng.choice([-1.0, 1.0], count) * rng.uniform(0.5, 1.5, count)


def samples(count: int, most: int) -> np.ndarray:
    """Which of `count` vertices are kept in full."""
    return np.sort(np.random.default_rng(count).permutation(count)[:most])


def points_digest(points: np.ndarray, most: int) -> np.ndarray:
    """Sums with factors (3,) of points (N, 3), then the places of some of them."""
    return np.concatenate([factors(len(points)) @ points.astype(float), points[samples(len(points), most)].astype(float).ravel()])


def differs(was: np.ndarray, now: np.ndarray) -> str | None:
    """What is not the same about two digests of points; None where nothing is."""
    if was.shape != now.shape:
        return f"{was.shape} numbers became {now.shape}"
    apart = np.abs(now - was)
    if apart[3:].max(initial=0) > SAMPLE_TOLERANCE:
        return f"a vertex went {apart[3:].max():.2g} cm"
    return f"the sum went {apart[:3].max():.2g} cm" if apart[:3].max() > SUM_TOLERANCE else None


def changed_sections(before: Character, after: Character, store: ArrayStore) -> dict[str, Any]:
    """Digests of the sections that are not the same, see `section_digest`."""
    changed = [name for name in SECTION_NAMES if getattr(before, name) != getattr(after, name)]
    return {name: section_digest(dump_section(after, name), store) for name in changed}


def section_digest(text: bytes, store: ArrayStore) -> dict[str, Any]:
    """The hash of the section with all numbers and arrays taken out, and short forms of these: how many, a sum with factors, length."""
    numbers: list[float] = []
    arrays: list[np.ndarray] = []

    def bare(value: Any) -> Any:
        if isinstance(value, dict):
            return {k: bare(v) for k, v in value.items()}
        if isinstance(value, list):
            return [bare(v) for v in value]
        if isinstance(value, float):
            numbers.append(value)
            return 0.0
        if isinstance(value, str) and HASH.fullmatch(value):
            arrays.append(np.asarray(store.get(value), float).ravel())
            return f"array of {len(arrays[-1])}"
        return value

    plain = json.dumps(bare(json.loads(text)), sort_keys=True)
    return {
        "form": hashlib.sha256(plain.encode()).hexdigest()[:16],
        "numbers": _short(np.array(numbers)),
        "arrays": _short(np.concatenate([*arrays, np.zeros(0)])),
    }


def _short(values: np.ndarray) -> list[float]:
    return [len(values), round(float(factors(len(values)) @ values), PLACES), round(float(np.linalg.norm(values)), PLACES)]


def rounded(value: Any) -> Any:
    """The same with floating numbers cut to so many decimals, and tuples as lists, as JSON gives them back."""
    if isinstance(value, dict):
        return {str(k): rounded(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [rounded(v) for v in value]
    return round(value, PLACES) if isinstance(value, float) else value


def same(was: Any, now: Any, tolerance: float = NUMBER_TOLERANCE) -> bool:
    """Equal but for the last digits of floating numbers."""
    if isinstance(was, dict) and isinstance(now, dict):
        return was.keys() == now.keys() and all(same(was[k], now[k], tolerance) for k in was)
    if isinstance(was, list) and isinstance(now, list):
        return len(was) == len(now) and all(same(a, b, tolerance) for a, b in zip(was, now, strict=True))
    if isinstance(was, float) or isinstance(now, float):
        return isinstance(now, float | int) and abs(was - now) <= tolerance * max(1.0, abs(was))
    return bool(was == now)
