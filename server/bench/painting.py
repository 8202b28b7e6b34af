"""Strokes of the brush while they are drawn: kept in memory, never stored. What is stored is the edit with all their dabs."""

import threading
from collections import OrderedDict

import msgpack
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.lookup import relief as find_relief
from tightseam.document.units import CM_TO_MM
from tightseam.edits.paint_edits import begun
from tightseam.geometry.normals import unit
from tightseam.jaw.relief_stroke import ReliefPainting, ReliefStroke
from tightseam.lids.map_stroke import MapPainting, MapStroke
from tightseam.lids.tune import lids_of
from tightseam.shapes.sculpt import Sculpting, SculptStroke
from tightseam.weights.brush import Painting as WeightPainting
from tightseam.weights.canvas import Canvas
from tightseam.weights.stroke import Stroke
from tightseam.weights.value_stroke import ValueStroke

from bench.rigs import Rig
from bench.shape_schemas import SculptIn
from bench.weight_schemas import PaintIn

AnyStroke = Stroke | ValueStroke | SculptStroke
KEEP_STROKES, KEEP_CANVASES = 8, 12


class Painting:
    """Strokes by their token, and canvases by the mesh of the part: those outlive an edit of weights."""

    def __init__(self) -> None:
        self._strokes: OrderedDict[str, tuple[int, AnyStroke]] = OrderedDict()
        self._canvases: OrderedDict[tuple, Canvas] = OrderedDict()
        self._lock = threading.RLock()

    def paint(self, rig: Rig, request: PaintIn | SculptIn) -> bytes:
        """Msgpack: the vertices that some dabs changed, with their values, totals, posed points and normals; of a stroke that sculpts also
        how far from where it was wanted something stayed at most, mm."""
        with self._lock:
            stroke = self._stroke(rig, request)
            changed = np.unique(np.concatenate([stroke.dab(dab) for dab in request.dabs]))
            self._strokes[request.token] = request.first + len(request.dabs), stroke
            return _said(stroke, changed)

    def _stroke(self, rig: Rig, request: PaintIn | SculptIn) -> AnyStroke:
        done, stroke = self._strokes.pop(request.token, (0, None))
        if stroke is None or request.first == 0:
            if request.first:
                raise BadRequest("This stroke was lost on the way. Nothing was changed; paint it again.")
            with rig.lock:
                stroke = self._sculpted(rig, request.sculpting) if isinstance(request, SculptIn) else self._begun(rig, request.painting)
            while len(self._strokes) >= KEEP_STROKES:
                self._strokes.popitem(last=False)
            return stroke
        if request.first != done:
            raise BadRequest("Dabs of this stroke came out of order. Nothing was changed; paint it again.")
        return stroke

    def _begun(self, rig: Rig, wanted: WeightPainting | MapPainting | ReliefPainting) -> Stroke | ValueStroke:
        if isinstance(wanted, WeightPainting):
            return begun(rig.document, rig.store, wanted, rig.evaluator, self.canvas(rig, wanted.part))
        if isinstance(wanted, ReliefPainting):
            part = find_relief(rig.document, wanted.relief).part
            return ReliefStroke(rig.document, rig.store, wanted, self.canvas(rig, part))
        skin = lids_of(rig.document, wanted.side).skin
        return MapStroke(rig.document, rig.store, wanted, self.canvas(rig, skin))

    def _sculpted(self, rig: Rig, wanted: Sculpting) -> SculptStroke:
        evaluator = Evaluator(rig.document, rig.store)  # of its own: the stage goes on drawing meanwhile
        return SculptStroke(rig.document, rig.store, wanted, self.canvas(rig, wanted.part), evaluator)

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


def _said(stroke: AnyStroke, changed: np.ndarray) -> bytes:
    changed, points = stroke.seen_anew(changed) if isinstance(stroke, ValueStroke) else (changed, stroke.posed)
    own, total = stroke.shown(changed)
    answer: dict[str, bytes | float] = {
        "vertices": changed.astype(np.uint32).tobytes(),
        "own": np.ascontiguousarray(own, np.float32).tobytes(),
        "total": np.ascontiguousarray(total, np.float32).tobytes(),
        "points": points[changed].astype(np.float32).tobytes(),
        "normals": unit(stroke.normals(points, changed)).astype(np.float32).tobytes(),
    }
    if isinstance(stroke, SculptStroke):
        answer["missed"] = CM_TO_MM * stroke.missed
    return msgpack.packb(answer)


painting = Painting()
