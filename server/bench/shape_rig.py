"""What the Shapes station keeps of a revision."""

import threading
from collections.abc import Iterable
from functools import cached_property

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character as Document
from tightseam.shapes.checks import ShapeFinding, shape_findings
from tightseam.shapes.sheet import ShapeRow, shape_rows
from tightseam.shapes.sides import sides_of
from tightseam.shapes.taken_along import LIES_ON_SKIN


class ShapeRig:
    """The sheet and the findings of one revision, made when first asked for."""

    def __init__(self, document: Document, store: ArrayStore) -> None:
        self._document, self._store = document, store
        self._lock = threading.Lock()
        self._findings: list[ShapeFinding] | None = None

    @cached_property
    def rows(self) -> list[ShapeRow]:
        return shape_rows(self._document, self._store)

    def alone(self, parts: Iterable[str]) -> dict[str, int]:
        """How many vertices of some parts nothing stands for on the other side, where there are any; what lies on the skin goes along."""
        sides, lying = sides_of(self._document, self._store), {p.name for p in self._document.parts if p.kind in LIES_ON_SKIN}
        found = {part: len(sides.of(part).alone) for part in sorted(set(parts) - lying)}
        return {part: count for part, count in found.items() if count}

    def findings(self) -> list[ShapeFinding]:
        """What is wrong; measured once."""
        with self._lock:
            if self._findings is None:
                self._findings = shape_findings(self._document, self._store)
            return self._findings
