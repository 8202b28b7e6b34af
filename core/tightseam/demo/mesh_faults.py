"""Faults of modelling, each planted by code that says what it plants.

A planter changes a `RawPart` in place and returns what Check-in has to find. It finds its site from landmarks and edge loops
alone, so that it works on any numbering and on subdivided heads.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.adjacency import boundary, neighbours
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.loops import LoopWalker, RingStepper
from tightseam.geometry.polygons import Polygons

Marks = dict[str, Array]
TAINTED_GAP = 0.015  # cm; wider than the limit of Check-in


@dataclass(frozen=True)
class MeshFault:
    """What is wrong: the check that must find it, the part, its vertices, and its size (mm, or as the check counts)."""

    check: str
    part: str
    vertices: tuple[int, ...]
    size: float = 0.0


def vertex_at(part: RawPart, mark: Array) -> int:
    return int(cKDTree(part.points).query(mark)[1])


def rim(part: RawPart, marks: Marks, names: Sequence[str]) -> list[int]:
    """The closed edge loop through four landmarks: first corner, second corner, upper middle, lower middle."""
    first, *others = (vertex_at(part, marks[n]) for n in names)
    loop = LoopWalker(Polygons.from_lists(part.polygons)).loop_through(first, others)
    assert loop is not None, names
    return loop


def lid_rim(part: RawPart, marks: Marks, side: str) -> list[int]:
    return rim(part, marks, [f"lid_{k}_{side}" for k in ("inner", "outer", "upper", "lower")])


def rings_from(part: RawPart, loop: Sequence[int], outwards: bool) -> list[Array]:
    """Loops of quads beside `loop`, the loop first; outwards is the side that lies farther in front."""
    stepper = RingStepper(Polygons.from_lists(part.polygons), len(part.points))
    ways = []
    for start in (np.array(loop), np.array(loop)[::-1]):
        rings = [start]
        while (following := stepper.step(rings[-1])) is not None and len(rings) < 20:
            rings.append(following)
        ways.append(rings)
    ahead = [float(np.mean(part.points[r[min(3, len(r) - 1)], 2])) for r in ways]
    return ways[int(np.argmax(ahead) if outwards else np.argmin(ahead))]


def open_mouth(part: RawPart, marks: Marks, gap_mm: float) -> MeshFault:
    """The lower lip lowered until the lips gape by `gap_mm` in the middle."""
    names = ["mouth_corner_R", "mouth_corner_L", "lip_upper", "lip_lower"]
    loop = rim(part, marks, names)
    right, left = (vertex_at(part, marks[n]) for n in names[:2])
    cut = loop.index(left)
    one, other = loop[: cut + 1], [loop[0], *loop[: cut - 1 : -1]]
    upper, lower = (one, other) if vertex_at(part, marks["lip_upper"]) in one else (other, one)
    width = abs(part.points[left, 0] - part.points[right, 0]) / 2
    graph = surface_graph(part.points, Polygons.from_lists(part.polygons))
    to_lower, to_upper = distance_from(graph, np.array(lower[1:-1]))[0], distance_from(graph, np.array(upper))[0]
    t = np.clip(np.abs(part.points[:, 0] - part.points[right, 0] / 2 - part.points[left, 0] / 2) / width, 0, 1)
    near = np.clip(1 - to_lower / 1.6, 0, 1) * np.clip(to_upper / (0.35 * width), 0, 1) ** 0.5
    profile = near**0.5 * (1 - t**4)
    overlap = float(part.points[vertex_at(part, marks["lip_lower"]), 1] - part.points[vertex_at(part, marks["lip_upper"]), 1])
    at_lip = profile[vertex_at(part, marks["lip_lower"])]
    part.points = part.points - np.outer(profile / at_lip * (gap_mm / CM_TO_MM + overlap), [0, 1, 0])
    found = [*_gaping(part.points, lower, upper, width), *_gaping(part.points, upper, lower, width)]
    return MeshFault("mouth_closed", part.name, tuple(sorted(found)), gap_mm)


def _gaping(points: Array, line: list[int], other: list[int], width: float) -> list[int]:
    """Vertices of a lip line, short of the corners, that lie farther from the other line than any limit allows."""
    order = np.argsort(points[other, 0])
    across = np.interp(points[line, 0], points[other, 0][order], points[other, 1][order])
    middle = (points[line[0], 0] + points[line[-1], 0]) / 2
    inner = np.abs(points[line, 0] - middle) < 0.88 * width
    return [v for v, gap, i in zip(line, np.abs(across - points[line, 1]), inner, strict=True) if gap > TAINTED_GAP and i]


def drop_span(part: RawPart, marks: Marks, side: str, lid: str, place: float) -> MeshFault:
    """One column of lid faces taken out, from the lining to beyond the fold; `place` 0..1 says where between the corners."""
    loop = lid_rim(part, marks, side)
    corner = [loop.index(vertex_at(part, marks[f"lid_{k}_{side}"])) for k in ("inner", "outer")]
    lines = [loop[corner[0] : corner[1] + 1], [loop[0], *loop[: corner[1] - 1 : -1]]]
    upper = vertex_at(part, marks[f"lid_upper_{side}"])
    line = next(x for x in lines if (upper in x) == (lid == "upper"))
    k = 2 + int(place * (len(line) - 5))
    pair = [loop.index(line[k]), loop.index(line[k + 1])]
    column: dict[int, int] = {}
    outside = rings_from(part, loop, True)
    for rings in (outside[: 5 * len(outside) // 6], rings_from(part, loop, False)):
        backwards = list(rings[0]) != loop
        for ring in rings:
            ordered = list(ring[::-1]) if backwards else list(ring)
            column[int(ordered[pair[1]])] = int(ordered[pair[0]])
    for gone, kept in column.items():
        part.points[kept] = (part.points[kept] + part.points[gone]) / 2
    number = _merge(part, column)
    short = [number[column.get(v, v)] for v in line]
    return MeshFault(f"lid_spans_{side}", part.name, tuple(sorted(set(short))), 1)


def _merge(part: RawPart, into: dict[int, int]) -> Array:
    """Vertices merged into others and taken out; new number of each old vertex."""
    kept = np.array([v for v in range(len(part.points)) if v not in into])
    number = np.full(len(part.points), -1)
    number[kept] = np.arange(len(kept))
    for gone, target in into.items():
        number[gone] = number[target]
    polygons, faces = [], []
    for f, polygon in enumerate(part.polygons):
        mapped = [int(number[v]) for v in polygon]
        corners = [v for k, v in enumerate(mapped) if v != mapped[k - 1]]
        if len(set(corners)) >= 3:
            polygons.append(corners)
            faces.append(f)
    part.polygons = polygons
    part.points = part.points[kept]
    part.colours = None if part.colours is None else part.colours[kept]
    part.face_colours = None if part.face_colours is None else part.face_colours[faces]
    part.sets = {name: sorted({int(number[v]) for v in s}) for name, s in part.sets.items()}
    return number


def spin_edge(part: RawPart, marks: Marks, side: str, lid: str, place: float, ring: int = 2) -> MeshFault:
    """An edge between two lid faces turned by one corner: two vertices lose an edge, two gain one."""
    loop = lid_rim(part, marks, side)
    rings = rings_from(part, loop, True)
    middle = vertex_at(part, marks[f"lid_{lid}_{side}"])
    n = len(loop)
    k = (list(rings[0]).index(middle) + round((place - 0.5) * n / 4)) % n
    a, b = int(rings[ring][k]), int(rings[ring + 1][k])
    f, g = (f for f, p in enumerate(part.polygons) if a in p and b in p)
    p, q = part.polygons[f], part.polygons[g]
    i, j = _after(p, a, b), _after(q, a, b)
    hexagon = [*i[:-1], *j[:-1]]  # a-chain of one face, then of the other, without the shared edge
    part.polygons[f] = [hexagon[k] for k in (1, 2, 3, 4)]
    part.polygons[g] = [hexagon[k] for k in (4, 5, 0, 1)]
    return MeshFault("poles", part.name, tuple(sorted({a, b, hexagon[1], hexagon[4]})), 4)


def _after(polygon: Sequence[int], a: int, b: int) -> list[int]:
    """The polygon from one end of the edge a-b all the way round to the other."""
    k = next(k for k in range(len(polygon)) if {polygon[k - 1], polygon[k]} == {a, b})
    return [*polygon[k:], *polygon[:k]]


def jumble(part: RawPart, seed: int, steps: int, strength: float, rng: np.random.Generator) -> MeshFault:
    """Vertices round `seed`, `steps` edges far, each thrown off by `strength` of its edge length in a direction of its own."""
    polygons = Polygons.from_lists(part.polygons)
    around = neighbours(polygons, len(part.points))
    border = boundary(polygons, len(part.points))
    patch = {seed}
    for _ in range(steps):
        patch |= {int(w) for v in patch for w in around[v].indices}
    chosen = np.array(sorted(v for v in patch if not border[v]))
    spacing = np.array([np.linalg.norm(part.points[around[v].indices] - part.points[v], axis=1).mean() for v in chosen])
    throw = rng.normal(size=(len(chosen), 3))
    throw /= np.linalg.norm(throw, axis=1)[:, None]
    part.points[chosen] += throw * (spacing * strength)[:, None]
    return MeshFault("jumbled", part.name, tuple(chosen.tolist()), float(spacing.mean() * strength * CM_TO_MM))


def cut_corners(part: RawPart, vertices: Sequence[int]) -> MeshFault:
    """At each of some vertices one face gets a corner of its own: a duplicate vertex."""
    found = []
    for v in vertices:
        f = next(f for f, p in enumerate(part.polygons) if v in p)
        copy = len(part.points)
        part.polygons[f] = [copy if w == v else w for w in part.polygons[f]]
        part.points = np.vstack([part.points, part.points[v]])
        part.colours = None if part.colours is None else np.vstack([part.colours, part.colours[v]])
        found += [int(v), copy]
    return MeshFault("duplicates", part.name, tuple(found), len(vertices))


def loosen(part: RawPart, points: Array) -> MeshFault:
    """Vertices (K, 3) that no face uses."""
    first = len(part.points)
    part.points = np.vstack([part.points, points])
    part.colours = None if part.colours is None else np.vstack([part.colours, np.tile(part.colours[:1], (len(points), 1))])
    return MeshFault("loose", part.name, tuple(range(first, len(part.points))), len(points))


def turn_faces(part: RawPart, faces: Sequence[int]) -> MeshFault:
    for f in faces:
        part.polygons[f] = part.polygons[f][::-1]
    return MeshFault("flipped", part.name, tuple(sorted({v for f in faces for v in part.polygons[f]})), len(faces))


def add_fin(part: RawPart, a: int, b: int) -> MeshFault:
    """A third face on the edge a-b."""
    along = part.points[b] - part.points[a]
    first = len(part.points)
    out = np.array([0.0, 0.3, 0.3])
    part.points = np.vstack([part.points, part.points[b] + out - 0.1 * along, part.points[a] + out + 0.1 * along])
    part.colours = None if part.colours is None else np.vstack([part.colours, part.colours[[b, a]]])
    part.polygons.append([a, b, first, first + 1])
    if part.face_colours is not None:
        part.face_colours = np.vstack([part.face_colours, part.face_colours[-1:]])
    return MeshFault("non_manifold", part.name, (a, b), 1)


def flatten_eye(part: RawPart, side: str, by: float, centre: Array) -> MeshFault:
    """An eyeball pressed flat along the gaze, about its centre: out of round by that share of its radius."""
    part.points = centre + (part.points - centre) * [1, 1, 1 - by]
    return MeshFault(f"eye_round_{side}", part.name, tuple(range(len(part.points))), by * CM_TO_MM * float(np.ptp(part.points[:, 1]) / 2))


def shift_pivot(part: RawPart, side: str, centre: Array, by: Array) -> MeshFault:
    part.pivot = centre + by
    return MeshFault(f"eye_pivot_{side}", part.name, tuple(range(len(part.points))), float(np.linalg.norm(by)) * CM_TO_MM)


def hide_scale(part: RawPart, scale: Sequence[float]) -> MeshFault:
    """The points stay; the file says that a scale put them there."""
    part.transform = np.diag(scale)
    return MeshFault("transforms", part.name, tuple(range(len(part.points))))
