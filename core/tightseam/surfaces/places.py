"""What the places of a skin are called."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Part
from tightseam.geometry.types import Ints
from tightseam.head.landmark_catalogue import entry_of, label_of
from tightseam.head.surface import Surface

SETS = {
    "mouth_lining": "Lining of the mouth",
    "lip_upper": "Upper lip",
    "lip_lower": "Lower lip",
    **{f"lid_{lid}_{side}": f"{lid.capitalize()} lid {side}" for lid in ("upper", "lower") for side in "LR"},
}


class Places:
    """The place of each vertex of a skin: a lip, a lid, the lining, else the nearest landmark."""

    def __init__(self, part: Part, store: ArrayStore, surface: Surface) -> None:
        near = [name for name in surface.landmarks if _on_the_face(name)]
        self._labels: list[str] = [label_of(name) for name in near] or [part.name]
        marks = np.array([surface.landmarks[name] for name in near]).reshape(-1, 3)
        off = np.linalg.norm(surface.points[:, None] - marks[None], axis=2) if len(near) else np.zeros((len(surface.points), 1))
        self._place: Ints = off.argmin(axis=1)
        for name, label in SETS.items():
            if name in part.sets:
                self._place[vertex_set(store, part, name)] = len(self._labels)
                self._labels.append(label)

    def of(self, vertices: Ints | Sequence[int] | int) -> str:
        """The label of a vertex, or of most of several."""
        return self._labels[int(np.bincount(self._place[np.atleast_1d(vertices)]).argmax())]


def _on_the_face(name: str) -> bool:
    entry = entry_of(name)
    return entry is not None and (entry.lies == "on" or entry.name.startswith("neck")) and not entry.name.startswith(("lid_", "lip_"))
