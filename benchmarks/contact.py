"""Contact: overlap and gap of all solid seams, both ways and exactly, against libigl's signed distance of samples one way."""

from __future__ import annotations

import igl
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.geometry.samples import surface_samples
from tightseam.seams.lid import LidGauge
from tightseam.seams.meter import READINGS, SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import probe_of
from tightseam.seams.solid import REACH, SolidGauge

from benchmarks.timing import Row, medians

ROUNDS = 15


def run(name: str, head: Character, store: MemoryStore) -> list[Row]:
    evaluator = Evaluator(head, store)
    values = rest_values(head) | {"jaw_open": 1.0}
    posed = evaluator.points(values)
    points = {part: posed[evaluator.meshes.rows(part)].astype(np.float64) for part in evaluator.meshes.names}
    seams = [s for s in head.seams if s.measure == "solid" and s.solid and s.solid_set is None]
    gauges = [SolidGauge(s, head, store, evaluator) if s.margin is None else LidGauge(s, head, store, evaluator, points) for s in seams]
    probes = [
        (probe_of(s.probe, s.probe_set, head, store, evaluator), probe_of(s.solid or "", None, head, store, evaluator)) for s in seams
    ]
    samples = [surface_samples(probe.triangles, len(points[probe.part]))[0] for probe, _ in probes]

    def ours() -> list[float]:
        at = PosedHead(points, points, np.eye(4)[None], ())
        read = [gauge.overlap(at)[0] or -gauge.gap(at)[0] for gauge in gauges]
        return [-found for found in read]

    def theirs() -> list[float]:
        found = []
        for (probe, solid), mix in zip(probes, samples, strict=True):
            faces = solid.triangles.astype(np.int64)
            kind = igl.SIGNED_DISTANCE_TYPE_FAST_WINDING_NUMBER
            found.append(float(igl.signed_distance(mix @ points[probe.part], points[solid.part], faces, sign_type=kind)[0].min()))
        return found

    deeper = np.max(np.minimum(10 * np.array(theirs()), 10 * REACH) - np.array(ours()))
    time = medians({"ours": ours, "theirs": theirs}, ROUNDS)
    meter = SeamMeter(head, store, evaluator)

    def fresh() -> object:
        READINGS.clear()
        return meter.measure(values)

    every = medians({"fresh": fresh, "again": lambda: meter.measure(values)}, ROUNDS)
    solids = f"{len(seams)} solid seams, {name}, up to {deeper:.3f} mm nearer than its samples"
    again = every["fresh"] >= 3 * every["again"]
    return [
        Row(solids, time["ours"], "igl.signed_distance", time["theirs"], ">= 5x", time["theirs"] >= 5 * time["ours"]),
        Row(f"seams of a pose, {name}, again", every["again"], "the first time", every["fresh"], ">= 3x", again),
    ]
