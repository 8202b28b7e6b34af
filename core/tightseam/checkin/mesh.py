"""Checks of each mesh by itself: what no later station can work with."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from tightseam.checkin.check import Check, Patch, count, place
from tightseam.checkin.subject import Subject
from tightseam.document.labels import part_label
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Repair
from tightseam.geometry.adjacency import unique_pairs
from tightseam.geometry.areas import polygon_areas
from tightseam.geometry.distinct import Distinct
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.found import Piece

NO_AREA = 1e-7  # of the part's mean edge length squared
MOST_PAIRS = 20  # a vertex: a head in a unit far too small lies all on one heap, and has more pairs than memory holds
FLAT = 0.002  # of its bounds' volume: an open sheet that encloses less has no inside


def mesh_checks(subject: Subject) -> Iterator[Check]:
    yield _gathered(
        subject, "non_manifold", "Edges with more than two faces", "edge", lambda p: p.edges.ends[p.edges.uses > 2],
        "Weights and smoothing need a surface with two sides; where three faces share an edge there is none.",
        "Delete the inner face, or detach one sheet.",
    )  # fmt: skip
    yield _gathered(
        subject, "loose", "Vertices without a face", "vertex", lambda p: _loose(p)[:, None],
        "Loose vertices take weights, spoil bounds and symmetry, and cannot be seen.",
        "Remove them; the source map keeps later files in the modeller's order fitting.",
        lambda part: Repair(f"Remove loose vertices of {part_label(part)}", "mesh.remove_loose", {"part": part}),
    )  # fmt: skip
    within = subject.limits["duplicates"]
    yield _gathered(
        subject, "duplicates", "Vertices on top of each other", "pair", lambda p: _duplicates(p.points, within / CM_TO_MM),
        "The surface is cut open there: the two copies part as soon as their weights differ.",
        "Weld them. If the cut is meant (a hard edge), say so: mark it as intended.",
        lambda part: Repair(f"Weld duplicates of {part_label(part)}", "mesh.weld", {"part": part, "tolerance_mm": within}),
        limits=("duplicates",),
    )  # fmt: skip
    yield _gathered(
        subject, "zero_area", "Faces without area", "face", lambda p: _corners(p, _without_area(p)),
        "A face without area has no normal: smoothing and contact divide by nothing there.",
        "Collapse it, or weld its corners.",
    )  # fmt: skip
    yield _gathered(
        subject, "flipped", "Faces turned inside out", "face", lambda p: _corners(p, flipped_faces(p)),
        "A face that looks the other way is drawn black or not at all, and overlap is measured with the wrong sign.",
        "Flip them; a whole part inside out often comes from a negative scale.",
        lambda part: Repair(f"Turn faces of {part_label(part)} the right way", "mesh.turn_faces", {"part": part}),
    )  # fmt: skip


def _gathered(
    subject: Subject,
    key: str,
    label: str,
    noun: str,
    find: Callable[[Piece], Ints | list[Ints]],
    why: str,
    what: str,
    repair: Callable[[str], Repair] | None = None,
    limits: tuple[str, ...] = (),
) -> Check:
    """One check over all parts; `find` gives a row of vertices for each thing wrong."""
    places: list[Patch] = []
    total = 0
    for piece in subject.pieces:
        rows = find(piece)
        total += len(rows)
        if len(rows):
            places += place(piece.part.name, np.concatenate([np.ravel(r) for r in rows]))
    verdict = "fault" if total else "fine"
    plural = "vertices" if noun == "vertex" else noun + "s"
    where = f" on {', '.join(part_label(p.part) for p in places[:3])}{' …' if len(places) > 3 else ''}" if places else ""
    said = count(total, noun, plural) + where if total else "none"
    repairs = tuple(repair(p.part) for p in places) if repair else ()
    return Check(key, label, "mesh", verdict, said, why, what, limits, tuple(places), repairs=repairs)  # type: ignore[arg-type]


def _loose(piece: Piece) -> Ints:
    used = np.zeros(len(piece.points), bool)
    used[piece.polygons.corners] = True
    return np.flatnonzero(~used)


def _duplicates(points: Floats, tolerance: float) -> Ints:
    """Pairs (K, 2) of vertices within `tolerance` cm. Of those at one place each with the first; where hundreds lie on one heap, each
    with its nearest alone."""
    apart = Distinct.of(points)
    own = np.arange(len(points))
    same = np.stack([apart.first[apart.place], own], axis=1)[apart.first[apart.place] != own]
    return np.concatenate([same, apart.first[_near(apart.places, max(tolerance, 1e-12))]])


def _near(places: Floats, within: float) -> Ints:
    tree = cKDTree(places)
    pairs = (int(tree.count_neighbors(tree, within)) - len(places)) // 2
    if pairs <= MOST_PAIRS * len(places):
        return np.asarray(tree.query_pairs(within, output_type="ndarray"))
    distance, nearest = tree.query(places, 2, distance_upper_bound=within)
    some = np.flatnonzero(np.isfinite(distance[:, 1]))
    return unique_pairs(np.stack([some, nearest[some, 1]], axis=1), len(places))


def _corners(piece: Piece, faces: Ints) -> list[Ints]:
    starts, sizes = piece.polygons.starts, piece.polygons.sizes
    return [piece.polygons.corners[starts[f] : starts[f] + sizes[f]] for f in faces]


def _without_area(piece: Piece) -> Ints:
    mean = float(np.linalg.norm(np.diff(piece.points[piece.edges.ends], axis=1)[:, 0], axis=1).mean()) if len(piece.edges.ends) else 0.0
    return np.flatnonzero(polygon_areas(piece.points, piece.polygons) <= NO_AREA * mean**2)


def flipped_faces(piece: Piece) -> Ints:
    """Faces whose winding disagrees with the larger part of their island, and all faces of islands that are inside out."""
    polygons = piece.polygons
    n = len(polygons)
    face, edge = polygons.face_of_corner, piece.edges.of_corner
    forward = polygons.corners < polygons.corners[polygons.next_corner]
    order = np.argsort(edge, kind="stable")
    first = np.concatenate([[0], np.cumsum(piece.edges.uses)[:-1]])
    manifold = piece.edges.uses == 2
    a, b = order[first[manifold]], order[first[manifold] + 1]
    agree = forward[a] != forward[b]
    sheet = _components(n, face[a[agree]], face[b[agree]])
    island = _components(n, face[a], face[b])
    area = polygon_areas(piece.points, piece.polygons)
    turned = _turned_sheets(sheet, face[a[~agree]], face[b[~agree]], area)
    volume = _volumes(piece, island, turned)
    return np.flatnonzero(turned ^ (volume[island] < 0))


def _components(n: int, a: Ints, b: Ints) -> Ints:
    graph = coo_matrix((np.ones(len(a)), (a, b)), shape=(n, n))
    return np.asarray(connected_components(graph, directed=False)[1])


def _turned_sheets(sheet: Ints, a: Ints, b: Ints, area: Floats) -> Bools:
    """Per face: does its sheet lie against the largest sheet of its island?"""
    count_ = int(sheet.max(initial=-1)) + 1
    size = np.bincount(sheet, area, count_)
    beside: dict[int, set[int]] = {}
    for s, t in zip(sheet[a].tolist(), sheet[b].tolist(), strict=True):
        beside.setdefault(s, set()).add(t)
        beside.setdefault(t, set()).add(s)
    turned = np.zeros(count_, bool)
    seen = np.zeros(count_, bool)
    for start in sorted(beside, key=lambda s: -size[s]):
        if seen[start]:
            continue
        seen[start] = True
        stack = [start]
        while stack:
            here = stack.pop()
            for other in beside[here]:
                if not seen[other]:
                    seen[other], turned[other] = True, not turned[here]
                    stack.append(other)
    return turned[sheet]


def _volumes(piece: Piece, island: Ints, turned: Bools) -> Floats:
    """Signed volume of each island about its own middle, as far as it encloses any; else 0."""
    points, polygons = piece.points, piece.polygons
    of_corner = island[polygons.face_of_corner]
    number = int(island.max(initial=-1)) + 1
    held = np.bincount(of_corner, minlength=number)
    centre = (
        np.stack([np.bincount(of_corner, points[polygons.corners, k], number) for k in range(3)], axis=1) / np.maximum(held, 1)[:, None]
    )
    here = points[polygons.corners] - centre[of_corner]
    there = points[polygons.corners[polygons.next_corner]] - centre[of_corner]
    face = polygons.face_of_corner
    middle = np.stack([np.bincount(face, here[:, k], len(polygons)) for k in range(3)], axis=1) / polygons.sizes[:, None]
    six = (middle[face] * np.cross(here, there)).sum(axis=1) * np.where(turned[face], -1.0, 1.0)
    volume = np.bincount(of_corner, six, number) / 6
    reach = np.sqrt(np.bincount(of_corner, (here**2).sum(axis=1), number) / np.maximum(held, 1))
    return np.where(np.abs(volume) > FLAT * reach**3, volume, 0.0)
