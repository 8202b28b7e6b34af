"""A small drawing of a place on a head, as SVG: shaded faces seen from in front of the fault, its vertices marked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import polygons
from tightseam.document.model import Part
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints

SIZE = 460  # pixels
LEAST_REACH = 1.2  # cm shown to each side of the middle
MOST_FACES = 6000
WHOLE = 6.0  # cm of reach from where only the skin is drawn beside what is meant
MOST_DOTS = 350
MARGIN = 1.5  # of the fault's own reach
BONE, WOOL = (240, 234, 216), (190, 186, 176)
TINTS = {
    "skin": (226, 196, 174), "eye": (236, 234, 228), "teeth upper": BONE, "teeth lower": BONE, "tongue": (201, 122, 120),
    "brow": (120, 92, 74), "lash": (70, 60, 56), "hair": (150, 112, 84), "whiskers": (206, 202, 196), 
    "cloth": WOOL, "body": WOOL, "other": WOOL,
}  # fmt: skip
FAULT_TINT = (206, 108, 92)
LIGHT = unit(np.array([-0.35, 0.55, 0.75]))


def place_picture(parts: Sequence[Part], store: ArrayStore, points: Mapping[str, Floats], places: Mapping[str, Ints]) -> str | None:
    """An SVG of the places (part -> vertices), with each part at its `points` (N, 3); None where there are none."""
    named = {p.name: p for p in parts}
    places = {name: vertices for name, vertices in places.items() if name in named}
    if not places:
        return None
    name = next(iter(places))
    marked = points[name][places[name]]
    middle = (marked.min(axis=0) + marked.max(axis=0)) / 2
    reach = max(MARGIN * float(np.linalg.norm(marked - middle, axis=1).max(initial=0.0)), LEAST_REACH)
    faces = polygons(store, named[name])
    touched = np.unique(faces.face_of_corner[np.isin(faces.corners, places[name])])
    view = _view(polygon_normals(points[name], faces)[touched])
    return _Drawing(middle, reach, view).draw(parts, points, places, store)


def polygon_normals(points: Floats, faces: Polygons) -> Floats:
    """Unit normal of each polygon, (F, 3), from its vector area."""
    spokes = np.cross(points[faces.corners], points[faces.corners[faces.next_corner]])
    return unit(np.stack([np.bincount(faces.face_of_corner, spokes[:, k], len(faces)) for k in range(3)], axis=1))


def _view(normals: Floats) -> Floats:
    """Rows right, up, towards the viewer: straight onto faces with these normals (K, 3) where they look one way, else the front."""
    mean = normals.mean(axis=0) if len(normals) else np.zeros(3)
    towards = unit(mean) if np.linalg.norm(mean) > 0.35 else np.array([0.0, 0.0, 1.0])
    if abs(towards[1]) > 0.9:
        towards = unit(towards + np.array([0.0, 0.0, 0.4]))
    right = unit(np.cross([0.0, 1.0, 0.0], towards))
    return np.stack([right, np.cross(towards, right), towards])


class _Drawing:
    def __init__(self, middle: Floats, reach: float, view: Floats) -> None:
        self._middle, self._reach, self._view = middle, reach, view

    def draw(self, parts: Sequence[Part], points: Mapping[str, Floats], places: Mapping[str, Ints], store: ArrayStore) -> str:
        shapes: list[tuple[float, str]] = []
        dots: list[str] = []
        for part in parts:
            if part.name not in places and (part.kind in ("hair", "whiskers") or (self._reach > WHOLE and part.kind != "skin")):
                continue  # would hide what is meant, or be too small to see
            seen = self._seen(points[part.name])
            normals = polygon_normals(points[part.name], polygons(store, part))
            shapes += self._faces(part, store, seen, normals, places.get(part.name))
            if part.name in places and len(places[part.name]) <= MOST_DOTS:
                dots += [f'<circle cx="{x:.1f}" cy="{y:.1f}" r="3.2"/>' for x, y in seen[places[part.name], :2]]
        shapes = sorted(shapes, key=lambda s: s[0])[-MOST_FACES:]
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {SIZE} {SIZE}" width="{SIZE}" height="{SIZE}" role="img">'
            f'<rect width="{SIZE}" height="{SIZE}" fill="#E9E0D0"/>'
            f'<g stroke="#6b5a4c" stroke-width="0.6" stroke-linejoin="round">{"".join(s for _, s in shapes)}</g>'
            f'<g fill="#A63A2C" stroke="#FFFCF6" stroke-width="1">{"".join(dots)}</g>{self._ruler()}</svg>'
        )

    def _seen(self, points: Floats) -> Floats:
        """Pixels across and down, and depth towards the viewer in cm, (N, 3)."""
        local = (points - self._middle) @ self._view.T
        scale = SIZE / 2 / self._reach
        return np.stack([SIZE / 2 + local[:, 0] * scale, SIZE / 2 - local[:, 1] * scale, local[:, 2]], axis=1)

    def _faces(self, part: Part, store: ArrayStore, seen: Floats, normals: Floats, marked: Ints | None) -> list[tuple[float, str]]:
        faces = polygons(store, part)
        face = faces.face_of_corner
        middle = np.stack([np.bincount(face, seen[faces.corners, k], len(faces)) for k in range(3)], axis=1) / faces.sizes[:, None]
        shown = (normals @ self._view[2] > 0.02) & (np.abs(middle[:, :2] - SIZE / 2) < 0.62 * SIZE).all(axis=1)
        bright = 0.62 + 0.38 * np.clip(normals @ (self._view.T @ LIGHT), 0, 1)
        wrong = np.zeros(len(faces), bool)
        if marked is not None and len(marked) < 0.8 * part.vertex_count:
            wrong = np.bincount(face, np.isin(faces.corners, marked), len(faces)) == faces.sizes
        lists = faces.lists()
        found = []
        for f in np.flatnonzero(shown):
            tint = FAULT_TINT if wrong[f] else TINTS.get(part.kind, TINTS["other"])
            colour = "#" + "".join(f"{int(c * bright[f]):02x}" for c in tint)
            corners = " ".join(f"{x:.1f},{y:.1f}" for x, y in seen[lists[f], :2])
            found.append((float(middle[f, 2]), f'<polygon points="{corners}" fill="{colour}"/>'))
        return found

    def _ruler(self) -> str:
        """A bar of a round number of millimetres."""
        length = next(mm for mm in (1, 2, 5, 10, 20, 50, 100, 200) if mm / CM_TO_MM > 0.3 * self._reach or mm == 200)
        pixels = length / CM_TO_MM * SIZE / 2 / self._reach
        y = SIZE - 16
        return (
            f'<path d="M14 {y - 4}v8M14 {y}h{pixels:.1f}m0 -4v8" stroke="#22302E" fill="none"/>'
            f'<text x="{20 + pixels:.0f}" y="{y + 4}" font-family="monospace" font-size="12" fill="#22302E">{length} mm</text>'
        )
