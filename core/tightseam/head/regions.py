"""Lids and lips of a skin, found from its landmarks alone: along edge loops, or the shortest edges where there are none."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse.csgraph import connected_components

from tightseam.document.errors import BadRequest
from tightseam.geometry.distance import segment_distance
from tightseam.geometry.geodesic import closed_path, distance_from
from tightseam.geometry.polyline import arc_length
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.landmark_catalogue import label_of
from tightseam.head.surface import Surface

CHIN_REACH = 0.3  # of the way from under the chin to a jaw corner: how far from that line the chin's edge goes


@dataclass(frozen=True)
class Rim:
    """An opening of the skin whose two lines meet at two corners: a pair of lids or lips.

    `upper` and `lower` run from the first to the second corner, both included. For each skin vertex (N,): `distance` in
    cm along the surface to the rim, `nearest` rim vertex, and `inside`, true behind the rim (lid lining, mouth lining).
    """

    upper: Ints
    lower: Ints
    distance: Floats
    nearest: Ints
    inside: Bools

    @property
    def loop(self) -> Ints:
        """All rim vertices once, the upper line and then the lower one back."""
        return np.concatenate([self.upper, self.lower[-2:0:-1]])

    def reach(self, surface: Surface, name: str) -> float:
        """How far along the surface the vertex at a landmark lies from the rim, cm; where that is one of the rim, as it may be on a coarse
        mesh, how far the landmark itself lies from it."""
        along = float(self.distance[surface.vertex(name)])
        return along if along > 0 else float(np.linalg.norm(surface.points[self.loop] - surface.mark(name), axis=1).min())

    def nearest_to(self, line: Ints) -> Bools:
        """True for vertices whose nearest rim vertex lies on `line`."""
        return np.isin(self.nearest, line)


def lids(surface: Surface, side: str) -> Rim:
    """The lids of one side, from inner to outer corner."""
    return _rim(surface, f"lid_inner_{side}", f"lid_outer_{side}", f"lid_upper_{side}", f"lid_lower_{side}")


def lips(surface: Surface) -> Rim:
    """The lips, from the character's right corner to the left."""
    return _rim(surface, "mouth_corner_R", "mouth_corner_L", "lip_upper", "lip_lower")


def _rim(surface: Surface, first: str, second: str, upper: str, lower: str) -> Rim:
    start, end, top, bottom = (surface.vertex(name) for name in (first, second, upper, lower))
    loop = surface.walker.loop_through(start, [end, top, bottom]) or loop_among_triangles(surface, [start, top, end, bottom])
    corners = f"{label_of(first)} and {label_of(second)}"
    if loop is None:
        raise BadRequest(f"No closed edge loop runs through {corners}, {label_of(upper)} and {label_of(lower)}. Move them onto one loop.")
    rim = rim_of(surface, loop, end, top)
    if top not in rim.upper or bottom not in rim.lower:
        raise BadRequest(f"{label_of(upper)} and {label_of(lower)} do not lie on either side of {corners}. Move them to where they belong.")
    return rim


def loop_among_triangles(surface: Surface, stops: Sequence[int]) -> list[int] | None:
    """The shortest closed way over edges from stop to stop. None where it meets nothing but quads: these have edge loops, and stops that do
    not lie on one are in the wrong place."""
    loop = closed_path(surface.points, surface.neighbours, stops)
    faces = surface.polygons
    met = np.isin(faces.corners, loop if loop is not None else []) & (faces.sizes[faces.face_of_corner] == 3)
    return loop if met.any() else None


def rim_of(surface: Surface, loop: list[int], end: int, top: int) -> Rim:
    """The rim along a closed edge loop that begins in the first corner; `end` is the second one, `top` a vertex of the upper line."""
    cut = loop.index(end)
    one, other = loop[: cut + 1], [loop[0], *loop[: cut - 1 : -1]]
    up, low = (one, other) if top in one else (other, one)
    distance, nearest = distance_from(surface.graph, np.array(loop))
    return Rim(np.array(up), np.array(low), distance, nearest, _behind(surface, loop, surface.vertex("nose_tip")))


def _behind(surface: Surface, loop: list[int], outside: int) -> Bools:
    rest = np.ones(len(surface.points), bool)
    rest[loop] = False
    index = np.flatnonzero(rest)
    _, island = connected_components(surface.neighbours[index][:, index], directed=False)
    front = island[np.searchsorted(index, outside)]
    inside = np.zeros(len(surface.points), bool)
    touching = np.unique(island[np.isin(index, surface.neighbours[loop].indices)])
    inside[index[np.isin(island, touching) & (island != front)]] = True
    return inside


