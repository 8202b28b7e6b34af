"""Contact: overlap and gap of all solid seams, both ways and exactly, against libigl's signed distance of samples one way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import igl
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.derived import DERIVED
from tightseam.document.model import Character, Pose
from tightseam.document.poses import pose_values, rest_values
from tightseam.geometry.samples import surface_samples
from tightseam.head.found import FoundHead
from tightseam.landmarks.gaze_sweep import ACROSS, HEIGHT
from tightseam.landmarks.seats import find_seats
from tightseam.seams.lid import LidGauge
from tightseam.seams.meter import SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import probe_of
from tightseam.seams.solid import REACH, SolidGauge

from benchmarks.timing import Row, medians

ROUNDS = 15


def run(name: str, head: Character, store: MemoryStore, larger: float = 1.0) -> list[Row]:
    """What 20 poses take is held against what 12,000 vertices may, so many times `larger`."""
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
        DERIVED.clear()
        return meter.measure(values)

    poses = [scaled(head, pose, share) for pose in head.poses for share in (0.5, 1.0)]
    dear = replace(head, seams=tuple(s for s in head.seams if s.measure in ("self", "clear", "ride")))
    cheap = replace(head, seams=tuple(s for s in head.seams if s not in dear.seams))

    def strip(of: Character) -> Callable[[], object]:
        gauges = SeamMeter(of, store, evaluator)

        def measured() -> object:
            DERIVED.clear()
            return [gauges.measure(pose) for pose in poses]

        return measured

    each = {"fresh": fresh, "again": lambda: meter.measure(values), "parts": strip(cheap), "all": strip(head)}
    every = medians(each, ROUNDS)
    few, most, strip_of = 400 * larger, 800 * larger, f"{len(poses)} poses, {name}"
    solids = f"{len(seams)} solid seams, {name}, up to {deeper:.3f} mm nearer than its samples"
    again = every["fresh"] >= 3 * every["again"]
    return [
        Row(solids, time["ours"], "igl.signed_distance", time["theirs"], ">= 5x", time["theirs"] >= 5 * time["ours"]),
        Row(f"{strip_of}, part on part", every["parts"], "every seam", every["all"], f"<= {few:.0f} ms", every["parts"] <= few),
        Row(f"{strip_of}, every seam", every["all"], "one of them", every["fresh"], f"<= {most:.0f} ms", every["all"] <= most),
        Row(f"seams of a pose, {name}, again", every["again"], "the first time", every["fresh"], ">= 3x", again),
    ]


def scaled(head: Character, pose: Pose, share: float) -> dict[str, float]:
    """A share of a pose, from rest."""
    rest, full = rest_values(head), pose_values(head, pose)
    return {name: rest[name] + share * (full[name] - rest[name]) for name in full}


def gazes(name: str, head: Character, store: MemoryStore) -> list[Row]:
    """What both eyes touch in 35 gazes each, against libigl asked for the lids in the eye, gaze by gaze."""
    seats = find_seats(FoundHead(head, store))

    def ours() -> list[float]:
        return [seat.swept(seat.piece.points, seat.pivot).worst.depth for seat in seats]

    def theirs() -> list[float]:
        found = []
        for seat in seats:
            samples, faces = seat.lids.samples, seat.triangles.astype(np.int64)
            kind = igl.SIGNED_DISTANCE_TYPE_FAST_WINDING_NUMBER
            turned = [(seat.piece.points - seat.pivot) @ seat.sweep.turn(a, h).T + seat.pivot for h in HEIGHT for a in ACROSS]
            found.append(-10 * min(float(igl.signed_distance(samples, eye, faces, sign_type=kind)[0].min()) for eye in turned))
        return found

    less = float(np.max(np.array(theirs()) - np.array(ours())))
    time = medians({"ours": ours, "theirs": theirs}, ROUNDS)
    work = f"gaze sweep of both eyes, {name}, at most {max(less, 0):.3f} mm less"
    return [Row(work, time["ours"], "igl.signed_distance, a gaze each", time["theirs"], "<= 100 ms", time["ours"] <= 100)]
