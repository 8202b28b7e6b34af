"""Detail levels of a package: fewer influences, bones, shapes and vertices, with the error of each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from tightseam.bake.errors import random_values
from tightseam.bake.fitted import Fitted
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.change_bones import with_bones
from tightseam.document.lookup import binding as find_binding
from tightseam.document.make import dense_weights, make_influences
from tightseam.document.model import Character, PartDelta
from tightseam.document.poses import pose_values
from tightseam.document.removal import without
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.distance import closest_points
from tightseam.geometry.types import Floats
from tightseam.handoff.profile import Level
from tightseam.packing.thinned import thinned
from tightseam.weights.change import at_most

ROUNDS = 8  # of thinning
SAMPLES = 30  # random poses beside those of the strip


@dataclass(frozen=True)
class Loss:
    """What one step towards a level took away, and by how many `mm` a vertex is farther off for it, at most over the poses."""

    what: str
    mm: float


@dataclass(frozen=True)
class MadeLevel:
    """A level: its character, the values that pose it in each pose of the strip, and what each step lost."""

    label: str
    character: Character
    values: list[dict[str, float]]
    lost: list[Loss]

    def counts(self) -> dict[str, int]:
        """What is left in it."""
        bones = sum(b.role == "deform" for b in self.character.bones)
        return {"vertices": count_of(self.character), "bones": bones, "shapes": len(self.character.shapes)}

    def lost_by(self) -> dict[str, float]:
        """By what each step took away, how many mm it is off for it."""
        return {loss.what: loss.mm for loss in self.lost}


def make_level(held: Fitted, store: ArrayStore, level: Level) -> MadeLevel:
    """What is left of a character for a level: first shapes go that move least, then bones that carry least, then influences, then
    vertices, until it is kept. Steps that take nothing away are not told."""
    true = held.true.character
    strip = [held.values(pose_values(true, p)) for p in true.poses]
    tried = [*strip, *(held.values(v) for v in random_values(true, {c.name for c in true.controls}, SAMPLES))]
    now, lost = held.baked.character, []
    steps: tuple[tuple[str, Callable[[Character], Character]], ...] = (
        ("shapes", lambda c: _few_shapes(c, store, tried, level.shapes)),
        ("bones", lambda c: _few_bones(c, store, tried, level.bones)),
        ("influences", lambda c: _few_influences(c, store, level.influences)),
        ("vertices", lambda c: _few_vertices(c, store, level.vertices)),
    )
    for what, step in steps:
        changed = step(now)
        if changed is not now:
            lost.append(Loss(what, CM_TO_MM * _apart(now, changed, store, tried)))
            now = changed
    return MadeLevel(level.label, now, strip, lost)


def _few_shapes(character: Character, store: ArrayStore, tried: list[dict[str, float]], most: int | None) -> Character:
    if most is None or len(character.shapes) <= most:
        return character
    evaluator = Evaluator(character, store)
    reach = np.max([np.abs(evaluator.rig.strengths(values)) for values in tried], axis=0)
    far = np.array([max((_farthest(store, d) for d in s.deltas), default=0.0) for s in character.shapes])
    kept = set(np.argsort(-reach * far, kind="stable")[:most].tolist())
    return without(character, "shape", {s.name for k, s in enumerate(character.shapes) if k not in kept})


def _farthest(store: ArrayStore, delta: PartDelta) -> float:
    return float(np.linalg.norm(np.asarray(store.get(delta.offsets)), axis=1).max(initial=0))


def _few_bones(character: Character, store: ArrayStore, tried: list[dict[str, float]], most: int | None) -> Character:
    """Those go first that bring what hangs on them least far from where the bone above them would: it is merged into that. A helper that
    inherits weights deforms from then on."""
    carrying = {k for k, b in enumerate(character.bones) if b.role == "deform"}
    if most is None or len(carrying) <= most:
        return character
    evaluator = Evaluator(character, store)
    parents = evaluator.skeleton.parents.tolist()
    far = _own_way(evaluator, store, tried)
    gone: set[int] = set()
    for k in sorted((k for k, above in enumerate(parents) if above >= 0), key=lambda k: float(far[k])):
        if len(carrying) <= most:
            break
        gone.add(k)
        heir = parents[k]
        while heir in gone:
            heir = parents[heir]
        carrying = (carrying - {k}) | ({heir} if k in carrying else set())
    kept = [replace(b, role="deform") if k in carrying else b for k, b in enumerate(character.bones) if k not in gone]
    return with_bones(character, kept, store)


def _own_way(evaluator: Evaluator, store: ArrayStore, tried: list[dict[str, float]]) -> Floats:
    """How far, in cm, the own movement of each bone brings what it and all below it carry, at most (B,)."""
    bones, parents = evaluator.character.bones, evaluator.skeleton.parents
    points = evaluator.meshes.rest.astype(float)
    weights = np.zeros((len(points), len(bones)))
    for bound in evaluator.character.bindings:
        rows = evaluator.meshes.rows(bound.part)
        weights[rows] = dense_weights(store, bound.influences, [b.name for b in bones], rows.stop - rows.start)
    for k in range(len(bones) - 1, -1, -1):  # parents stand before children
        if parents[k] >= 0:
            weights[:, parents[k]] += weights[:, k]
    far = np.zeros(len(bones))
    carried = [np.flatnonzero(own) for own in weights.T]
    for values in tried:
        matrices = evaluator.matrices(values)
        for k, above in enumerate(parents.tolist()):
            if above >= 0 and len(carried[k]):
                apart = matrices[k] - matrices[above]
                moved = points[carried[k]] @ apart[:3, :3].T + apart[:3, 3]
                far[k] = max(far[k], float((weights[carried[k], k] * np.linalg.norm(moved, axis=1)).max()))
    return far


def _few_influences(character: Character, store: ArrayStore, most: int | None) -> Character:
    if most is None:
        return character
    names = [b.name for b in character.bones]
    changed = character
    for part in character.parts:
        bound = find_binding(character, part.name)
        if bound is None:
            continue
        weights = dense_weights(store, bound.influences, names, part.vertex_count)
        few = at_most(weights, most)
        if few is not weights:
            changed = with_binding(changed, replace(bound, influences=make_influences(store, names, few)))
    return changed


def _few_vertices(character: Character, store: ArrayStore, most: int | None) -> Character:
    """Open rims keep more vertices than their share: it is made smaller until all of them together are few enough, or no fewer come."""
    whole = count_of(character)
    if most is None or whole <= most:
        return character
    share, found = most / whole, character
    for _ in range(ROUNDS):
        found = thinned(character, store, share)
        if count_of(found) <= most:
            break
        share *= most / count_of(found)
    return found


def count_of(character: Character) -> int:
    """Vertices of all parts."""
    return sum(p.vertex_count for p in character.parts)


def _apart(one: Character, other: Character, store: ArrayStore, tried: list[dict[str, float]]) -> float:
    """How far any vertex of one is from where the other has it, or where that is of fewer vertices from its surface, cm."""
    first, second = Evaluator(one, store), Evaluator(other, store)
    return max(_off(first, first.points(v), second, second.points(v)) for v in tried)


def _off(one: Evaluator, points: Floats, other: Evaluator, there: Floats) -> float:
    if len(points) == len(there):
        return float(np.linalg.norm(points - there, axis=1).max(initial=0))
    far = 0.0
    for name, triangles in zip(other.meshes.names, other.meshes.part_triangles, strict=True):
        apart, *_ = closest_points(points[one.meshes.rows(name)], there[other.meshes.rows(name)], triangles)
        far = max(far, float(apart.max(initial=0)))
    return far
