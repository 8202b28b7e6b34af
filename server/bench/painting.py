"""Strokes of the brush while they are drawn: kept in memory, never stored. What is stored is the edit with all their dabs."""

import threading
from collections import OrderedDict
from dataclasses import dataclass, field

import msgpack
import numpy as np
from tightseam.deform.evaluator import vertex_normals
from tightseam.deform.meshes import Meshes
from tightseam.deform.skeleton import checked_values
from tightseam.document.errors import BadRequest
from tightseam.document.units import CM_TO_MM
from tightseam.edits.drawing import DRAWINGS, Drawing
from tightseam.geometry.normals import unit
from tightseam.shapes.sculpt import SculptStroke

from bench.rigs import Rig
from bench.shape_schemas import SculptIn
from bench.weight_schemas import PaintIn

KEEP = 8
STIRRED = 1e-4  # cm from which a vertex is told to be elsewhere


@dataclass
class Shown:
    """A stroke that is being drawn, and where all parts (N, 3) were shown last."""

    drawing: Drawing
    meshes: Meshes
    points: np.ndarray
    lock: threading.Lock = field(default_factory=threading.Lock)


class Painting:
    """Strokes by their token."""

    def __init__(self) -> None:
        self._shown: OrderedDict[str, Shown] = OrderedDict()
        self._lock = threading.Lock()  # of the table alone: nobody waits for another's stroke

    def paint(self, rig: Rig, request: PaintIn | SculptIn) -> bytes:
        """Msgpack: the vertices that some dabs changed or moved, with their values, totals, posed points and normals; other parts that
        moved with them; and of a stroke that sculpts how far from where it was wanted something stayed at most, mm."""
        shown = self._found(request.token) if request.first else _begun(rig, request)
        if shown is None:
            raise BadRequest("This stroke was lost on the way. Nothing was changed; paint it again.")
        with shown.lock:
            if request.first != shown.drawing.dabs:
                self._forget(request.token)
                raise BadRequest("This stroke came out of order. Nothing was changed; paint it again.")
            changed = shown.drawing.draw(request.dabs)
            self._keep(request.token, shown)
            return _said(shown, changed)

    def _found(self, token: str) -> Shown | None:
        with self._lock:
            return self._shown.get(token)

    def _keep(self, token: str, shown: Shown) -> None:
        with self._lock:
            self._shown[token] = shown
            self._shown.move_to_end(token)
            while len(self._shown) > KEEP:
                self._shown.popitem(last=False)

    def _forget(self, token: str) -> None:
        with self._lock:
            self._shown.pop(token, None)


def _begun(rig: Rig, request: PaintIn | SculptIn) -> Shown:
    painting = request.sculpting if isinstance(request, SculptIn) else request.painting
    evaluator = rig.evaluator()
    points = evaluator.points(checked_values(rig.document, painting.values, overdrive=True))
    return Shown(DRAWINGS.begin(rig.document, rig.store, painting), evaluator.meshes, points)


def _said(shown: Shown, changed: np.ndarray) -> bytes:
    stroke, meshes = shown.drawing.stroke, shown.meshes
    before, shown.points = shown.points, stroke.seen().astype(np.float32)
    moved = np.abs(shown.points - before).max(axis=1) > STIRRED
    own = meshes.rows(stroke.part.name)
    changed = np.union1d(changed, np.flatnonzero(moved[own]))
    values, totals = stroke.shown(changed)
    points = shown.points[own].astype(np.float64)
    answer: dict[str, object] = {
        "vertices": changed.astype(np.uint32).tobytes(),
        "own": np.ascontiguousarray(values, np.float32).tobytes(),
        "total": np.ascontiguousarray(totals, np.float32).tobytes(),
        "points": points[changed].astype(np.float32).tobytes(),
        "normals": unit(stroke.normals(points, changed)).astype(np.float32).tobytes(),
        "others": _others(shown, moved, stroke.part.name),
    }
    if isinstance(stroke, SculptStroke):
        answer["missed"] = CM_TO_MM * stroke.missed
    return msgpack.packb(answer)


def _others(shown: Shown, moved: np.ndarray, painted: str) -> dict[str, dict[str, bytes]]:
    """Points and normals of the other parts that moved, whole: what rides on the painted one, or is closed with it."""
    meshes = shown.meshes
    found = [n for n in meshes.names if n != painted and moved[meshes.rows(n)].any()]
    if not found:
        return {}
    normals = np.empty_like(shown.points)
    vertex_normals(normals, shown.points, meshes.quads, meshes.triangles)
    return {n: {"points": shown.points[meshes.rows(n)].tobytes(), "normals": normals[meshes.rows(n)].tobytes()} for n in found}


painting = Painting()
