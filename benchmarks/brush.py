"""Dabs of the brush: distance along the surface against libigl's heat method, and a whole dab with totals kept."""

from __future__ import annotations

import time

import igl
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part, polygons
from tightseam.document.model import Character
from tightseam.edits.paint_edits import begun
from tightseam.geometry.symmetry import MIDDLE
from tightseam.weights.brush import Brush, Dab, Painting, Tool
from tightseam.weights.canvas import Canvas

from benchmarks.timing import Row, medians

RADIUS = 1.5  # cm
DABS = 120
AT_MOST = 8.0  # ms a dab may take at the 95th percentile


def run(name: str, head: Character, store: MemoryStore) -> list[Row]:
    skin = part(head, "skin")
    canvas = Canvas(np.asarray(store.get(skin.points)), polygons(store, skin), MIDDLE)
    points, triangles = canvas.points, canvas.fans.triangles
    seeds = np.random.default_rng(5).integers(0, len(points), DABS)
    heat = igl.HeatGeodesicsData()
    igl.heat_geodesics_precompute(points, triangles, heat)
    turn = iter(np.tile(seeds, 100).tolist())

    def ours() -> object:
        seed = next(turn)
        return canvas.reach.from_place(points, seed, points[seed], RADIUS)

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
        slow = np.percentile(_dabs(head, store, canvas, seeds, tool), 95)
        rows.append(Row(f"a dab ({tool}), 95 %, totals kept, {name}", float(slow), "design: 8 ms", AT_MOST, ">= 1x", slow <= AT_MOST))
    return rows


def _dabs(head: Character, store: MemoryStore, canvas: Canvas, seeds: np.ndarray, tool: Tool) -> list[float]:
    """Milliseconds of each dab of a stroke all over the skin."""
    painting = Painting("skin", head.bones[5].name, Brush(RADIUS, 0.2))
    stroke = begun(head, store, painting, Evaluator(head, store), canvas)
    times = []
    for k, seed in enumerate([seeds[0], *seeds]):
        start = time.perf_counter()
        stroke.dab(Dab(int(seed), tuple(stroke.posed[seed]), tool))
        if k:
            times.append((time.perf_counter() - start) * 1000)
    return times
