"""Strokes of the brush while they are drawn: kept in memory, never stored. What is stored is the edit with all their dabs."""

import threading
from collections import OrderedDict

import msgpack
import numpy as np
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.edits.paint_edits import begun
from tightseam.geometry.normals import unit
from tightseam.weights.canvas import Canvas
from tightseam.weights.stroke import Stroke

from bench.rigs import Rig
from bench.weight_schemas import PaintIn

KEEP_STROKES, KEEP_CANVASES = 8, 12


class Painting:
    """Strokes by their token, and canvases by the mesh of the part: those outlive an edit of weights."""

    def __init__(self) -> None:
        self._strokes: OrderedDict[str, tuple[int, Stroke]] = OrderedDict()
        self._canvases: OrderedDict[tuple, Canvas] = OrderedDict()
        self._lock = threading.RLock()

    def paint(self, rig: Rig, request: PaintIn) -> bytes:
        """Msgpack: the vertices that some dabs changed, with their weights, totals, posed points and normals."""
        with self._lock:
            stroke = self._stroke(rig, request)
            changed = np.unique(np.concatenate([stroke.dab(dab) for dab in request.dabs]))
            self._strokes[request.token] = request.first + len(request.dabs), stroke
            return _said(stroke, changed)

    def _stroke(self, rig: Rig, request: PaintIn) -> Stroke:
        done, stroke = self._strokes.pop(request.token, (0, None))
        if stroke is None or request.first == 0:
            if request.first:
                raise BadRequest("This stroke was lost on the way. Nothing was changed; paint it again.")
            with rig.lock:
                stroke = begun(rig.document, rig.store, request.painting, rig.evaluator, self.canvas(rig, request.painting.part))
            while len(self._strokes) >= KEEP_STROKES:
                self._strokes.popitem(last=False)
            return stroke
        if request.first != done:
            raise BadRequest("Dabs of this stroke came out of order. Nothing was changed; paint it again.")
        return stroke

    def canvas(self, rig: Rig, name: str) -> Canvas:
        """The canvas of a part, kept while its mesh stays."""
        part = find_part(rig.document, name)
        key = part.points, part.sizes, part.corners
        with self._lock:
            if key not in self._canvases:
                while len(self._canvases) >= KEEP_CANVASES:
                    self._canvases.popitem(last=False)
                self._canvases[key] = Canvas(np.asarray(rig.store.get(part.points)), polygons(rig.store, part), rig.found.plane)
            self._canvases.move_to_end(key)
            return self._canvases[key]


def _said(stroke: Stroke, changed: np.ndarray) -> bytes:
    rows = stroke.rows[changed]
    return msgpack.packb(
        {
            "vertices": changed.astype(np.uint32).tobytes(),
            "own": np.ascontiguousarray(rows[:, stroke.column], np.float32).tobytes(),
            "total": rows.sum(axis=1).astype(np.float32).tobytes(),
            "points": stroke.posed[changed].astype(np.float32).tobytes(),
            "normals": unit(stroke.normals(changed)).astype(np.float32).tobytes(),
        }
    )


painting = Painting()
