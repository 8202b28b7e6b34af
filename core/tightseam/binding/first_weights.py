"""Weights of a part made anew: by heat over the surface, by envelopes, by straight-line distance, or from another part."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.binding.carriers import made_bone, usual_carrier
from tightseam.binding.envelope import envelope_weights
from tightseam.binding.face import face_groups, with_face
from tightseam.binding.receivers import few_of_the_face, for_receivers
from tightseam.binding.rooted import rooted_weights
from tightseam.binding.skin import Mesh, over_neck, skin_weights
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_joints, chain_of
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Bone, Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.distance import segment_distance, stands_on
from tightseam.geometry.symmetry import partners
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import plane_of
from tightseam.head.surface import Surface, surface_of
from tightseam.weights.chain import chain_weights
from tightseam.weights.heat import heat_weights
from tightseam.weights.rows import rows_of

OWN_PARTS = ("eyes", "teeth", "tongue")  # regions of bones that carry parts of their own and nothing of the skin
ALIKE = 1e-3  # cm within which a vertex is the mirror image of another
TIE = 1e-6  # cm by which bones may differ and still be equally near


def heat(character: Character, store: ArrayStore, part: Part, surface: Surface | None = None) -> Floats:
    """Weights (N, B) of a part over all bones by heat equilibrium on its surface.

    The skin by its landmarks: a hard head, a soft neck, lips that part at the seam, and the bones of the face. A part that one bone or
    a chain should carry is given to it; what is worn about the neck goes with its bones, hair and whiskers with what they stand on where
    the skin is bound. Any other part by what is nearest to it on the skin. BadRequest names what is missing.
    """
    bones = character.bones
    if part.kind == "skin":
        return for_receivers(_skin(character, store, part, surface))
    points = np.asarray(store.get(part.points))
    carrier = usual_carrier(part)
    chain = chain_of(bones, "tongue")
    if part.kind == "tongue" and chain:
        return _columns(bones, chain, chain_weights(points, chain_joints(chain)))
    neck = chain_of(bones, "neck")
    if part.kind == "cloth" and neck:
        return _columns(bones, neck, chain_weights(points, chain_joints(neck)))
    rooted = rooted_weights(character, store, part)
    if rooted is not None:
        return for_receivers(rooted)
    bone = made_bone(bones, carrier) if carrier else None
    if bone is not None:
        return _columns(bones, [bone], np.ones((len(points), 1)))
    skin = next((p for p in character.parts if p.kind == "skin" and p is not part and find_binding(character, p.name)), None)
    if skin is None:
        raise BadRequest(f"Nothing says what should carry {part_label(part.name)}: bind the skin first, or give it to a bone.")
    return transferred(character, store, part, skin)


def envelopes(character: Character, store: ArrayStore, part: Part) -> Floats:
    """Weights (N, B) of a part by the capsules of the bones that may carry it."""
    bones = carrying(character, part)
    return for_receivers(_columns(character.bones, bones, envelope_weights(np.asarray(store.get(part.points)), bones)))


def straight(character: Character, store: ArrayStore, part: Part) -> Floats:
    """Weights (N, B) by heat equilibrium from the bones that are nearest by straight-line distance (Baran & Popović 2007, without
    their test of what a bone can see): quick, and blind to what lies between, so that lips stick together."""
    bones = carrying(character, part)
    points = np.asarray(store.get(part.points))
    distance = np.stack([segment_distance(points, np.array(b.base), np.array(b.tip)) for b in bones], axis=1)
    matrix, mass = part_mesh(store, part).laplacian
    nearest = (distance <= distance.min(axis=1, keepdims=True) + TIE).astype(float)
    nearest /= nearest.sum(axis=1, keepdims=True)
    weights = heat_weights(matrix, mass, distance.min(axis=1), nearest)
    return for_receivers(_columns(character.bones, bones, weights))


def transferred(character: Character, store: ArrayStore, part: Part, source: Part) -> Floats:
    """Weights (N, B) of a part as those of `source` are at the nearest points of its neutral surface, interpolated over its triangles.

    BadRequest where the source carries nothing.
    """
    bound = find_binding(character, source.name)
    if bound is None or not bound.influences:
        raise BadRequest(f"{part_label(source.name)} has no weights to copy.")
    names = [b.name for b in character.bones]
    rows = rows_of(store, bound.influences, names, np.arange(source.vertex_count))
    mesh = part_mesh(store, source)
    corners, shares = stands_on(np.asarray(store.get(part.points)), mesh.points, mesh.triangles)
    return for_receivers(np.asarray(np.einsum("nk,nkb->nb", shares, rows[corners])))


def carrying(character: Character, part: Part) -> list[Bone]:
    """The bones that may carry a part: those that deform, for a skin without those of eyes, teeth and tongue. BadRequest for none."""
    found = [b for b in character.bones if b.role == "deform" and not (part.kind == "skin" and b.region in OWN_PARTS)]
    if not found:
        raise BadRequest(f"There is no bone that could carry {part_label(part.name)}.")
    return found


def _skin(character: Character, store: ArrayStore, part: Part, surface: Surface | None) -> Floats:
    bones = character.bones
    surface = surface or surface_of(character, store, part)
    neck = chain_of(bones, "neck")
    trunk = [made_bone(bones, name) for name in ("head", "jaw")]
    missing = [label for label, b in zip(("head", "jaw"), trunk, strict=True) if b is None] + ([] if neck else ["neck"])
    if missing:
        raise BadRequest(f"First weights of the skin need bones for head, neck and jaw; missing: {', '.join(missing)}.")
    base = skin_weights(surface, *(_teeth(character, store, kind) for kind in ("teeth upper", "teeth lower")))
    carriers = [b for b in (trunk[0], *reversed(neck), trunk[1]) if b is not None]
    weights = _columns(bones, carriers, over_neck(base, surface.points, chain_joints(neck)))
    plane = plane_of(character, store)
    if face_groups(bones):
        weights = few_of_the_face(with_face(weights, bones, surface, plane), bones)
    return _alike_on_both_sides(weights, bones, partners(surface.points, ALIKE, plane))


def _alike_on_both_sides(weights: Floats, bones: Sequence[Bone], partner: Ints) -> Floats:
    """Weights (N, B) that are mirror images wherever the points are, however the two sides were cut into polygons. `partner` (N,)."""
    number = {b.name: k for k, b in enumerate(bones)}
    twins = [number.get(b.twin or b.name, k) for k, b in enumerate(bones)]
    mirrored = np.where(partner[:, None] >= 0, weights[partner][:, twins], weights)
    return np.asarray((weights + mirrored) / 2)


def _teeth(character: Character, store: ArrayStore, kind: str) -> Mesh | None:
    found = next((p for p in character.parts if p.kind == kind), None)
    if found is None:
        return None
    mesh = part_mesh(store, found)
    return mesh.points, mesh.triangles


def _columns(bones: Sequence[Bone], carriers: Sequence[Bone], weights: Floats) -> Floats:
    """Weights (N, B) over all bones from those (N, C) of some."""
    number = {b.name: k for k, b in enumerate(bones)}
    full = np.zeros((len(weights), len(bones)))
    full[:, [number[b.name] for b in carriers]] = weights
    return full
