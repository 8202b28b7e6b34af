"""Weights of the bones of the face: what head and jaw carry of the skin, shared out among the bones that hang on them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial.distance import cdist

from tightseam.binding.rim_shares import Rims, rim_shares, rims_of
from tightseam.document.model import Bone
from tightseam.geometry.diffuse import diffused
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.surface_distance import Places, distance_to_places, places_on
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats
from tightseam.head.surface import Surface
from tightseam.weights.change import NOTHING, cleaned

TRUNKS = ("head", "jaw")  # regions of bones that those of the face hang on
APART = ("head", "neck", "jaw", "eyes", "teeth", "tongue")  # regions of bones that carry the head as such, or parts of their own
ON_SKIN = 0.35  # cm from the skin up to which a place on a bone is on it
PLACES = 9  # that are tried along a bone
TIE = 0.1  # cm by which places off the skin may be farther from it than the nearest one
REACH = 1.2  # of the way to the next bone of the face: how far one reaches
LEAST_REACH, MOST_REACH = 0.8, 2.5  # cm
MIDDLE = 1e-3  # cm from the plane between left and right within which a bone lies on it
SOFTENED = 0.04  # cm²: by how much the shares are smoothed in the end
TINY = 0.02


def face_bones(bones: Sequence[Bone], trunk: str) -> list[int]:
    """The numbers of the deforming bones of the face whose nearest ancestor among head and jaw is `trunk`."""
    parent = {b.name: b.parent for b in bones}
    trunks = {b.name for b in bones if b.region in TRUNKS}

    def hangs_on(name: str | None) -> str | None:
        while name is not None and name not in trunks:
            name = parent[name]
        return name

    return [k for k, b in enumerate(bones) if b.role == "deform" and b.region not in APART and hangs_on(b.name) == trunk]


def face_groups(bones: Sequence[Bone]) -> list[tuple[int, list[int]]]:
    """The numbers of each head and jaw that bones of the face hang on, and of these."""
    return [(k, members) for k, b in enumerate(bones) if b.region in TRUNKS and (members := face_bones(bones, b.name))]


def with_face(weights: Floats, bones: Sequence[Bone], surface: Surface, plane: Plane) -> Floats:
    """Weights (N, B) of a skin in which what a head or a jaw carries is shared with the bones of the face that hang on it.

    While those are at rest the skin moves just as before. `plane` lies between left and right.
    """
    weights, rims = weights.copy(), rims_of(surface)
    for k, members in face_groups(bones):
        layer = _layer(surface, rims, [bones[m] for m in members], plane, bones[k].region == "jaw")
        weights[:, members] = layer[:, :-1] * weights[:, [k]]
        weights[:, k] *= layer[:, -1]
    return weights


def _layer(surface: Surface, rims: Rims, bones: list[Bone], plane: Plane, below: bool) -> Floats:
    """Shares (N, B + 1) of bones of the face, the last one of what they hang on. Each has all where it sits, and less along the surface the
    nearer it comes to the next one; round lids and lips they hand over along the lines. `below` says that it is the lower lip whose bones
    hang on it."""
    seats = _seats(surface, bones, plane)
    reaches = _reaches(seats)
    far = (distance_to_places(surface.mesh, seat, MOST_REACH) / reach for seat, reach in zip(seats, reaches, strict=True))
    shares = _exactly_one(np.stack([1 - smoothstep(np.minimum(d, 1)) for d in far], axis=1))
    near = rim_shares(surface, rims, bones, below)
    shares += near.held[:, None] * (near.values - shares)
    shares = diffused(*surface.laplacian, shares, np.where(near.held >= 1, 0, SOFTENED))
    free = np.ones(shares.shape[1], bool)
    return cleaned(shares, free, np.where(near.held[:, None] >= 1, TINY / 4, TINY))


def _exactly_one(likely: Floats) -> Floats:
    """Shares (N, B + 1) in proportion to how likely it is that just one of B things that are each as `likely` (N, B) happens, the last one
    that none does: a partition of unity that gives all to a thing that is certain."""
    rest = 1 - likely
    alone = [likely[:, k] * np.prod(np.delete(rest, k, axis=1), axis=1) for k in range(likely.shape[1])]
    shares = np.column_stack([*alone, np.prod(rest, axis=1) ** 2])
    several = np.column_stack([likely, np.zeros(len(likely))])  # where two are certain none is alone, and they share
    shares = np.where(shares.sum(axis=1, keepdims=True) > NOTHING, shares, several)
    return np.asarray(shares / shares.sum(axis=1, keepdims=True))


def _seats(surface: Surface, bones: list[Bone], plane: Plane) -> list[Places]:
    """The places each bone sits on: those of the skin under it along the stretch where it lies on the skin, or the one that is nearest to
    it; for a bone in the middle the same on both sides."""
    ends = np.array([(b.base, b.tip) for b in bones])
    along = ends[:, :1] + (ends[:, 1:] - ends[:, :1]) * np.linspace(0, 1, PLACES)[:, None]
    under = places_on(surface.mesh, along.reshape(-1, 3))
    off = np.linalg.norm(under.points.reshape(along.shape) - along, axis=2)
    on_skin = off <= np.maximum(ON_SKIN, off.min(axis=1, keepdims=True) + TIE)
    over = places_on(surface.mesh, plane.mirrored(under.points))
    middle = np.abs(plane.distance(ends.reshape(-1, 3))).reshape(-1, 2).max(axis=1) <= MIDDLE
    both = Places(np.concatenate([under.points, over.points]), np.concatenate([under.triangles, over.triangles]))
    owner = np.tile(np.repeat(np.arange(len(bones)), PLACES), 2)
    taken = np.concatenate([on_skin.ravel(), (on_skin & middle[:, None]).ravel()])
    return [both[taken & (owner == k)] for k in range(len(bones))]


def _reaches(seats: list[Places]) -> Floats:
    """How far each bone reaches along the surface, (B,) cm: by how far it is to the next one."""
    owner = np.repeat(np.arange(len(seats)), [len(s.points) for s in seats])
    places = np.concatenate([s.points for s in seats])
    apart = cdist(places, places)
    next_one = [apart[np.ix_(owner == k, owner != k)].min(initial=np.inf) for k in range(len(seats))]
    return np.clip(REACH * np.array(next_one), LEAST_REACH, MOST_REACH)
