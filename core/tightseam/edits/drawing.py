"""Strokes of all brushes, while they are drawn and when they are stored."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterable
from hashlib import blake2b

import numpy as np

from tightseam.brush.brush import Dab, Painting
from tightseam.brush.canvas import canvas_of
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.reskinned import Reskinned
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character
from tightseam.document.sections import SECTION_NAMES, keys_of
from tightseam.geometry.types import Ints
from tightseam.jaw.relief_stroke import ReliefPainting, ReliefStroke
from tightseam.lids.map_stroke import MapPainting, MapStroke
from tightseam.shapes.sculpt import SculptDab, Sculpting, SculptStroke
from tightseam.weights.stroke import Stroke

AnyPainting = Painting | MapPainting | ReliefPainting | Sculpting
AnyStroke = Stroke | MapStroke | ReliefStroke | SculptStroke
AnyDab = Dab | SculptDab


def stroke_of(character: Character, store: ArrayStore, painting: AnyPainting) -> AnyStroke:
    """A stroke before its first dab; BadRequest where there is nothing to paint on."""
    if isinstance(painting, MapPainting):
        return MapStroke(character, store, painting)
    if isinstance(painting, ReliefPainting):
        return ReliefStroke(character, store, painting)
    if isinstance(painting, Sculpting):
        return SculptStroke(character, store, painting)
    part, values = find_part(character, painting.part), checked_values(character, painting.values, overdrive=True)
    skinned = Reskinned(Evaluator(character, store), part.name, values)
    return Stroke(character, store, painting, canvas_of(character, store, part), skinned)


class Drawing:
    """A stroke and all that was drawn of it, known by its `key`: what it was begun on, with what, and every dab."""

    def __init__(self, character: Character, store: ArrayStore, painting: AnyPainting) -> None:
        self.stroke = stroke_of(character, store, painting)
        self.dabs = 0
        self._touched = False
        self._digest = _digest_of(character, painting)
        self._lock = threading.Lock()

    def draw(self, dabs: Iterable[AnyDab]) -> Ints:
        """Draw some more; the vertices (K,), sorted, that changed."""
        with self._lock:
            changed: list[Ints] = [np.zeros(0, np.int64)]
            for dab in dabs:
                changed.append(self.stroke.dab(dab))  # type: ignore[arg-type]
                self._digest.update(_written(dab))
                self.dabs += 1
            found: Ints = np.unique(np.concatenate(changed))
            self._touched |= len(found) > 0
            return found

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with what was drawn; BadRequest where that was nothing."""
        with self._lock:
            if not self._touched:
                raise BadRequest(self.stroke.NOTHING)
            return self.stroke.painted(character, store)

    @property
    def key(self) -> str:
        return self._digest.hexdigest()


class Drawings:
    """The last few strokes that were drawn: whichever is stored need not be drawn again, it is the same to the bit."""

    def __init__(self, most: int) -> None:
        self._last: deque[Drawing] = deque(maxlen=most)

    def begin(self, character: Character, store: ArrayStore, painting: AnyPainting) -> Drawing:
        drawing = Drawing(character, store, painting)
        self._last.append(drawing)
        return drawing

    def painted(self, character: Character, store: ArrayStore, painting: AnyPainting, dabs: Iterable[AnyDab]) -> Character:
        """The character with a stroke of these dabs; BadRequest where they touch nothing."""
        dabs, digest = list(dabs), _digest_of(character, painting)
        for dab in dabs:
            digest.update(_written(dab))
        found = next((d for d in list(self._last) if d.key == digest.hexdigest()), None)
        if found is None:
            found = Drawing(character, store, painting)
            found.draw(dabs)
        return found.painted(character, store)


def _digest_of(character: Character, painting: AnyPainting) -> blake2b:
    """The digest of a stroke before its first dab, to be gone on with by each as it is `_written`."""
    return blake2b(_written((keys_of(character, SECTION_NAMES), painting)))


def _written(thing: object) -> bytes:
    return repr(thing).encode()


DRAWINGS = Drawings(8)
