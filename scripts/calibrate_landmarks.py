"""Fits how likely suggested landmarks are right, on the cast randomly distorted and decimated, and writes the table that ships.

Half of the heads fit a first table that is tried on the other half: what comes of it is told. The table that is written is fitted on all.
Tests use other seeds.
"""

from __future__ import annotations

import json
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from scipy.optimize import minimize
from tightseam.head.found import FoundHead
from tightseam.landmarks.suggest.confidence import evidence, kind_of
from tightseam.landmarks.suggest.found_mark import DOUBTFUL
from tightseam.landmarks.suggest.suggest import places

from tests import cast
from tests.core.heads import character_of, decimated, distorted

TABLE = Path(__file__).parents[1] / "core" / "tightseam" / "landmarks" / "suggest" / "confidence.json"
HEADS = {1.0: 120, 0.5: 20, 0.3: 20}  # of each of the cast, by the share of the triangles that is left
RIGHT = 0.3  # cm
RIDGE, EVEN = 0.05, 0.02  # what keeps weights small that nothing tells about, and the first one
SEED_STEP = 1000


@dataclass(frozen=True)
class Case:
    """A suggestion: of which `kind`, on a head with a `share` of its triangles and of which `half`, what was seen of it, (6,), and whether
    it was `right`."""

    kind: str
    share: float
    half: int
    seen: np.ndarray
    right: bool


def cases_of(name: str, share: float, seed: int) -> list[Case]:
    head = distorted(cast.raw(name), np.random.default_rng([seed, *name.encode()]))
    if share < 1:
        head = decimated(head, share)
    found_head = FoundHead(*character_of(head))
    found = places(found_head)
    seen = evidence(found_head, found) if found else {}
    right = {mark: bool(np.linalg.norm(found[mark].point - head.landmarks[mark]) <= RIGHT) for mark in found}
    return [Case(kind_of(mark), share, seed % 2, seen[mark], right[mark]) for mark in found]


def fitted(cases: list[Case]) -> dict[str, list[float]]:
    """Weights of the evidence by kind of landmark. None of it but the first may speak for a suggestion."""
    of: dict[str, list[Case]] = defaultdict(list)
    for case in cases:
        of[case.kind].append(case)
    return {kind: _logistic(np.array([c.seen for c in own]), np.array([c.right for c in own])) for kind, own in sorted(of.items())}


def _logistic(seen: np.ndarray, right: np.ndarray) -> list[float]:
    sign = np.where(right, -1.0, 1.0)

    def loss(weights: np.ndarray) -> float:
        return float(np.logaddexp(0, sign * (seen @ weights)).sum() + RIDGE * (weights[1:] ** 2).sum() + EVEN * weights[0] ** 2)

    bounds = [(None, None)] + [(None, 0.0)] * (seen.shape[1] - 1)
    return [round(float(w), 4) for w in minimize(loss, np.zeros(seen.shape[1]), bounds=bounds).x]


def tell(table: dict[str, list[float]], cases: list[Case]) -> None:
    for share in HEADS:
        own = [c for c in cases if c.share == share]
        sure = [c for c in own if 1 / (1 + np.exp(-c.seen @ table[c.kind])) >= DOUBTFUL]
        right = sum(c.right for c in sure) / len(sure)
        print(f"{share:4.0%} of the triangles: {len(sure) / len(own):.1%} of {len(own)} are sure, {right:.1%} of these are right")


if __name__ == "__main__":
    asked = [(n, share, SEED_STEP * k + s) for n in cast.NAMES for k, (share, count) in enumerate(HEADS.items()) for s in range(count)]
    with ProcessPoolExecutor() as pool:
        cases = [case for found in pool.map(cases_of, *zip(*asked, strict=True), chunksize=5) for case in found]
    tell(fitted([c for c in cases if c.half == 0]), [c for c in cases if c.half == 1])
    rows = (f"  {json.dumps(kind)}: {json.dumps(weights)}" for kind, weights in fitted(cases).items())
    TABLE.write_text("{\n" + ",\n".join(rows) + "\n}\n")
