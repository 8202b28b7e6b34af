"""How likely a suggested landmark is right: within 3 mm of where it belongs.

A logistic regression for each kind of landmark on what can be seen of a suggestion, fitted on the heads of the cast randomly distorted and
decimated (`scripts/calibrate_landmarks.py`), never on those that tests look at.
"""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

import numpy as np
from scipy.spatial import cKDTree

from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead
from tightseam.head.landmark_catalogue import entry_of, twin_of
from tightseam.landmarks.suggest.found_mark import GUESS, FoundMark, Marks

TABLE = files("tightseam.landmarks.suggest") / "confidence.json"
NEAR = 6  # vertices of the skin round a landmark by which the spacing is read
FINEST = 0.13  # tenths of the distance of the eyes: a finer mesh tells no more
TALL = 5.0  # distances of the eyes in the height of a skin that has none
MOST = 0.99


def with_confidence(head: FoundHead, found: Marks) -> Marks:
    """The landmarks with how likely each is right, in the order they came. What is a guess by how it was found stays one."""
    seen = evidence(head, found) if found else {}
    return {name: FoundMark(m.point, _sure(name, m, seen[name])) for name, m in found.items()}


def _sure(name: str, mark: FoundMark, seen: Floats) -> float:
    likely = float(1 / (1 + np.exp(-seen @ _table()[kind_of(name)])))
    return min(likely, MOST) if mark.sure >= GUESS else min(likely, mark.sure)


def evidence(head: FoundHead, found: Marks) -> dict[str, Floats]:
    """What is seen of each suggestion, (6,): 1; how far apart the vertices of the skin are there, straight and as a logarithm; how far it
    is from the mirror image of its twin, or from the middle plane; how doubtful it is by how it was found; how far twins are from each
    other's mirror images on the whole head. Lengths in tenths of the distance of the eyes."""
    assert head.skin is not None
    tenth = _tenth(head)
    graph = head.skin.surface.graph
    spacing = np.asarray(graph.sum(axis=1)).ravel() / np.maximum(np.diff(graph.indptr), 1)
    places = np.array([m.point for m in found.values()]).reshape(-1, 3)
    near = cKDTree(head.skin.points).query(places, k=min(NEAR, len(head.skin.points)))[1].reshape(len(places), -1)
    wide = np.maximum(spacing[near].mean(axis=1) / tenth, FINEST)
    apart = {name: _off_mirror(head, found, name) / tenth for name in found}
    paired = [x for name, x in apart.items() if twin_of(name) in found]
    lopsided = float(np.mean(paired)) if paired else 0.0
    return {
        name: np.array([1.0, w, np.log(w), apart[name], 1 - m.sure, lopsided]) for (name, m), w in zip(found.items(), wide, strict=True)
    }  # fmt: skip


def kind_of(name: str) -> str:
    """What landmarks of both sides are alike in: the name of their entry in the catalogue."""
    entry = entry_of(name)
    assert entry is not None
    return entry.name


def _tenth(head: FoundHead) -> float:
    """A tenth of the distance of the eyes, cm."""
    assert head.skin is not None
    assert head.frame is not None
    eyes = [ball.centre for ball in head.balls.values()]
    if len(eyes) == 2:
        return float(np.linalg.norm(eyes[0] - eyes[1])) / 10
    return float(np.ptp(head.frame.local(head.skin.points)[:, 1])) / TALL / 10


def _off_mirror(head: FoundHead, found: Marks, name: str) -> float:
    assert head.frame is not None
    twin = twin_of(name)
    if twin is None:
        return abs(float(head.frame.local(found[name].point[None])[0, 0]))
    if twin not in found:
        return 0.0
    return float(np.linalg.norm(head.frame.plane.mirrored(found[name].point[None])[0] - found[twin].point))


@cache
def _table() -> dict[str, Floats]:
    return {name: np.array(row) for name, row in json.loads(TABLE.read_text()).items()}
