"""The heads that are measured: clean Maren with the skin subdivided, given 70 bones, 8 influences and 80 sparse shapes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from scipy.spatial import cKDTree
from tightseam.demo.build import build_head
from tightseam.demo.cast import raw_parts
from tightseam.demo.presets import MAREN
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import polygons
from tightseam.document.make import make_delta, make_influences, make_part
from tightseam.document.mix_model import MixRules
from tightseam.document.model import Binding, Bone, Character, Control, Link, Part, Shape
from tightseam.first_rig import first_rig
from tightseam.geometry.subdivide import catmull_clark

BONES, INFLUENCES, SHAPES, ACTIVE = 70, 8, 80, 20
SHAPE_REACH = 4.6  # cm, about a seventh of the vertices


def clean_maren(store: MemoryStore) -> Character:
    raw = build_head(MAREN)
    return first_rig("Maren", "bench", raw_parts(raw, store), raw.landmarks, store)


def heavy_head(maren: Character, store: MemoryStore, steps: int) -> Character:
    """Maren with the skin subdivided `steps` times (1: 13,285 vertices, 2: 52,945) and a heavy rig; all other parts as they are."""
    rng = np.random.default_rng(70)
    parts = tuple(_subdivided(p, store, steps) if p.kind == "skin" else p for p in maren.parts)
    points = {p.name: np.asarray(store.get(p.points)) for p in parts}
    cloud = np.concatenate(list(points.values()))
    seats = cloud[rng.choice(len(cloud), BONES, replace=False)]
    bones = tuple(_bone(k, seat) for k, seat in enumerate(seats))
    shapes = tuple(_shape(k, cloud[rng.integers(len(cloud))], points, store, rng) for k in range(SHAPES))
    controls = tuple(Control(f"c{k}", f"C{k}", 0, 1, 0, (Link("shape", f"s{k}", 1),)) for k in range(SHAPES))
    turns = tuple(Control(f"t{k}", f"T{k}", -30, 30, 0, (Link("bone", f"b{k}", 1, "x"),)) for k in range(BONES))
    return replace(
        maren, parts=parts, bones=bones, bindings=tuple(_binding(n, x, seats, store) for n, x in points.items()),
        shapes=shapes, controls=controls + turns, eye_reliefs=(), lids=(), lips=(), seams=(), poses=(), mix=MixRules(),
    )  # fmt: skip


def posed_values(seed: int) -> dict[str, float]:
    """Twenty shapes and all bones somewhere."""
    rng = np.random.default_rng(seed)
    values = {f"c{k}": float(rng.uniform(0.2, 1)) for k in range(0, SHAPES, SHAPES // ACTIVE)}
    return values | {f"t{k}": float(rng.uniform(-10, 10)) for k in range(BONES)}


def _subdivided(part: Part, store: MemoryStore, steps: int) -> Part:
    points, faces = np.asarray(store.get(part.points)), polygons(store, part)
    for _ in range(steps):
        matrix, faces = catmull_clark(faces, len(points))
        points = matrix @ points
    return make_part(store, part.name, part.kind, points, faces)


def _bone(k: int, seat: np.ndarray) -> Bone:
    head = tuple(float(x) for x in seat)
    return Bone(f"b{k}", f"B{k}", None if k == 0 else f"b{(k - 1) // 3}", head, (head[0], head[1] + 1, head[2]))  # type: ignore[arg-type]


def _binding(name: str, points: np.ndarray, seats: np.ndarray, store: MemoryStore) -> Binding:
    distance, near = cKDTree(seats).query(points, INFLUENCES)
    share = 1 / (distance + 0.5) ** 2
    weights = np.zeros((len(points), BONES))
    np.put_along_axis(weights, near, share / share.sum(axis=1, keepdims=True), axis=1)
    return Binding(name, "weighted", make_influences(store, [f"b{k}" for k in range(BONES)], weights))


def _shape(k: int, seat: np.ndarray, points: dict[str, np.ndarray], store: MemoryStore, rng: np.random.Generator) -> Shape:
    deltas = []
    for name, x in points.items():
        near = np.maximum(0, 1 - np.linalg.norm(x - seat, axis=1) / SHAPE_REACH)
        deltas.append(make_delta(store, name, near[:, None] ** 2 * rng.normal(size=3)))
    return Shape(f"s{k}", f"S{k}", tuple(d for d in deltas if d is not None))
