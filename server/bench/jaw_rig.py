"""What the Jaw station keeps of a revision, with an evaluator of its own: the stage need not wait for it."""

import threading
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from functools import cached_property

import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skinned_alike import all_dual, all_linear
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.jaw.curves import JawCurves, JawMeter
from tightseam.jaw.face import LowerFace
from tightseam.jaw.findings import JawFinding, findings_of
from tightseam.jaw.neck import NeckMeter, NeckReport, neck_meter
from tightseam.jaw.needs import ReliefNeed, relief_needs


class JawRig:
    """Meters of one revision, made when first asked for."""

    def __init__(self, document: Document, store: ArrayStore) -> None:
        self._document, self._store = document, store
        self._lock = threading.RLock()
        self._findings: list[JawFinding] | None = None

    @contextmanager
    def meter(self) -> Iterator[JawMeter]:
        """The meter of the lower face, for one caller at a time."""
        with self._lock:
            yield self._meter

    def curves(self, values: Mapping[str, float]) -> JawCurves:
        with self.meter() as meter:
            return meter.measure(values)

    def needs(self) -> tuple[ReliefNeed, ...]:
        with self.meter() as meter:
            return relief_needs(meter)

    def findings(self) -> list[JawFinding]:
        """What is wrong; measured once, with meters that nobody else waits for."""
        if self._findings is None:
            self._findings = findings_of(self._document, self._store, Evaluator(self._document, self._store))
        return self._findings

    def neck(self, line: float | None) -> NeckReport:
        """BadRequest where head and neck have no bones of their own."""
        with self._lock:
            if self._neck is None:
                raise BadRequest("The parent of the head bone is no neck bone. Build bones at Landmarks to measure one.")
            return self._neck.measure(line)

    def skinned(self, values: Mapping[str, float]) -> tuple[np.ndarray, np.ndarray]:
        """The posed points (N, 3) of all parts by linear skinning alone, and by dual quaternions alone."""
        with self._lock:
            linear, dual = (e.points(values) for e in self._alone)
            return linear, dual

    @cached_property
    def _alone(self) -> tuple[Evaluator, Evaluator]:
        scratch = MemoryStore(self._store)
        alone = all_linear(self._document), all_dual(self._document, scratch)
        linear, dual = (Evaluator(document, scratch) for document in alone)
        return linear, dual

    @cached_property
    def _evaluator(self) -> Evaluator:
        return Evaluator(self._document, self._store)

    @cached_property
    def _meter(self) -> JawMeter:
        return JawMeter(LowerFace(self._document, self._store), self._evaluator)

    @cached_property
    def _neck(self) -> NeckMeter | None:
        return neck_meter(self._meter.face, self._store, self._evaluator)
