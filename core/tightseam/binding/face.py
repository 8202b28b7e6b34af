"""Weights of the bones of the face: what head and jaw carry of the skin, shared out among the bones that hang on them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.sparse.csgraph import dijkstra

from tightseam.document.model import Bone, Point
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.regions import lids, lips
from tightseam.head.surface import Surface
from tightseam.weights.change import cleaned, sharpened
from tightseam.weights.heat import heat_weights
from tightseam.weights.rows import MOST_RECEIVED

TRUNKS = ("head", "jaw")  # regions of bones that those of the face hang on
APART = ("head", "neck", "jaw", "eyes", "teeth", "tongue")  # regions of bones that carry the head as such, or parts of their own
ON_SKIN = 0.35  # cm from the skin up to which a place on a bone is on it
REACH = 1.2  # of the way to the next bone of the face: how far one reaches
LEAST_REACH, MOST_REACH = 0.8, 2.5  # cm
LINING_REACH = 0.7  # cm behind the lip line from where the lining does not go with the bones of the lips
MIDDLE = 1e-3  # cm from the plane between left and right within which a vertex lies on it
SHARPER = 0.5  # so that dropping small influences takes little with it
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


def with_face(weights: Floats, bones: Sequence[Bone], surface: Surface, plane: Plane) -> Floats:
    """Weights (N, B) of a skin in which what a head or a jaw carries is shared with the bones of the face that hang on it.

    While those are at rest the skin moves just as before. `plane` lies between left and right.
    """
    weights = weights.copy()
    for k, trunk in enumerate(bones):
        members = face_bones(bones, trunk.name) if trunk.region in TRUNKS else []
        if members:
            layer = _layer(surface, [bones[m] for m in members], plane, trunk.region == "jaw")
            weights[:, members] = layer[:, :-1] * weights[:, [k]]
            weights[:, k] *= layer[:, -1]
    return _few(weights, bones)


def _few(weights: Floats, bones: Sequence[Bone]) -> Floats:
    """Weights (N, B) in which no vertex has more bones of the face than receivers take beside what else it has. What goes is shared out
    among the others that hang on the same head or jaw, or goes back to that."""
    groups = [(k, face_bones(bones, b.name)) for k, b in enumerate(bones) if b.region in TRUNKS]
    face = [m for _, members in groups for m in members]
    room = MOST_RECEIVED - ((weights > TINY).sum(axis=1) - (weights[:, face] > TINY).sum(axis=1))
    rank = np.argsort(np.argsort(-weights[:, face], axis=1, kind="stable"), axis=1)
    kept = weights.copy()
    kept[:, face] = np.where(rank < room[:, None], weights[:, face], 0)
    for k, members in groups:
        before, after = weights[:, members].sum(axis=1), kept[:, members].sum(axis=1)
        kept[:, members] *= np.divide(before, after, out=np.ones_like(after), where=after > 0)[:, None]
        kept[:, k] += np.where(after > 0, 0, before)
    return kept


def _layer(surface: Surface, bones: list[Bone], plane: Plane, below: bool) -> Floats:
    """Shares (N, B + 1) of bones of the face, the last one of what they hang on: heat between where each sits and where none
    reaches, with fixed values on lids and lips. `below` says that it is the lower lip whose bones hang on it."""
    seats = [_seat(surface, b, plane) for b in bones]
    fixed, values = _fixed(surface, bones, below)
    sources = np.concatenate(seats)
    owner = np.repeat(np.arange(len(bones)), [len(s) for s in seats])
    distance, label = _nearest(surface, sources, owner)
    far = np.flatnonzero(distance > _reaches(surface, seats)[label])
    sources, owner = np.concatenate([sources, far]), np.concatenate([owner, np.full(len(far), len(bones))])
    distance, label = _nearest(surface, sources, owner)
    anchored = np.eye(len(bones) + 1)[label]
    middle = np.abs(plane.distance(surface.points)) < MIDDLE
    anchored[middle] = (anchored[middle] + anchored[middle][:, [*_twins(bones), len(bones)]]) / 2
    laplacian, mass = surface.laplacian
    shares = heat_weights(laplacian, mass, distance, anchored, fixed, values, float(np.sqrt(mass.mean())))
    free = np.ones(shares.shape[1], bool)
    shares[~fixed] = cleaned(sharpened(shares[~fixed], free, SHARPER), free, TINY)
    shares[fixed] = cleaned(shares[fixed], free, TINY / 4)
    return shares


def _seat(surface: Surface, bone: Bone, plane: Plane) -> Ints:
    """The vertices a bone sits on: under the places along it that lie on the skin, or under the one that is nearest to it; for a bone in
    the middle the same on both sides."""
    base, tip = np.array(bone.base), np.array(bone.tip)
    places = base + (tip - base) * np.linspace(0, 1, 9)[:, None]
    off = np.linalg.norm(surface.closest(places) - places, axis=1)
    under = surface.nearest_vertices(places[off <= max(ON_SKIN, float(off.min()))])
    if np.abs(plane.distance(np.stack([base, tip]))).max() > MIDDLE:
        return under
    return np.union1d(under, surface.nearest_vertices(plane.mirrored(surface.points[under])))


def _nearest(surface: Surface, sources: Ints, owner: Ints) -> tuple[Floats, Ints]:
    """For each vertex how far along the surface it is to a source (N,), and whose that is (N,); the first owner of a source counts."""
    unique, first = np.unique(sources, return_index=True)
    distance, nearest = distance_from(surface.graph, unique)
    found = owner[first][np.searchsorted(unique, np.maximum(nearest, unique[0]))]
    return np.where(np.isfinite(distance), distance, MOST_REACH * 10), np.where(nearest < 0, owner.max(), found)


def _reaches(surface: Surface, seats: list[Ints]) -> Floats:
    """How far each bone reaches along the surface, (B,) cm: by how far it is to the next one."""
    apart = np.full(len(seats), np.inf)
    for k, seat in enumerate(seats):
        others = [s for j, s in enumerate(seats) if j != k]
        if others:
            distance = dijkstra(surface.graph, directed=False, indices=seat, min_only=True, limit=MOST_REACH / REACH)
            apart[k] = min(distance[s].min() for s in others)
    return np.clip(REACH * apart, LEAST_REACH, MOST_REACH)


def _twins(bones: list[Bone]) -> list[int]:
    number = {b.name: k for k, b in enumerate(bones)}
    return [number.get(b.twin or b.name, k) for k, b in enumerate(bones)]


def _fixed(surface: Surface, bones: list[Bone], below: bool) -> tuple[Bools, Floats]:
    """Where shares are given (N,), and which (N, B + 1): along lids and lips each bone hands over to the next, linearly; from the lids'
    folds on, and in the depth of the mouth, none has any."""
    fixed = np.zeros(len(surface.points), bool)
    values = np.zeros((len(surface.points), len(bones) + 1))
    mouth = lips(surface)
    own = [k for k, b in enumerate(bones) if b.region == "mouth"]
    seat = mouth.lower if below else mouth.upper  # closed lips touch: whose a bone is is not told by which is nearer
    borders = [mouth.reach(surface, name) for name in ("lip_top", "lip_bottom")]
    reach = np.where(mouth.nearest_to(mouth.upper), *borders)
    soft = np.where(mouth.inside, 1 - smoothstep(mouth.distance / LINING_REACH), 1.0)
    for line in (mouth.upper, mouth.lower):
        here = mouth.nearest_to(line) & (mouth.inside | (mouth.distance <= reach)) & ~fixed
        _give(values, fixed, here, soft, _handed_over(surface, line, seat, [bones[k].base for k in own])[mouth.nearest[here]], own)
    for side in (s for s in "LR" if f"lid_inner_{s}" in surface.landmarks):
        rim = lids(surface, side)
        for lid, line in (("upper", rim.upper), ("lower", rim.lower)):
            fold = rim.reach(surface, f"lid_fold_{lid}_{side}")
            here = rim.nearest_to(line) & (rim.inside | (rim.distance <= fold)) & ~fixed
            own = [k for k, b in enumerate(bones) if b.region == "lids" and _nearest_of(surface, rim.loop, b.tip) in line[1:-1]]
            soft = 1 - smoothstep(rim.distance / max(fold, 1e-6))
            _give(values, fixed, here, soft, _handed_over(surface, line, line, [bones[k].tip for k in own])[rim.nearest[here]], own)
    return fixed, values


def _give(values: Floats, fixed: Bools, here: Bools, soft: Floats, handed: Floats, own: list[int]) -> None:
    fixed[here] = True
    given = handed * soft[here][:, None]
    values[np.flatnonzero(here)[:, None], own] = given
    values[here, -1] = 1 - given.sum(axis=1)


def _handed_over(surface: Surface, line: Ints, seat: Ints, places: list[Point]) -> Floats:
    """Shares (N, O) on the vertices of a `line` of bones that sit by their `places` on the line `seat`, zero elsewhere.

    Each bone has all where it sits and the next one takes over linearly. On a line that is not their own they have nothing, but for
    those at the corners.
    """
    shares = np.zeros((len(surface.points), len(places)))
    if not places:
        return shares
    arcs = dict(zip(seat.tolist(), _arc(surface.points[seat]), strict=True))
    sits = np.array([_nearest_of(surface, seat, place) for place in places])
    order = np.argsort([arcs[v] for v in sits.tolist()])
    centres, rows = np.array([arcs[v] for v in sits[order].tolist()]), np.eye(len(places))[order]
    none = np.zeros((1, len(places)))
    first, last = (1 if centres[0] > 1e-6 else 0), (1 if centres[-1] < 1 - 1e-6 else 0)
    at = np.concatenate([np.zeros(first), centres, np.ones(last)])
    given = np.concatenate([none[:first], rows, none[:last]])
    for column in np.flatnonzero(np.isin(sits, line)):
        shares[line, column] = np.interp(_arc(surface.points[line]), at, given[:, column])
    return shares


def _nearest_of(surface: Surface, vertices: Ints, point: Point) -> int:
    return int(vertices[np.linalg.norm(surface.points[vertices] - np.array(point), axis=1).argmin()])


def _arc(points: Floats) -> Floats:
    """How far along a line each of its points is, 0 to 1."""
    walked = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    return np.asarray(walked / max(walked[-1], 1e-12))
