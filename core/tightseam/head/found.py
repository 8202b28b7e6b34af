"""A head as it is found, without landmarks: parts, the one skin, the eyeballs, and the openings of the skin."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.geometry.adjacency import Edges, islands
from tightseam.geometry.form import form_of
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import MIDDLE, Plane
from tightseam.geometry.types import Floats, Ints
from tightseam.head.frame import HeadFrame, find_frame
from tightseam.head.gaze import gaze_of
from tightseam.head.openings import Opening, find_lids, find_lips
from tightseam.head.surface import Surface

EYE_SHARE = (0.02, 0.15)  # radius of an eyeball as a share of the skin's height
MOST_ISLANDS = 400  # of a skin; more is no skin


@dataclass(frozen=True)
class Piece:
    """A part, or one island of it: its own `points` (N, 3) and `polygons`, and which `vertices` of the part they are."""

    part: Part
    vertices: Ints
    points: Floats
    polygons: Polygons

    @cached_property
    def surface(self) -> Surface:
        return Surface(SurfaceMesh(self.points, self.polygons), {})

    @property
    def edges(self) -> Edges:
        return self.surface.mesh.edges


@dataclass(frozen=True)
class Ball:
    """An eyeball: the piece, and the ball that most of it lies on (cm)."""

    piece: Piece
    centre: Floats
    radius: float


class FoundHead:
    """What can be found on a character's meshes. What takes time is made once, when it is first asked for."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.store = store
        self.pieces = [self._whole(p) for p in character.parts]

    @cached_property
    def skin(self) -> Piece | None:
        """The skin: where a part of kind skin holds several islands, the one that spans most."""
        candidates = [p for p in self.pieces if p.part.kind == "skin"]
        if not candidates:
            return None
        piece = max(candidates, key=lambda p: p.part.vertex_count)
        return self._islands(piece)[0]

    @cached_property
    def balls(self) -> dict[str, Ball]:
        """Eyeballs by side, from parts of kind eye or, where there are none, from round islands of the skin's part."""
        pieces = [p for p in self.pieces if p.part.kind == "eye"]
        if not pieces and self.skin is not None:
            whole = next(p for p in self.pieces if p.part is self.skin.part)
            tall = float(np.ptp(self.skin.points[:, 1]))
            pieces = [p for p in self._islands(whole)[1:] if _is_eye(p.points, tall)]
        balls = [Ball(p, *fit_sphere(p.points)) for p in pieces if len(p.points) >= 12]
        if len(balls) < 2:
            return {(b.piece.part.side if b.piece.part.side != "C" else "L"): b for b in balls}
        balls = sorted(balls, key=lambda b: -b.radius)[:2]
        if self.skin is None:
            order = sorted(balls, key=lambda b: b.centre[0])
        else:
            frame = find_frame(self.skin.points, [b.centre for b in balls])
            order = sorted(balls, key=lambda b: float(frame.local(b.centre[None])[0, 0]))
        return {"R": order[0], "L": order[1]}

    @cached_property
    def frame(self) -> HeadFrame | None:
        """How the head stands. How far it nods is told by the eyes or, where no cornea bulges, by the middles of the lids."""
        if self.skin is None:
            return None
        upright = find_frame(self.skin.points, [b.centre for b in self.balls.values()])
        gazes = [gaze_of(b.piece.points, b.piece.polygons, b.centre, b.radius) for b in self.balls.values()]
        seen = [g for g in gazes if g is not None] or self._lid_middles(upright)
        return upright.looking(np.mean(seen, axis=0)) if seen else upright

    @cached_property
    def lids(self) -> dict[str, Opening]:
        if self.skin is None or self.frame is None:
            return {}
        found = {side: find_lids(self.skin.surface, self.frame, b.centre, b.radius) for side, b in self.balls.items()}
        return {side: opening for side, opening in found.items() if opening is not None}

    @cached_property
    def lips(self) -> Opening | None:
        return find_lips(self.skin.surface, self.frame) if self.skin is not None and self.frame is not None else None

    @property
    def plane(self) -> Plane:
        """The plane between left and right; that of the world where no head is found."""
        return MIDDLE if self.frame is None else self.frame.plane

    @property
    def axes(self) -> Floats:
        """The head's left, up and forward, rows (3, 3); those of the world where no head is found."""
        return np.eye(3) if self.frame is None else self.frame.axes

    def _lid_middles(self, frame: HeadFrame) -> list[Floats]:
        """The unit direction from each eye's centre through the middle of its lid margin."""
        assert self.skin is not None
        found = []
        for ball in self.balls.values():
            opening = find_lids(self.skin.surface, frame, ball.centre, ball.radius)
            if opening is not None:
                found.append(unit(unit(self.skin.points[opening.loop] - ball.centre).mean(axis=0)))
        return found

    def _whole(self, part: Part) -> Piece:
        return Piece(part, np.arange(part.vertex_count), np.asarray(self.store.get(part.points)), polygons(self.store, part))

    def _islands(self, piece: Piece) -> list[Piece]:
        """Islands of a piece, the one with the largest bounds first."""
        label = islands(piece.polygons, len(piece.points))
        used = np.zeros(len(piece.points), bool)
        used[piece.polygons.corners] = True
        numbers, counts = np.unique(label[used], return_counts=True)
        if len(numbers) == 1:
            return [piece]
        numbers = numbers[np.argsort(-counts)][:MOST_ISLANDS]
        found = [island_of(piece, label == n) for n in numbers]
        return sorted(found, key=lambda p: -float(np.linalg.norm(np.ptp(p.points, axis=0))))


def island_of(piece: Piece, chosen: np.ndarray) -> Piece:
    """The polygons of a piece whose vertices are `chosen` (N,) bool."""
    index = np.flatnonzero(chosen)
    number = np.full(len(chosen), -1)
    number[index] = np.arange(len(index))
    faces = chosen[piece.polygons.corners[piece.polygons.starts]]
    kept = np.repeat(faces, piece.polygons.sizes)
    inner = Polygons(piece.polygons.sizes[faces], number[piece.polygons.corners[kept]].astype(np.int32))
    return Piece(piece.part, piece.vertices[index], piece.points[index], inner)


def _is_eye(points: Floats, tall: float) -> bool:
    form = form_of(points)
    return len(points) >= 26 and form.roundness < 0.04 and EYE_SHARE[0] < form.radius / max(tall, 1e-9) < EYE_SHARE[1]


@derived("parts")
def found_head(character: Character, store: ArrayStore) -> FoundHead:
    """What is found on the meshes of a character."""
    return FoundHead(character, store)


def plane_of(character: Character, store: ArrayStore) -> Plane:
    """The plane between left and right of a head."""
    return found_head(character, store).plane
