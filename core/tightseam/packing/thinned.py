"""A character of fewer vertices: its meshes with edges collapsed, weights and shapes taken from where what is left stands on the old."""

from __future__ import annotations

from dataclasses import replace

import igl
import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights, make_delta, make_influences, make_part
from tightseam.document.model import Binding, Character, Part, PartDelta, Shape
from tightseam.geometry.distance import stands_on
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.geometry.types import Floats, Ints

SMALL = 60  # vertices: so few are all needed


def thinned(character: Character, store: ArrayStore, share: float) -> Character:
    """With about that share (0 to 1) of the vertices of each part, as triangles. Edges are collapsed where that moves the surface least
    (Garland and Heckbert 1997). What names vertices beside weights and shapes, seams, lids, selections, is gone."""
    parts, bindings, places = [], [], {}
    names = [b.name for b in character.bones]
    for part in character.parts:
        part, corners, shares = _thin(part, store, share)
        places[part.name] = (corners, shares)
        parts.append(part)
    for bound in character.bindings:
        corners, shares = places[bound.part]
        old = next(p for p in character.parts if p.name == bound.part)
        weights = _at(dense_weights(store, bound.influences, names, old.vertex_count), corners, shares)
        bindings.append(Binding(bound.part, "weighted", make_influences(store, names, weights)))
    shapes = tuple(_shape(s, character, store, places) for s in character.shapes)
    return Character(
        character.about, tuple(parts), bones=character.bones, bindings=tuple(bindings), shapes=shapes, controls=character.controls,
        poses=character.poses,
    )  # fmt: skip


def _thin(part: Part, store: ArrayStore, share: float) -> tuple[Part, Ints, Floats]:
    """The part with fewer vertices, and where each stands on the old: `corners` (N, 3) with their `shares` (N, 3)."""
    points = np.asarray(store.get(part.points)).astype(float)
    triangles, faces = triangulate_with_faces(points, polygons(store, part))
    fewer = _collapsed(points, triangles, share) if part.vertex_count > SMALL else None
    if fewer is None:
        own = np.arange(len(points))
        return part, np.repeat(own[:, None], 3, axis=1), np.tile([1.0, 0.0, 0.0], (len(points), 1))
    left, kept, birth = fewer
    corners, shares = stands_on(left, points, triangles)
    colours = None if part.colours is None else _at(np.asarray(store.get(part.colours), float), corners, shares)
    of_face = None if part.face_colours is None else np.asarray(store.get(part.face_colours))[faces[birth]]
    made = make_part(store, part.name, part.kind, left, Polygons.from_lists(kept.tolist()), colours, of_face)
    return replace(made, side=part.side), corners, shares


def _collapsed(points: Floats, triangles: Ints, share: float) -> tuple[Floats, Ints, Ints] | None:
    """Points, triangles, and which triangle each was; None where the surface is not one that can be thinned."""
    wanted = max(round(share * len(triangles)), 4)
    left, kept, birth, _ = igl.qslim(np.asfortranarray(points), np.asfortranarray(triangles, np.int32), wanted)
    return (np.asarray(left), np.asarray(kept), np.asarray(birth)) if 0 < len(kept) < len(triangles) else None


def _shape(shape: Shape, character: Character, store: ArrayStore, places: dict[str, tuple[Ints, Floats]]) -> Shape:
    deltas: list[PartDelta] = []
    for delta in shape.deltas:
        old = next(p for p in character.parts if p.name == delta.part)
        whole = np.zeros((old.vertex_count, 3))
        whole[np.asarray(store.get(delta.vertices))] = np.asarray(store.get(delta.offsets))
        made = make_delta(store, delta.part, _at(whole, *places[delta.part]))
        deltas += [made] if made is not None else []
    return replace(shape, deltas=tuple(deltas))


def _at(values: Floats, corners: Ints, shares: Floats) -> Floats:
    """What stands at the vertices (M, W) between three of them each, (N, W)."""
    return np.asarray(np.einsum("nk,nkw->nw", shares, values[corners]))
