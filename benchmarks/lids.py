"""Lids: the board against libigl's signed distance, a frame with lids and eye relief against one without, and driven by shapes."""

from __future__ import annotations

from dataclasses import replace

import igl
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.build import build_head
from tightseam.demo.cast import raw_parts
from tightseam.demo.presets import MAREN
from tightseam.document.arrays import MemoryStore
from tightseam.document.change import without_lid_links
from tightseam.document.lookup import polygons
from tightseam.document.make import make_part
from tightseam.document.model import Character, LidDriver
from tightseam.document.poses import rest_values
from tightseam.first_rig import first_rig
from tightseam.geometry.subdivide import catmull_clark
from tightseam.lids.board import LidBoard
from tightseam.lids.eye_relief import clearance_of
from tightseam.lids.findings import lid_findings

from benchmarks.timing import Row, medians

AT_MOST = 150.0  # ms for the board of both eyes
ROUNDS = 9


def lidded_head(store: MemoryStore, steps: int = 1) -> Character:
    """Clean Maren with the skin subdivided (once: 13,285 vertices, twice: 52,945), rigged with lids."""
    raw = build_head(MAREN)
    parts, marks = list(raw_parts(raw, store)), dict(raw.landmarks)
    k = next(k for k, part in enumerate(parts) if part.kind == "skin")
    skin, before = parts[k], np.asarray(store.get(parts[k].points))
    faces, after = polygons(store, skin), before
    for _ in range(steps):
        matrix, faces = catmull_clark(faces, len(after))
        after = matrix @ after
    parts[k] = make_part(store, skin.name, skin.kind, after, faces)
    for name, mark in marks.items():  # those on the skin follow their vertices
        far = np.linalg.norm(before - mark, axis=1)
        if far.min() < 1e-6:
            marks[name] = after[far.argmin()]
    return first_rig("Maren", "bench", tuple(parts), marks, store)


def run(store: MemoryStore) -> list[Row]:
    head, denser = lidded_head(store), lidded_head(store, 2)
    evaluator = Evaluator(head, store)
    board, values = LidBoard(head, store, evaluator), rest_values(head)
    cells = medians({"quick": lambda: board.measure(values), "exact": lambda: board.measure(values, exact=True)}, ROUNDS, 1)
    found = medians({"ours": lambda: lid_findings.__wrapped__(head, store)}, 5, 1)["ours"]
    return [
        Row("lid board, 60 cells, 12k head", cells["quick"], "design: 150 ms", AT_MOST, ">= 1x", cells["quick"] <= AT_MOST),
        Row("lid board at rest, exact", cells["exact"], "quick", cells["quick"], "", True),
        Row("lid findings, 5 expressions", found, "quick board", cells["quick"], "", True),
        *_distances(evaluator, board),
        *_frames("12k", head, store),
        *_frames("48k", denser, store),
    ]


def _distances(evaluator: Evaluator, board: LidBoard) -> list[Row]:
    """Depth of all samples of one eye's lids: by the table, against libigl on the same points."""
    eye, gauge = evaluator.rig.lids[0].eye, board.eyes[0]
    posed = evaluator.lids_at(rest_values(evaluator.character), 0.6, np.eye(3))
    samples = gauge.samples(posed)
    rows = evaluator.meshes.rows(eye.part)
    ball = evaluator.meshes.rest[rows].astype(np.float64)
    faces = evaluator.meshes.part_triangles[evaluator.meshes.names.index(eye.part)].astype(np.int64)

    def table() -> np.ndarray:
        return clearance_of(samples, eye.profile, eye.centre, np.eye(3))

    def theirs() -> np.ndarray:
        return igl.signed_distance(samples, ball, faces)[0]

    near = np.abs(theirs()) < 0.1
    off = float(np.abs(table() - theirs())[near].max())
    time = medians({"ours": table, "theirs": theirs}, ROUNDS)
    ratio = time["theirs"] / time["ours"]
    return [
        Row(
            f"{len(samples):,} lid samples, off by {off * 10:.3f} mm",
            time["ours"],
            "igl.signed_distance",
            time["theirs"],
            ">= 50x",
            ratio >= 50,
        )
    ]


def _frames(name: str, head: Character, store: MemoryStore) -> list[Row]:
    bare = replace(head, lids=(), eye_reliefs=(), controls=without_lid_links(head.controls))
    values = rest_values(head) | {"blink": 0.5, "smile": 0.6, "jaw_open": 0.4, "gaze_across": 10.0}
    drivers = {"on the arc": LidDriver(), "by shapes": LidDriver("shapes", gaze=True), "by bones": LidDriver("bones")}
    heads = {by: replace(head, lids=tuple(replace(x, driver=driver) for x in head.lids)) for by, driver in drivers.items()}
    others = {by: Evaluator(x, store) for by, x in [("without", bare), *heads.items()]}
    time = medians({by: lambda e=e: e.frame(values) for by, e in others.items()}, 60)
    return [
        Row(f"frame with lids {by}, {name}", time[by], "frame without", time["without"], "<= 1.3x", time[by] <= 1.3 * time["without"])
        for by in drivers
    ]
