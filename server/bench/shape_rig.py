"""What the Shapes station keeps of a revision."""

import threading
from functools import cached_property

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character as Document
from tightseam.shapes.checks import ShapeFinding, shape_findings
from tightseam.shapes.sheet import ShapeRow, shape_rows


class ShapeRig:
    """The sheet and the findings of one revision, made when first asked for."""

    def __init__(self, document: Document, store: ArrayStore) -> None:
        self._document, self._store = document, store
        self._lock = threading.Lock()
        self._findings: list[ShapeFinding] | None = None

    @cached_property
    def rows(self) -> list[ShapeRow]:
        return shape_rows(self._document, self._store)

    def findings(self) -> list[ShapeFinding]:
        """What is wrong; measured once."""
        with self._lock:
            if self._findings is None:
                self._findings = shape_findings(self._document, self._store)
            return self._findings
