"""Rigs kept ready: documents of recent revisions with what measures them."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

import numpy as np
from characters.history import load
from characters.models import Draft, Revision
from scipy.sparse import csr_matrix
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skinned_alike import all_dual, all_linear
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.cache import Cache, one
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import polygons
from tightseam.document.model import Character as Document
from tightseam.document.model import Part
from tightseam.geometry.adjacency import edges
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.subdivide import catmull_clark
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.face import LowerFace
from tightseam.jaw.neck import NeckMeter, neck_meter
from tightseam.lids.board import LidBoard
from tightseam.seams.pose_report import PoseMeter

from bench.lent import Lent

KEEP = 6
REMEMBER = 4096  # revisions of which it is known what they are made of


@dataclass
class LowerFaceMeters:
    """What the Jaw station measures with. `neck` is None where head and neck have no bones of their own."""

    jaw: JawMeter
    neck: NeckMeter | None


class Rig:
    """A revision, ready to be posed and measured. Evaluators are made for each caller; meters are lent."""

    def __init__(self, document: Document, store: ArrayStore) -> None:
        self.document, self.store = document, store
        self.measures = Lent(lambda: PoseMeter(document, store))
        self.lid_board = Lent(lambda: LidBoard(document, store, self.evaluator()))
        self.lower_face = Lent(self._lower_face)
        self.all_linear = Lent(lambda: Evaluator(all_linear(document), store))
        self.all_dual = Lent(self._all_dual)

    def evaluator(self) -> Evaluator:
        return Evaluator(self.document, self.store)

    def _lower_face(self) -> LowerFaceMeters:
        meter = JawMeter(LowerFace(self.document, self.store), self.evaluator())
        return LowerFaceMeters(meter, neck_meter(meter.face, self.store, meter.evaluator))

    def _all_dual(self) -> Evaluator:
        scratch = MemoryStore(self.store)
        return Evaluator(all_dual(self.document, scratch), scratch)


def edges_of(store: ArrayStore, part: Part) -> np.ndarray:
    """The edges of a part, (E, 2)."""
    return DERIVED.get(("edges", part.sizes, part.corners), lambda: edges(polygons(store, part), part.vertex_count).ends)


def subdivided(store: ArrayStore, part: Part) -> tuple[csr_matrix, Polygons]:
    """One step of subdivision of a part: a matrix, float32, and the finer polygons, all quads."""

    def made() -> tuple[csr_matrix, Polygons]:
        matrix, finer = catmull_clark(polygons(store, part), part.vertex_count)
        return matrix.astype(np.float32), finer

    return DERIVED.get(("subdivided", part.sizes, part.corners, part.vertex_count), made)


class Rigs:
    """The last few rigs, by what they are made of: heads that are alike, and a state that is come back to by undo, share one.

    A revision never changes, so one that is kept is served without asking the database.
    """

    def __init__(self) -> None:
        self._contents = Cache(REMEMBER, one)
        self._kept = Cache(KEEP, one)

    def get(self, revision: Revision) -> Rig:
        return self.find(revision.character_id, revision.number, lambda: revision)

    def tried(self, draft: Draft) -> Rig:
        """The rig of an edit that is only tried."""
        return self._kept.get(tuple(sorted(draft.sections.items())), lambda: Rig(*load(draft)))

    def find(self, character_id: int, number: int, fetch: Callable[[], Revision]) -> Rig:
        """The rig of a revision by its number; `fetch` is called where it is not kept."""
        fetched = cache(fetch)
        content = self._contents.get((character_id, number), lambda: tuple(sorted(fetched().sections.items())))
        return self._kept.get(content, lambda: Rig(*load(fetched())))

    def clear(self) -> None:
        self._contents.clear()
        self._kept.clear()


rigs = Rigs()