def along(surface: Surface, line: Ints, middle: str) -> Floats:
    """How far each vertex of a rim line lies from its middle landmark (0) to the corner on its side (1), by arc length."""
    arc = arc_length(surface.points[line])
    centre = arc[int(np.flatnonzero(line == surface.vertex(middle))[0])]
    return np.where(arc < centre, (centre - arc) / centre, (arc - centre) / (arc[-1] - centre))


def across_mouth(surface: Surface, vertices: Ints) -> Floats:
    """How far vertices lie from the middle of the mouth (0) to its corner (1), along the line between the corners.

    Unlike arc length this is the same for an upper and a lower lip vertex that touch.
    """
    return np.abs(mouth_place(surface, surface.points[vertices]))


def mouth_width(surface: Surface) -> float:
    """The distance of the corners of the mouth, cm."""
    return float(np.linalg.norm(surface.mark("mouth_corner_L") - surface.mark("mouth_corner_R")))


def mouth_place(surface: Surface, points: Floats) -> Floats:
    """Where points (K, 3) are across the mouth, (K,): -1 at the right corner, 1 at the left, level beyond them."""
    left, right = surface.mark("mouth_corner_L"), surface.mark("mouth_corner_R")
    middle, half = (left + right) / 2, (left - right) / 2
    return np.clip((points - middle) @ half / (half @ half), -1, 1)


def height_of_lips(surface: Surface, mouth: Rim) -> float:
    """How far over the surface the red of the higher lip goes, cm."""
    return float(max(mouth.reach(surface, border) for border in ("lip_top", "lip_bottom")))


def head_sets(surface: Surface) -> dict[str, Ints]:
    """Vertex sets that seams speak of: margins and patches of lids, lines and patches of lips, mouth lining, chin and neck."""
    sets: dict[str, Ints] = {}
    for side in "LR":
        sets |= lid_sets(surface, lids(surface, side), side)
    mouth = lips(surface)
    for lip, line, border in (("upper", mouth.upper, "lip_top"), ("lower", mouth.lower, "lip_bottom")):
        reach = mouth.reach(surface, border)
        patch = mouth.nearest_to(line) & (mouth.distance <= reach)
        sets[f"lip_{lip}_line"] = line
        sets[f"lip_{lip}"] = np.flatnonzero(patch)
    reach = height_of_lips(surface, mouth)
    sets["mouth_lining"] = np.flatnonzero(mouth.inside)
    sets["mouth_soft"] = np.flatnonzero(mouth.inside | (mouth.distance <= reach))
    return sets | neck_sets(surface, mouth)


def neck_sets(surface: Surface, mouth: Rim) -> dict[str, Ints]:
    """What a collar may touch: the edge of the jaw from corner to corner with what lies under it, and the neck below and behind that."""
    points, base, top = surface.points, surface.mark("neck_base"), surface.mark("neck_top")
    under = surface.mark("chin_under")
    corners = [surface.mark(f"jaw_angle_{side}") for side in "LR"]
    width = float(np.mean([np.linalg.norm(corner - under) for corner in corners]))
    ends = [surface.mark("chin_front"), *corners]
    near = np.min([segment_distance(points, under, end) for end in ends], axis=0) < CHIN_REACH * width
    chin = near & (points[:, 1] < surface.mark("lip_bottom")[1]) & ~mouth.inside
    height = (points - base) @ (top - base) / ((top - base) @ (top - base))
    low = (points[:, 1] < under[1]) | (points[:, 2] < min(corner[2] for corner in corners))
    return {"chin": np.flatnonzero(chin), "neck": np.flatnonzero((height > 0) & (height < 1) & low & ~chin & ~mouth.inside)}


def lid_sets(surface: Surface, rim: Rim, side: str) -> dict[str, Ints]:
    """Vertex sets of one side's lids: their margins, and the patches from these to the folds and over the lining."""
    sets: dict[str, Ints] = {}
    for lid, line in (("upper", rim.upper), ("lower", rim.lower)):
        fold = rim.reach(surface, f"lid_fold_{lid}_{side}")
        sets[f"lid_{lid}_margin_{side}"] = line
        sets[f"lid_{lid}_{side}"] = np.flatnonzero(rim.nearest_to(line) & (rim.inside | (rim.distance <= fold)))
    return sets
