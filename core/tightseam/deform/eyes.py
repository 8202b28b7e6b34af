"""Eyes laid out for evaluation: what lids and eye relief go by."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform.eye_profile import eye_profile
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Floats

RIGID = 1e-9


@dataclass(frozen=True)
class CompiledEye:
    """Centre (3,) and profile of an eye part, and the mean weights (B,) by which the bones carry it."""

    part: str
    centre: Floats
    profile: Floats
    weights: Floats

    @cached_property
    def carrier(self) -> int | None:
        """The number of the bone that carries it alone, None where several do or none."""
        found = np.flatnonzero(self.weights)
        return int(found[0]) if len(found) == 1 else None

    def blended(self, matrices: Floats, to_head: Floats) -> tuple[Floats, Floats]:
        """Rotation (3, 3) and centre (3,) in the space of the neutral head of an eye that several bones carry, or none, from their matrices
        (B, 4, 4) and what brings posed points into that space (4, 4)."""
        carried = self.weights.sum()
        mean = np.tensordot(self.weights, matrices, 1) / carried if carried > 0 else np.eye(4)
        local = to_head @ mean
        turn = local[:3, :3]
        if np.abs(turn @ turn.T - np.eye(3)).max() > RIGID:  # several bones that turn apart
            u, _, vt = np.linalg.svd(turn)
            turn = u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt
        return turn, local[:3, :3] @ self.centre + local[:3, 3]


def compile_eye(name: str, character: Character, store: ArrayStore) -> CompiledEye:
    centre, profile = eye_ball(find_part(character, name), store)
    return CompiledEye(name, centre, profile.astype(np.float32), mean_weights(name, character, store))


def eye_ball(part: Part, store: ArrayStore) -> tuple[Floats, Floats]:
    """The centre (3,) of an eye part and its profile (181, 64), cm, float64: what it turns about, and how far it reaches. Dear to find,
    and the same for as long as its mesh stays."""

    def made() -> tuple[Floats, Floats]:
        points = np.asarray(store.get(part.points)).astype(np.float64)
        centre, _ = fit_sphere(points)
        return centre, eye_profile(points, part_mesh(store, part).triangles, centre)

    return DERIVED.get(("eye ball", part.points, part.sizes, part.corners), made)


def mean_weights(part: str, character: Character, store: ArrayStore) -> Floats:
    """Mean weights (B,) by which the bones that deform carry a part."""
    count = find_part(character, part).vertex_count
    mean = np.zeros(len(character.bones))
    found = find_binding(character, part)
    for influence in found.influences if found else ():
        k = [b.name for b in character.bones].index(influence.bone)
        if character.bones[k].role == "deform":
            mean[k] += float(np.asarray(store.get(influence.weights)).sum()) / count
    return mean
