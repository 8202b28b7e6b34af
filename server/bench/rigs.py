"""Rigs kept ready: documents of recent revisions, compiled."""

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache, cached_property

import numpy as np
from characters.blobs import BlobStore
from characters.history import load
from characters.models import Revision
from tightseam.binding.checks import reference_weights
from tightseam.deform.evaluator import SHARED, Evaluator
from tightseam.document.kept import Kept
from tightseam.document.lookup import polygons
from tightseam.document.model import Character as Document
from tightseam.document.sections import dump_section, section_hash
from tightseam.geometry.subdivide import catmull_clark
from tightseam.landmarks.found import FoundHead
from tightseam.landmarks.guides import Guides, find_guides
from tightseam.landmarks.seats import EyeSeat, Proposal, find_seats
from tightseam.landmarks.suggest.found_mark import Marks
from tightseam.landmarks.suggest.suggest import suggest

from bench.jaw_rig import JawRig
from bench.shape_rig import ShapeRig

KEEP = 6
REMEMBER = 4096  # revisions of which it is known what they are made of


@dataclass
class Smooth:
    """One step of subdivision of every part: matrix and finer polygons, all quads."""

    matrices: dict
    polygons: dict


@dataclass
class Rig:
    """A revision ready to be posed. Hold `lock` while its evaluator works: its buffers serve one caller at a time."""

    document: Document
    store: BlobStore
    evaluator: Evaluator
    lock: threading.Lock = field(default_factory=threading.Lock)
    proposals: dict[str, list[Proposal]] = field(default_factory=dict)
    _meter: object = None
    _mirror: object = None
    _lid_board: object = None
    _lid_findings: list | None = None
    _smooth: Smooth | None = None

    @cached_property
    def guides(self) -> Guides:
        return find_guides(self.found)

    @cached_property
    def found(self) -> FoundHead:
        return FoundHead(self.document, self.store)

    @cached_property
    def seats(self) -> list[EyeSeat]:
        return find_seats(self.found)

    @cached_property
    def suggestions(self) -> Marks:
        return suggest(self.found)

    @cached_property
    def reference(self) -> np.ndarray | None:
        """The weights the skin would be given automatically. An edit of weights leaves them as they are."""
        of = [section_hash(dump_section(self.document, name)) for name in ("parts", "bones", "landmarks")]
        return SHARED.get(("reference", *of), lambda: reference_weights(self.document, self.store))

    @cached_property
    def jaw(self) -> JawRig:
        return JawRig(self.document, self.store)

    @cached_property
    def shapes(self) -> ShapeRig:
        return ShapeRig(self.document, self.store)

    def meter(self):
        """The seam meter, made when first asked for; call with the lock held."""
        if self._meter is None:
            from tightseam.seams.meter import SeamMeter

            self._meter = SeamMeter(self.document, self.store, self.evaluator)
        return self._meter

    def mirror(self):
        """What holds left against right, made when first asked for; call with the lock held."""
        if self._mirror is None:
            from tightseam.seams.asymmetry import mirror_gauge

            self._mirror = mirror_gauge(self.found, self.evaluator, self.meter())
        return self._mirror

    def lid_board(self):
        """The lid board, made when first asked for; call with the lock held."""
        if self._lid_board is None:
            from tightseam.lids.board import LidBoard

            self._lid_board = LidBoard(self.document, self.store, self.evaluator)
        return self._lid_board

    def lid_findings(self):
        """What is wrong with the lids; none where there are none. With an evaluator of its own: the stage need not wait for it."""
        from tightseam.lids.board import LidBoard
        from tightseam.lids.findings import lid_findings

        if self._lid_findings is None:
            evaluator = Evaluator(self.document, self.store)
            board = LidBoard(self.document, self.store, evaluator) if self.document.lids else None
            self._lid_findings = lid_findings(self.document, self.store, evaluator, board) if board else []
        return self._lid_findings

    def smooth(self) -> Smooth:
        if self._smooth is None:
            matrices, finer = {}, {}
            for part in self.document.parts:
                matrix, finer[part.name] = catmull_clark(polygons(self.store, part), part.vertex_count)
                matrices[part.name] = matrix.astype(np.float32)
            self._smooth = Smooth(matrices, finer)
        return self._smooth


class Rigs:
    """The last few rigs, by what they are made of: heads that are alike, and a state that is come back to by undo, share one.

    A revision never changes, so one that is kept is served without asking the database.
    """

    def __init__(self) -> None:
        self._contents = Kept(REMEMBER)
        self._kept = Kept(KEEP)

    def get(self, revision: Revision) -> Rig:
        return self.find(revision.character_id, revision.number, lambda: revision)

    def find(self, character_id: int, number: int, fetch: Callable[[], Revision]) -> Rig:
        """The rig of a revision by its number; `fetch` is called where it is not kept."""
        fetched = cache(fetch)
        content = self._contents.get((character_id, number), lambda: tuple(sorted(fetched().sections.items())))
        return self._kept.get(content, lambda: _rig_of(fetched()))

    def clear(self) -> None:
        self._contents.clear()
        self._kept.clear()


def _rig_of(revision: Revision) -> Rig:
    document, store = load(revision)
    return Rig(document, store, Evaluator(document, store))


rigs = Rigs()
