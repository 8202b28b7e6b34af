"""A stroke that sculpts a shape on the posed head, dab by dab."""

from __future__ import annotations

from dataclasses import field, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.brush.brush import STRICT, Brush, Place
from tightseam.brush.canvas import Canvas, canvas_of
from tightseam.brush.touch import touched
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document import older
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_shape
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import shape as find_shape
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Part, Shape
from tightseam.document.older import reading
from tightseam.geometry.normals import unit
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.shapes.offsets import deltas_of, offsets_of
from tightseam.shapes.unposing import Unposing

SculptTool = Literal["move", "swell", "sink", "smooth", "flatten", "erase"]
SWELL = 0.06  # of the radius that a full dab goes along the normals
WEAKEST = 0.05  # strength of a shape below which a movement of it can hardly be seen
MISSED = 0.005  # cm from which what could not be reached is told


@dataclass(frozen=True, config=STRICT)
class SculptDab:
    """One touch: where on the posed surface (cm), the vertex nearest to it, from where it was seen, how hard, and with which tool. To
    `move` the first takes hold, and the places of those that follow say where it is dragged."""

    vertex: Annotated[int, Field(ge=0)]
    place: Place
    tool: Annotated[SculptTool, reading(older.SCULPT_TOOLS)]
    eye: Place | None = None
    pressure: Annotated[float, Field(gt=0, le=1)] = 1.0


@dataclass(frozen=True, config=STRICT)
class Sculpting:
    """What a stroke sculpts: a part in a shape, on the head posed by `values`. `only` limits it to some vertices; with `mirror` the other
    side gets the mirror image."""

    shape: str
    part: str
    brush: Brush
    values: Annotated[dict[str, float], Field(max_length=5000)] = field(default_factory=dict)
    only: Annotated[list[int], Field(max_length=2_000_000)] | None = None
    mirror: bool = False


