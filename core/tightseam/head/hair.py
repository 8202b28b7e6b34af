"""What hair has from the skin that it stands on."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import points as part_points
from tightseam.document.lookup import polygons, vertex_set
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.adjacency import islands
from tightseam.geometry.distance import stands_on
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.normals import unit, vertex_normals
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.roots import ROOTS, UNSEEN, heights, over_tufts, seen, strand_roots

LIES, OFF = 0.5, 2.0  # cm over the scalp up to which hair is carried as what is under it, and from which as its roots
FREE = 2.0  # cm along a tuft from its roots, from where the skin slides away under it


def hair_of(character: Character, store: ArrayStore, part: Part, skin: Part) -> Hair:
    """Hair on a skin; made once for as long as the meshes of both and the roots stay."""
    meshes = [(p.points, p.sizes, p.corners) for p in (part, skin)]
    key = ("hair", part.kind, *meshes, part.sets.get(ROOTS), skin.sets.get(UNSEEN))
    return DERIVED.get(key, lambda: Hair(character, store, part, skin))


class Hair:
    """Hair of the head, or whiskers, on a skin."""

    def __init__(self, character: Character, store: ArrayStore, part: Part, skin: Part) -> None:
        self._points = part_points(character, store, part.name).astype(float)
        self._skin = part_points(character, store, skin.name).astype(float)
        self._polygons = polygons(store, part)
        self._every = part_mesh(store, skin).triangles
        self._seen = seen(self._every, skin, store)
        self._of_head = part.kind == "hair"
        self._known = vertex_set(store, part, ROOTS) if ROOTS in part.sets else None

    @cached_property
    def heights(self) -> Floats:
        """How high each vertex (M,) is over the skin, cm, negative inside it."""
        return heights(self._points, self._skin, self._every, self._seen)

    @cached_property
    def roots(self) -> Ints:
        """The vertices that stand on the skin."""
        return strand_roots(self.heights, self._polygons) if self._known is None else self._known

    def carried(self, values: Floats) -> tuple[Floats, Bools]:
        """What hair has of `values` (N, K) of the skin that carry it, (M, K), and which of it stands there at all, (M,); 0 where it does
        not.

        A tuft has what its roots have, on the mean, whatever its tip lies on: that of a moustache lies on the other lip. Hair of the head
        has what is under it while it lies there, and farther off, little by little, what its roots have.
        """
        own, rooted = self._of_roots(values)
        if self._of_head:
            own += (self._lies * rooted)[:, None] * (self._at(slice(None), values) - own)
        return own, rooted

    def taken_along(self, offsets: Floats) -> Floats:
        """How hair goes along (M, 3) with a skin that shapes move by `offsets` (N, 3): as its roots do, each tuft on the mean. Of hair of
        the head what is near its roots goes as the skin there; under the rest the skin slides away, and lifts what lies on it."""
        own, rooted = self._of_roots(offsets)
        if self._of_head and rooted.any():
            under = (self._at(slice(None), offsets) - own) * rooted[:, None]
            near, up = 1 - smoothstep(self._along / FREE)[:, None], unit(self._at(slice(None), vertex_normals(self._skin, self._every)))
            lift = np.maximum((under * up).sum(axis=1), 0) * self._lies
            own += near * under + (1 - near) * lift[:, None] * up
        return own

    def _of_roots(self, values: Floats) -> tuple[Floats, Bools]:
        return over_tufts(self._at(self.roots, values), self.roots, self._tufts)

    @cached_property
    def _tufts(self) -> Ints:
        return islands(self._polygons, len(self._points))

    @cached_property
    def _lies(self) -> Floats:
        """How much each vertex lies on the skin (M,), 1 to 0."""
        return 1 - smoothstep((self.heights - LIES) / (OFF - LIES))

    @cached_property
    def _along(self) -> Floats:
        """How far each vertex is from the roots of its tuft (M,), cm along its edges."""
        return distance_from(surface_graph(self._points, self._polygons), self.roots, FREE)[0]

    def _at(self, vertices: Ints | slice, values: Floats) -> Floats:
        """What the skin has where some of the hair's vertices stand."""
        corners, shares = self._feet
        return np.asarray(np.einsum("rk,rkc->rc", shares[vertices], values[corners[vertices]]))

    @cached_property
    def _feet(self) -> tuple[Ints, Floats]:
        return stands_on(self._points, self._skin, self._seen)
