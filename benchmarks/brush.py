"""Dabs of the brush: distance along the surface against libigl's heat method, and a whole dab with totals kept."""

from __future__ import annotations

import time

import igl
import numpy as np
from tightseam.brush.brush import Brush, Dab, Painting, Tool
from tightseam.brush.canvas import Canvas
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part, polygons
from tightseam.document.model import Character
from tightseam.edits.bone_weight_edits import AddWeights
from tightseam.edits.drawing import stroke_of
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import MIDDLE
from tightseam.weights.change import smoothed
from tightseam.weights.patch import Patch

from benchmarks.timing import Row, medians

RADIUS = 1.5  # cm
DABS = 120
PATCH = 2000  # vertices that are smoothed
ROUNDS = 7
AT_MOST = 8.0  # ms a dab may take at the 95th percentile


def run(name: str, head: Character, store: MemoryStore) -> list[Row]:
    skin = part(head, "skin")
    canvas = Canvas(SurfaceMesh(np.asarray(store.get(skin.points)), polygons(store, skin)), MIDDLE)
    points, triangles = canvas.mesh.points, canvas.mesh.fans.triangles
    seeds = np.random.default_rng(5).integers(0, len(points), DABS)
    heat = igl.HeatGeodesicsData()
    igl.heat_geodesics_precompute(points, triangles, heat)
    turn = iter(np.tile(seeds, 100).tolist())

    def ours() -> object:
        seed = next(turn)
        return canvas.reach().from_place(points, seed, points[seed], RADIUS)

    timed = medians({"ours": ours, "theirs": lambda: igl.heat_geodesics_solve(heat, np.array([next(turn)]))}, 30)
    rows = [
        Row(
            f"surface distance of a dab, {name}",
            timed["ours"],
            "libigl heat method",
            timed["theirs"],
            ">= 3x",
            timed["theirs"] >= 3 * timed["ours"],
        )
    ]
    for tool in ("add", "smooth"):
        slow = np.percentile(_dabs(head, store, seeds, tool), 95)
        rows.append(Row(f"a dab ({tool}), 95 %, totals kept, {name}", float(slow), "design: 8 ms", AT_MOST, ">= 1x", slow <= AT_MOST))
    return rows


def edits(name: str, head: Character, store: MemoryStore) -> list[Row]:
    """A step of smoothing all weights of a patch, against the same by scipy over the whole skin; and the first frame after one bone's
    weights have changed, against compiling the character anew."""
    skin = part(head, "skin")
    some = np.arange(skin.vertex_count // 2, skin.vertex_count // 2 + PATCH)
    patch = Patch(head, store, skin.name, some.tolist(), [])
    _, chosen, average, rows = patch.surroundings
    whole = Patch(head, store, skin.name, range(skin.vertex_count), []).rows
    canvas = Canvas(SurfaceMesh(np.asarray(store.get(skin.points)), polygons(store, skin)), MIDDLE)
    smooth = medians({"ours": lambda: smoothed(rows, chosen, average, 0.5, 1), "theirs": lambda: canvas.mesh.average @ whole}, ROUNDS)
    values = dict.fromkeys((c.name for c in head.controls), 0.0)
    Evaluator(head, store).frame(values)
    turns = iter(range(10_000))
    carried = whole[some] > 0  # no vertex has room for a bone more
    column = int(carried.sum(axis=0).argmax())
    own = some[carried[:, column]].tolist()

    def changed() -> Character:
        value = 0.5 + next(turns) * 1e-4
        return AddWeights(part=skin.name, vertices=own, bone=patch.bones[column], amount=value / 2).apply(head, store)

    def anew() -> None:
        DERIVED.clear()
        Evaluator(changed(), store).frame(values)

    frame = medians(
        {
            "ours": lambda: Evaluator(changed(), store).frame(values),
            "theirs": anew,
        },
        ROUNDS,
    )
    return [
        Row(
            f"a smooth step, {PATCH:,} vertices, {name}",
            smooth["ours"],
            "scipy, whole skin",
            smooth["theirs"],
            ">= 1x",
            smooth["theirs"] >= smooth["ours"],
        ),
        Row(
            f"edit of a column and its first frame, {name}",
            frame["ours"],
            "compiled anew",
            frame["theirs"],
            ">= 1x",
            frame["theirs"] >= frame["ours"],
        ),
    ]


def _dabs(head: Character, store: MemoryStore, seeds: np.ndarray, tool: Tool) -> list[float]:
    """Milliseconds of each dab of a stroke all over the skin."""
    painting = Painting("skin", head.bones[5].name, Brush(RADIUS, 0.2))
    stroke = stroke_of(head, store, painting)
    times = []
    for k, seed in enumerate([seeds[0], *seeds]):
        start = time.perf_counter()
        stroke.dab(Dab(int(seed), tuple(stroke.posed[seed]), tool))
        if k:
            times.append((time.perf_counter() - start) * 1000)
    return times
