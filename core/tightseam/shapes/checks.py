"""What is wrong with shapes: empty, stray, unlike their twins, leaving parts behind, counted twice with bones."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import cached_property
from typing import Any, Literal

import numpy as np
from scipy.spatial import cKDTree

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels_of, strength_of
from tightseam.document.kept import remembered
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import held_by_lids, points, vertex_set
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Control, Shape
from tightseam.document.part_mesh import part_mesh
from tightseam.document.poses import far_end, rest_values
from tightseam.document.progress import one_by_one
from tightseam.document.sections import MEASURED
from tightseam.document.twins import other_side
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Finding, repair
from tightseam.geometry.types import Ints
from tightseam.head.roots import ROOTS, seen
from tightseam.shapes.offsets import Offsets, offsets_of
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sides import Sides, flipped, sides_of
from tightseam.shapes.strays import STILL, strays
from tightseam.shapes.taken_along import LIES_ON_SKIN

ShapeCheck = Literal["empty", "stray", "twin", "left_behind", "twice", "order"]
TWIN_OFF = 0.02  # cm that twins may differ
BEHIND = 0.05  # cm by which a part may not go along with the skin under it
NEAR_SKIN = 0.6  # cm from the skin that a part lies on it
FEW = 0.03  # of the vertices that touch the skin: so few between two ways of the skin are no part that stays behind
FAR = 0.15  # cm from which even a single one is
HALF = 0.5  # of the skin's way: what is nearest is not quite what a part lies on
ROUND = 6  # vertices of the skin that a part may go along with
STRAY = 0.005  # cm from which a vertex that moves alone is told
LEAST_TWICE = 0.2  # of what bones do that a shape has to do as well
ALIKE = 0.8  # cosine between what a shape and a bone do from which they do the same
HEAD_TURN = 30.0  # degrees by which the head is turned to see what stays behind


@remembered(list[Finding], *MEASURED)
def shape_findings(character: Character, store: ArrayStore) -> list[Finding]:
    """All findings, in the order of the shapes."""
    of = _Checks(character, store)
    shown = [s for s in character.shapes if not s.muted]
    return [*(f for shape in one_by_one(shown, "shape") for f in of.shape(shape)), *of.order()]


class _Checks:
    def __init__(self, character: Character, store: ArrayStore) -> None:
        self._character, self._store = character, store
        self._offsets: dict[str, Offsets] = {s.name: offsets_of(character, store, s) for s in character.shapes}

    def shape(self, shape: Shape) -> Iterator[Finding]:
        offsets = self._offsets[shape.name]
        if max((np.abs(x).max(initial=0) for x in offsets.values()), default=0) < STILL:
            removed = repair("shape.remove", {"names": [shape.name]})
            yield Finding("empty", shape.name, f"{shape.label} is empty", "It moves nothing.", 0.0, repairs=removed)
            return
        yield from self._strays(shape, offsets)
        yield from self._twin(shape, offsets)
        yield from self._left_behind(shape, offsets)
        yield from self._twice(shape, offsets)

    def _strays(self, shape: Shape, offsets: Offsets) -> Iterator[Finding]:
        """Vertices that move alone, with nothing that moves beside them."""
        for part, x in offsets.items():
            alone = strays(self._beside(part), x, STRAY)
            if len(alone) and len(alone) < (np.linalg.norm(x, axis=1) > STILL).sum():
                far = float(np.linalg.norm(x[alone], axis=1).max()) * CM_TO_MM
                text = f"{vertices_said(len(alone))} of {part_label(part)} move by themselves, up to {far:.2f} mm."
                cleaned = repair("shape.clean", {"name": shape.name, "part": part, "vertices": alone.tolist()})
                title, rows = f"{shape.label} moves stray vertices", tuple(alone.tolist())
                yield Finding("stray", shape.name, title, text, far, part=part, vertices=rows, repairs=cleaned)

    def _beside(self, part: str) -> Any:
        return part_mesh(self._store, find_part(self._character, part)).neighbours

    def _twin(self, shape: Shape, offsets: Offsets) -> Iterator[Finding]:
        """A left shape and a right one that are no mirror images; told once, of the right one."""
        twin = other_side(shape.name)
        if twin not in self._offsets or not shape.name.endswith(("R", "r", "ight")):
            return
        image = flipped(self._sides, self._offsets[twin])
        worst, where, off = "", 0, 0.0
        for part in {**image, **offsets}:
            zero = np.zeros((1, 3))
            apart = np.linalg.norm(image.get(part, zero) - offsets.get(part, zero), axis=1)
            apart = np.where(self._sides.of(part).exact, apart, 0.0)
            most = BEHIND if part in self._hair else TWIN_OFF  # hair goes along with the skin, however it grows on each side
            if apart.max() > max(off, most):
                worst, where, off = part, int(apart.argmax()), float(apart.max())
        if worst:
            text = f"It is {CM_TO_MM * off:.2f} mm off the mirror image of {twin} on {part_label(worst)}."
            mirrored, title = repair("shape.flip", {"name": shape.name, "of": twin}), f"{shape.label} is unlike its twin"
            yield Finding("twin", shape.name, title, text, CM_TO_MM * off, part=worst, vertices=(where,), repairs=mirrored)

    @cached_property
    def _sides(self) -> Sides:
        return sides_of(self._character, self._store)

    def _left_behind(self, shape: Shape, offsets: Offsets) -> Iterator[Finding]:
        """Parts on the skin that neither ride on it nor go along."""
        for part, rows, root in self._on_skin:
            skin = offsets.get(self._skin)
            if skin is None:
                continue
            own = offsets.get(part, np.zeros((int(rows.max()) + 1, 3)))[rows]
            # as the nearest of the skin round it that does most nearly the same: over a mouth that opens there are two answers
            apart = np.linalg.norm(skin[root] - own[:, None], axis=2)
            behind, goes = apart.min(axis=1), np.linalg.norm(skin[root], axis=2).min(axis=1)
            left = behind > np.maximum(BEHIND, HALF * goes)
            if left.mean() > FEW or behind[left].max(initial=0.0) > FAR:
                k = np.flatnonzero(left)
                text = f"The skin under {part_label(part)} goes {CM_TO_MM * behind.max():.1f} mm without it."
                title = f"{shape.label} leaves {part_label(part)} behind"
                size, vertices, along = CM_TO_MM * float(behind.max()), tuple(rows[k].tolist()), repair(*self._going_along(shape, part))
                yield Finding("left_behind", shape.name, title, text, size, part=part, vertices=vertices, repairs=along)

    @cached_property
    def _hair(self) -> set[str]:
        return {p.name for p in self._character.parts if p.kind in LIES_ON_SKIN}

    @cached_property
    def _skin(self) -> str:
        return next((p.name for p in self._character.parts if p.kind == "skin"), "")

    @cached_property
    def _on_skin(self) -> list[tuple[str, Ints, Ints]]:
        """Parts that lie on the skin and do not ride on it: which of their vertices (K,), roots where they are known, touch it, and the
        nearest of its own (K, ROUND)."""
        if not self._skin:
            return []
        skin, on = find_part(self._character, self._skin), points(self._character, self._store, self._skin)
        outer = np.unique(seen(part_mesh(self._store, skin).triangles, skin, self._store))
        tree = cKDTree(on[outer])
        found: list[tuple[str, Ints, Ints]] = []
        for part in self._character.parts:
            bound = find_binding(self._character, part.name)
            if part.kind in LIES_ON_SKIN and not (bound and bound.ride):
                own = points(self._character, self._store, part.name)
                rows = vertex_set(self._store, part, ROOTS) if ROOTS in part.sets else np.arange(len(own))
                far, root = tree.query(own[rows], k=ROUND)
                near = far[:, 0] < NEAR_SKIN
                rows, root = rows[near], outer[root[near]]
                if len(rows):
                    found.append((part.name, rows, root))
        return found

    def _going_along(self, shape: Shape, part: str) -> tuple[str, dict[str, Any]]:
        """The edit that makes a part go along: by offsets of its own where other shapes give it some, for lashes that lids hold, and for
        hair of the head, which would be torn as a whole; else by riding."""
        held = held_by_lids(self._character.lids, part) is not None  # it turns with the lids, which it would no longer do as a rider
        if held or find_part(self._character, part).kind == "hair" or any(part in x for x in self._offsets.values()):
            return "shape.take_along", {"name": shape.name, "part": part, "on": self._skin}
        return "binding.ride", {"part": part, "on": self._skin, "by": "vertex"}

    def _twice(self, shape: Shape, offsets: Offsets) -> Iterator[Finding]:
        """Controls that move bones and a shape which does the same over again."""
        for control in self._character.controls:
            if not any((n.kind, n.target) == ("shape", shape.name) for n in control.links) or all(n.kind != "bone" for n in control.links):
                continue
            bones = self._by_bones(control)
            alike, share, size = _alike(offsets, bones)
            if alike > ALIKE and share > LEAST_TWICE:
                text = f"{control.label} turns bones that do {alike:.0%} of the same: up to {size:.1f} mm count twice."
                values = {control.name: far_end(control)}
                out = repair("shape.take_out", {"name": shape.name, "values": values})
                yield Finding("twice", shape.name, f"{shape.label} counts twice", text, size, values=values, repairs=out)

    def order(self) -> Iterator[Finding]:
        """Parts whose shapes come after the bones: they stay behind as the head turns."""
        for binding in self._character.bindings:
            moving = [s for s in self._character.shapes if binding.bones_first and binding.part in self._offsets[s.name]]
            far = [(self._off_the_head(binding.part, s), s) for s in moving if not s.muted]
            if not far:
                continue
            (size, where), shape = max(far, key=lambda x: x[0][0])
            text = f"{shape.label} leaves the head by {size:.1f} mm as it turns by {HEAD_TURN:g}°: bones come before shapes there."
            title = f"{part_label(binding.part)} is deformed in the wrong order"
            ordered = repair("binding.set_order", {"part": binding.part, "first": "shapes"})
            yield Finding("order", shape.name, title, text, size, part=binding.part, vertices=(where,), repairs=ordered)

    def _off_the_head(self, part: str, shape: Shape) -> tuple[float, int]:
        """How far, mm, the shape is from where it should be on a turned head, and the vertex that is farthest."""
        head = next((b for b in self._character.bones if b.name == "head"), None)
        turn = [c for c in channels_of(head) if (c.kind, c.axis) == ("turn", "y")] if head else []
        values = rest_values(self._character) | {strength_of(shape.name): 1.0} | {c.name: min(HEAD_TURN, c.span[1]) for c in turn}
        rows = self._evaluator.meshes.rows(part)
        off = np.linalg.norm(self._evaluator.points(values)[rows] - self._in_order.points(values)[rows], axis=1)
        return CM_TO_MM * float(off.max()), int(off.argmax())

    @cached_property
    def _in_order(self) -> Evaluator:
        bindings = tuple(replace(b, bones_first=False) for b in self._character.bindings)
        return Evaluator(replace(self._character, bindings=bindings), self._store)

    def _by_bones(self, control: Control) -> Offsets:
        values = rest_values(self._character) | {control.name: far_end(control)}
        return BonePose(self._evaluator, self._store, values).baked()

    @cached_property
    def _evaluator(self) -> Evaluator:
        return Evaluator(self._character, self._store)


def _alike(one: Offsets, other: Offsets) -> tuple[float, float, float]:
    """The cosine between two sets of offsets where the first moves anything, how much of the second the first does, and how far it goes,
    mm."""
    parts = [n for n in one if n in other]
    a, b = (np.concatenate([x[n].ravel() for n in parts]) if parts else np.zeros(1) for x in (one, other))
    along, length, whole = float(a @ b), float(np.linalg.norm(a) * np.linalg.norm(b)), float(b @ b)
    size = max(float(np.linalg.norm(x, axis=1).max()) for x in one.values()) * CM_TO_MM
    return (along / length, along / whole, size) if length > 0 else (0.0, 0.0, size)
