"""Faults in the skin weights of the demo cast, planted by code that says what it plants."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points, polygons
from tightseam.document.model import Character
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.types import Bools, Floats
from tightseam.weights.patch import Patch
from tightseam.weights.rows import with_rows

SHARES = {"neck_2": 0.3, "neck_1": 0.15}  # what the scalp lacks of the head
FEW = 0.03  # a small weight, to make a fifth and a sixth influence of


@dataclass(frozen=True)
class PlantedWeights:
    """What is wrong: the finding it must give, the bone to blame where one is, and the vertices of the skin."""

    check: str
    bone: str | None
    vertices: frozenset[int]


class SkinFaults:
    """Plants faults in the weights of a skin, by landmarks."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.character, self.store = character, store
        self.planted: list[PlantedWeights] = []
        self.points = points(character, store, "skin")
        self.bones = [b.name for b in character.bones]
        self._marks = {m.name: np.array(m.point) for m in character.landmarks}
        self._graph = surface_graph(self.points, polygons(store, find_part(character, "skin")))

    def near(self, mark: str, reach: float, aside: tuple[float, float, float] = (0, 0, 0)) -> Bools:
        """The skin within `reach` cm, along the surface, of a landmark or of a place beside it."""
        seed = np.linalg.norm(self.points - (self._marks[mark] + aside), axis=1).argmin()
        return np.asarray(distance_from(self._graph, np.array([seed]), reach)[1] >= 0)

    def plant(self, where: Bools, change: Callable[[Floats], Floats], *said: tuple[str, str | None]) -> None:
        """Change the weights (K, B) of some vertices; `said` are check and bone of the findings that must give."""
        vertices = np.flatnonzero(where)
        patch = Patch(self.character, self.store, "skin", vertices.tolist(), [])
        rows = change(patch.rows)
        self.character = with_binding(self.character, with_rows(self.store, patch.binding, patch.bones, patch.vertices, rows))
        self.planted += [PlantedWeights(check, bone, frozenset(vertices.tolist())) for check, bone in said]

    def pull(self, bone: str, share: float) -> Callable[[Floats], Floats]:
        """A bone takes a share of everything."""
        return lambda rows: (1 - share) * rows + share * np.eye(len(self.bones))[self.bones.index(bone)]

    def soft_scalp(self) -> None:
        """Above a line the head carries 55 % only, and two bones of the neck the rest: the head is squashed as it turns."""
        line = self._marks["brow_middle_L"][1] + 4.2
        spread = np.zeros(len(self.bones))
        for bone, share in SHARES.items():
            spread[self.bones.index(bone)] = share
        left = 1 - sum(SHARES.values())
        self.plant(self.points[:, 1] > line, lambda rows: left * rows + spread, *(("stray", bone) for bone in SHARES))

    def small_weights(self, where: Bools, extra: tuple[str, ...]) -> None:
        """Eight vertices of a place get a fifth and a sixth influence."""
        chosen = np.zeros(len(where), bool)
        chosen[np.flatnonzero(where)[:8]] = True

        def change(rows: Floats) -> Floats:
            rows = rows * (1 - FEW * len(extra))
            rows[:, [self.bones.index(b) for b in extra]] += FEW
            return rows

        self.plant(chosen, change, ("too_many", None))


def plant_in_maren(character: Character, store: ArrayStore) -> tuple[Character, tuple[PlantedWeights, ...]]:
    """Maren's skin half tuned: each fault in a place of its own."""
    f = SkinFaults(character, store)
    f.soft_scalp()
    f.plant(f.near("brow_outer_L", 1.1, (0.9, 0.4, -1.2)), f.pull("ear_L", 0.35), ("stray", "ear_L"))
    f.plant(f.near("cheek_L", 1.0, (0.6, -0.3, 0)), f.pull("nose", 0.35), ("stray", "nose"))
    for side in "LR":
        f.plant(f.near(f"brow_middle_{side}", 0.9, (0, 3.1, 0)), f.pull(f"brow_2_{side}", 0.3), ("stray", f"brow_2_{side}"))
        f.plant(f.near(f"lid_fold_upper_{side}", 0.5, (0, -0.2, 0)), f.pull(f"brow_2_{side}", 0.3), ("stray", f"brow_2_{side}"))
    f.plant(f.near("neck_base", 1.2, (4.0, 1.5, 0)), lambda rows: rows * 0.8, ("total", None))
    f.plant(f.near("neck_base", 1.2, (-4.0, 1.5, 0)), lambda rows: rows * 1.3, ("total", None))
    f.small_weights(f.near("jaw_angle_R", 1.7), ("neck_1", "neck_2", "cheek_R", "mouth_corner_R"))
    return f.character, tuple(f.planted)
