"""First weights: the same heat system against robust_laplacian with scipy; and how well lips come apart by each of three ways."""

from __future__ import annotations

import numpy as np
import robust_laplacian
from scipy.sparse import csc_matrix, diags
from scipy.sparse.linalg import splu
from tightseam.binding.checks import weight_findings
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part, polygons
from tightseam.document.model import Character, Skeleton
from tightseam.edits.binding_edits import WeighPart
from tightseam.edits.build_edits import BuildBones
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.triangulate import triangulate
from tightseam.seams.meter import SeamMeter
from tightseam.weights.heat import NEAREST, heat_weights

from benchmarks.timing import Row, medians

ROUNDS = 5
KEPT = 8
FACE = Skeleton(face="both", brows=4, lids=5, ears=True)
WAYS = {"heat": "over the surface", "straight": "by straight lines", "envelope": "by envelopes"}


def run(name: str, head: Character, store: MemoryStore) -> list[Row]:
    """The heat system of a skin with as many anchors as the head has bones, Laplacian and the largest eight included."""
    skin = part(head, "skin")
    points, faces = np.asarray(store.get(skin.points)), polygons(store, skin)
    triangles = triangulate(points, faces)
    seats = np.random.default_rng(3).choice(len(points), len(head.bones), replace=False)
    distance, nearest = distance_from(surface_graph(points, faces), np.sort(seats))
    anchored = np.eye(len(seats))[np.searchsorted(np.sort(seats), nearest)]

    def ours() -> np.ndarray:
        return largest(heat_weights(*laplacian(points, triangles), distance, anchored))

    def theirs() -> np.ndarray:
        matrix, mass = robust_laplacian.mesh_laplacian(points, triangles)
        heat = mass.diagonal() / (distance**2 + NEAREST**2)
        return largest(splu(csc_matrix(matrix + diags(heat))).solve(heat[:, None] * anchored))

    apart = float(np.abs(ours() - theirs()).max())
    if apart > 0.05:
        raise SystemExit(f"The two heat solutions differ by {apart:.3f}.")
    timed = medians({"ours": ours, "theirs": theirs}, ROUNDS, warm=1)
    ratio = timed["theirs"] / timed["ours"]
    return [
        Row(
            f"first weights, {len(seats)} bones, {name}",
            timed["ours"],
            "robust_laplacian + splu",
            timed["theirs"],
            ">= 1.9x",
            ratio >= 1.9,
        )
    ]


def largest(weights: np.ndarray) -> np.ndarray:
    """The eight largest of each row, the rest nothing."""
    kept = np.argpartition(weights, -KEPT, axis=1)[:, -KEPT:]
    few = np.zeros_like(weights)
    np.put_along_axis(few, kept, np.take_along_axis(weights, kept, axis=1), axis=1)
    return few


def compare(character: Character, store: MemoryStore) -> list[str]:
    """A line each way: overlap of the lips with the jaw open, strays, seams over their limit."""
    built = BuildBones(choices=FACE).apply(character, store)
    lines = []
    for how, label in WAYS.items():
        weighed = WeighPart(part="skin", how=how).apply(built, store)
        meter = SeamMeter(weighed, store, Evaluator(weighed, store))
        readings = [r for pose in weighed.poses for r in meter.measure_pose(pose)]
        lips = max((r.overlap or 0) for r in readings if r.seam == "lips")
        strays = sum(len(f.vertices) for f in weight_findings(weighed, store) if f.check == "stray")
        over = sum(not r.within for r in readings)
        lines.append(f"     weights {label:<20} lips overlap {lips:5.2f} mm, {strays:4d} stray vertices, {over} readings over their limit")
    return lines
