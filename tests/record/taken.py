"""What is recorded of a head."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, replace
from typing import Any

import numpy as np
from tightseam.binding.checks import weight_findings
from tightseam.checkin.report import check_in
from tightseam.edits.lid_edits import DriveLids
from tightseam.head.found import FoundHead
from tightseam.jaw.findings import findings_of
from tightseam.landmarks.bones.checks import bone_findings
from tightseam.lids.findings import lid_findings
from tightseam.seams.findings import findings as seam_findings
from tightseam.seams.meter import SeamMeter
from tightseam.shapes.checks import shape_findings

from tests import cast
from tests.core.lid_heads import DRIVERS
from tests.head import Head, after
from tests.record.digest import points_digest, rounded

SKIN_SAMPLE, PART_SAMPLE = 60, 8  # vertices whose places are kept
VERTICES_SHOWN = 40  # of a finding; of the others their number and sum
HEADS = ("maren-clean", "pim-clean", "hob-clean", "maren-faulty", "pim-faulty", "hob-faulty")


def head_of(name: str) -> Head:
    """Somebody of the cast, clean or with what is planted. Pim's faults are those of his meshes: with them he has no rig."""
    who, _, state = name.partition("-")
    if name == "pim-faulty":
        return cast.pim_as_delivered()
    return cast.clean(who) if state == "clean" else cast.faulty(who)


def driven(head: Head) -> Iterator[tuple[str, Head]]:
    """The head with its lids closed by each of their drivers."""
    yield "arc", head
    for name, driver in DRIVERS.items():
        if name != "arc" and head.character.lids:
            yield name, after(head, *(DriveLids(side=x.side, driver=driver) for x in head.character.lids))


def points(head: Head) -> np.ndarray:
    """Digests of all parts in every pose of the strip, (poses, parts, numbers); the rest of a row that needs fewer is 0."""
    found = np.zeros((len(head.character.poses), len(head.character.parts), 3 + 3 * SKIN_SAMPLE))
    for k, pose in enumerate(head.character.poses):
        posed = head.evaluator.points(head.values(pose.values))
        for n, part in enumerate(head.character.parts):
            digest = points_digest(posed[head.evaluator.meshes.rows(part.name)], SKIN_SAMPLE if part.kind == "skin" else PART_SAMPLE)
            found[k, n, : len(digest)] = digest
    return found


def readings(head: Head, driver: str) -> dict[str, Any]:
    """By pose, what each seam reads; with other drivers than the arc those of the eyes, which are all that changes."""
    chosen = tuple(s for s in head.character.seams if driver == "arc" or s.region == "eyes")
    meter = SeamMeter(replace(head.character, seams=chosen), head.store, head.evaluator)
    found = {pose.name: meter.measure_pose(pose) for pose in head.character.poses}
    return {pose: {r.seam: rounded([r.overlap, r.gap, r.lag, r.excess]) for r in row} for pose, row in found.items()}


def findings(name: str) -> dict[str, Any]:
    """By station, what is found on somebody of the cast."""
    head, (who, _, state) = head_of(name), name.partition("-")
    character, store = head.character, head.store
    found: dict[str, list[Any]] = {"checkin": [c for c in check_in(character, store).checks if c.verdict != "fine"]}
    if character.bones:
        found |= {
            "seams": seam_findings(character, store, head.evaluator, head.readings()),
            "bones": bone_findings(FoundHead(character, store), character),
            "weights": weight_findings(character, store),
            "lids": lid_findings(character, store),
            "jaw": cast.jaw_findings(who) if state == "clean" else findings_of(character, store),
            "shapes": shape_findings(character, store),
        }
    return {station: [_short(rounded(asdict(f))) for f in row] for station, row in found.items()}


def _short(value: Any) -> Any:
    """Long lists of vertices cut to the first few, and how many there are and their sum."""
    if isinstance(value, dict):
        return {k: _short(v) for k, v in value.items()}
    if isinstance(value, list) and len(value) > VERTICES_SHOWN and all(isinstance(v, int | float) for v in value):
        return [*value[:VERTICES_SHOWN], f"{len(value)} in all", rounded(float(np.sum(value)))]
    return [_short(v) for v in value] if isinstance(value, list) else value
