"""Contact: the deepest place of samples in a solid, by a tree that is refitted, against libigl's signed distance of the same samples."""

from __future__ import annotations

import igl
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.seams.meter import READINGS, SeamMeter
from tightseam.seams.probe import probe_of
from tightseam.seams.solid import REACH

from benchmarks.timing import Row, medians

ROUNDS = 15


def run(name: str, head: Character, store: MemoryStore) -> list[Row]:
    evaluator = Evaluator(head, store)
    values = rest_values(head) | {"jaw_open": 1.0}
    posed = evaluator.points(values)
    points = {part: posed[evaluator.meshes.rows(part)].astype(np.float64) for part in evaluator.meshes.names}
    pairs = [(s.probe, s.probe_set, s.solid) for s in head.seams if s.measure == "solid" and s.solid and s.solid_set is None]
    probes = [(probe_of(probe, of, head, store, evaluator), probe_of(solid, None, head, store, evaluator)) for probe, of, solid in pairs]

    def ours() -> list[float]:
        return [solid.posed(points).deepest(probe.samples(points), probe.path, REACH)[1] for probe, solid in probes]

    def theirs() -> list[float]:
        found = []
        for probe, solid in probes:
            faces = solid.triangles.astype(np.int64)
            kind = igl.SIGNED_DISTANCE_TYPE_FAST_WINDING_NUMBER
            found.append(float(igl.signed_distance(probe.samples(points), points[solid.part], faces, sign_type=kind)[0].min()))
        return found

    off = np.abs(np.minimum(theirs(), REACH) - np.array(ours())).max() * 10
    time = medians({"ours": ours, "theirs": theirs}, ROUNDS)
    meter = SeamMeter(head, store, evaluator)

    def fresh() -> object:
        READINGS.clear()
        return meter.measure(values)

    seams = medians({"fresh": fresh, "again": lambda: meter.measure(values)}, ROUNDS)
    solids = f"{len(pairs)} solid seams, {name}, off {off:.3f} mm"
    return [
        Row(solids, time["ours"], "igl.signed_distance", time["theirs"], ">= 5x", time["theirs"] >= 5 * time["ours"]),
        Row(
            f"seams of a pose, {name}, again",
            seams["again"],
            "the first time",
            seams["fresh"],
            ">= 3x",
            seams["fresh"] >= 3 * seams["again"],
        ),
    ]