class SculptStroke:
    """What is seen is what is sculpted: dabs move the posed surface, and the shape gets what brings it there, through whatever poses it.

    The same dabs give the same shape to the bit. BadRequest where the shape is at rest or muted, or a part or vertex is not there.
    """

    NOTHING = "The brush moved nothing that may be sculpted."

    def __init__(self, character: Character, store: ArrayStore, sculpting: Sculpting) -> None:
        evaluator = Evaluator(character, store)
        values = checked_values(character, sculpting.values, overdrive=True)
        self._shape, self.part = find_shape(character, sculpting.shape), find_part(character, sculpting.part)
        self._strength = _strength(evaluator, character, self._shape.name, values)
        _check_free(evaluator, self._shape, self.part, values)
        self._canvas, self._sculpting = canvas_of(character, store, self.part), sculpting
        self._reaching = self._canvas.reach()
        self._free: Bools = np.ones(self.part.vertex_count, bool) if sculpting.only is None else vertex_mask(self.part, sculpting.only)
        self._offsets = offsets_of(character, store, self._shape)
        self._before = self._offsets.get(self.part.name, np.zeros((self.part.vertex_count, 3)))
        rows = evaluator.meshes.rows(self.part.name)
        self._solver = Unposing(evaluator, rows, values)
        self._start = self._solver.shaped.copy()
        self._mirror = _mirror_of(self._canvas, evaluator, values)
        self._held: tuple[Ints, Floats, Floats, Floats] | None = None
        self.missed = 0.0

    @property
    def posed(self) -> Floats:
        """The points (N, 3) of the part as they are posed now."""
        return self._solver.posed

    def seen(self) -> Floats:
        """The points (N, 3) of all parts as they will be once the stroke is stored."""
        return self._solver.whole()

    def dab(self, dab: SculptDab) -> Ints:
        """Sculpt one dab; the vertices (K,), sorted, that it moved."""
        if dab.vertex >= self.part.vertex_count:
            raise BadRequest(f"{part_label(self.part.name)} has vertices 0 to {self.part.vertex_count - 1}; {dab.vertex} is out of range.")
        if dab.tool == "move":
            return self._moved(dab)
        self._held = None
        near, amount = self._touched(dab)
        changed = self._worked(near, amount, dab.tool)
        if self._sculpting.mirror and len(near):
            changed = np.union1d(changed, self._worked(*self._image(near, amount), dab.tool))
        return changed

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with what was sculpted."""
        return with_shape(character, replace(self._shape, deltas=deltas_of(store, self._offsets | {self.part.name: self._now})))

    def shown(self, vertices: Ints) -> tuple[Floats, Floats]:
        """How far the shape moves vertices, (K,), in parts of the farthest, and ones."""
        far = np.linalg.norm(self._now, axis=1)
        return far[vertices] / max(float(far.max(initial=0)), 1e-9), np.ones(len(vertices))

    def normals(self, points: Floats, vertices: Ints) -> Floats:
        """Normals (K, 3) of vertices of the part at `points` (N, 3), not of length one."""
        return self._canvas.normals(points, vertices)

    @property
    def _now(self) -> Floats:
        """What the shape does to the part now, (N, 3) cm."""
        return self._before + (self._solver.shaped - self._start) / self._strength

    def _touched(self, dab: SculptDab) -> tuple[Ints, Floats]:
        brush = replace(self._sculpting.brush, strength=1.0) if dab.tool == "move" else self._sculpting.brush
        near, amount = touched(brush, self._canvas, self._reaching, self.posed, dab)
        free = self._free[near]
        return near[free], amount[free]

    def _moved(self, dab: SculptDab) -> Ints:
        place = np.array(dab.place)
        if self._held is None:
            near, amount = self._touched(dab)
            self._held = near, amount, self.posed.copy(), place
            return near[:0]
        near, amount, start, first = self._held
        by = place - first
        wanted = start[near] + amount[:, None] * by
        if self._sculpting.mirror:
            image, share = self._image(near, amount)
            other = start[image] + share[:, None] * (self._mirror @ by)
            both = np.isin(image, near)  # under both brushes, in the middle, the two halves of what they do
            at = np.searchsorted(near, image[both])
            wanted[at] = (wanted[at] + other[both]) / 2
            near, wanted = np.concatenate([near, image[~both]]), np.concatenate([wanted, other[~both]])
        self._reach(near, wanted)
        return np.sort(near)

    def _worked(self, near: Ints, amount: Floats, tool: SculptTool) -> Ints:
        if not len(near):
            return near
        now = self.posed[near]
        if tool == "erase":  # what is wanted is the neutral, not a place in the pose
            self._solver.move_shaped(near, -amount[:, None] * self._now[near] * self._strength)
            return near
        if tool == "smooth":
            wanted = now + amount[:, None] * (self._canvas.mesh.average[near] @ self.posed - now)
        elif tool == "flatten":
            wanted = now + amount[:, None] * _to_plane(now, amount)
        else:
            along = unit(self.normals(self.posed, near)) * (SWELL if tool == "swell" else -SWELL) * self._sculpting.brush.radius
            wanted = now + amount[:, None] * along
        self._reach(near, wanted)
        return near

    def _reach(self, near: Ints, wanted: Floats) -> None:
        left = self._solver.reach(near, wanted)
        worst = float(left.max(initial=0))
        self.missed = max(self.missed, worst) if worst > MISSED else self.missed

    def _image(self, near: Ints, amount: Floats) -> tuple[Ints, Floats]:
        """The mirror images (K,) of vertices, sorted, as far as there are any that may be sculpted, with the same amounts."""
        image, share = self._canvas.mirrored(near, amount)
        free = self._free[image]
        return image[free], share[free]


def _strength(evaluator: Evaluator, character: Character, name: str, values: dict[str, float]) -> float:
    """The strength of a shape in a pose; BadRequest where it cannot be seen."""
    shape = find_shape(character, name)
    if shape.muted:
        raise BadRequest(f"{shape.label} is muted. Unmute it to sculpt on it.")
    found = float(evaluator.rig.strengths(values)[evaluator.rig.shapes.names.index(name)])
    if abs(found) < WEAKEST:
        raise BadRequest(f"{shape.label} is at {found:.0%} here, so nothing done to it would show. Turn it up, then sculpt on it.")
    return found


def _check_free(evaluator: Evaluator, shape: Shape, part: Part, values: dict[str, float]) -> None:
    """BadRequest where caps hold the part back in a pose: what is sculpted there would come out otherwise. Correctives come on top."""
    held = evaluator.held_by_caps(values)
    if shape.activation is None and held is not None and held[evaluator.meshes.rows(part.name)].any():
        raise BadRequest(
            f"Caps hold {part_label(part.name)} back in this pose, so {shape.label} would not come out as it is sculpted. Sculpt it by "
            "itself, or make a corrective for this pose."
        )


def _mirror_of(canvas: Canvas, evaluator: Evaluator, values: dict[str, float]) -> Floats:
    """What mirrors directions (3, 3) on the posed head: about the plane of the neutral, turned with the head."""
    n = canvas.plane.normal
    turn = np.linalg.inv(evaluator.to_head(evaluator.matrices(values)))[:3, :3]
    return np.asarray(turn @ (np.eye(3) - 2 * np.outer(n, n)) @ turn.T)


def _to_plane(points: Floats, amount: Floats) -> Floats:
    """What brings points (K, 3) to the plane that fits them best, by their amounts (K,)."""
    middle = np.average(points, axis=0, weights=amount)
    away = points - middle
    normal = np.linalg.eigh((away * amount[:, None]).T @ away)[1][:, 0]
    return np.asarray(-(away @ normal)[:, None] * normal)
