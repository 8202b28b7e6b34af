"""A package: the files a receiver gets, made from one character for one profile. The same character gives the same bytes."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from tightseam.bake.errors import SAMPLES, Off, errors_of
from tightseam.bake.fitted import Fitted, by_controls, fitted
from tightseam.bake.strip import BakedStrip
from tightseam.binding.checks import unsound_weights
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import plain_name
from tightseam.document.joint_names import joint_names
from tightseam.document.model import Character, Shape
from tightseam.document.poses import pose_values
from tightseam.document.progress import one_by_one, part_of_it, tell
from tightseam.document.units import CM_TO_MM, UNITS
from tightseam.exchange.character_file import DATE, write_character
from tightseam.exchange.glb_write import glb_of
from tightseam.exchange.obj_write import write_obj
from tightseam.exchange.placing import Placing
from tightseam.exchange.usd_write import usd_of
from tightseam.exchange.weights_csv import write_weights_csv
from tightseam.findings.finding import Finding
from tightseam.handoff.offences import offences
from tightseam.handoff.profile import Profile
from tightseam.packing.drive_table import drive_table
from tightseam.packing.leave_out import LeaveOut, with_less
from tightseam.packing.levels import MadeLevel, make_level
from tightseam.weights.rows import MOST_INFLUENCES

REPORT, TABLE, NAMES = "report.json", "drive.json", "names.json"
NOTHING = LeaveOut()


@dataclass(frozen=True)
class Package:
    """Files by their path, the whole GLB before those of its levels, and what the report among them says: by how much what arrives is off,
    what offends the profile, what the face misses, and what each level lost. `fitted` is how many shapes stand in for lids and lips."""

    files: dict[str, bytes]
    errors: list[Off]
    offences: list[Finding]
    missed: list[str]
    levels: list[MadeLevel]
    fitted: int

    def zipped(self) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in self.files.items():
                archive.writestr(zipfile.ZipInfo(name, DATE), data, zipfile.ZIP_DEFLATED, 6)
        return out.getvalue()


def package(character: Character, store: ArrayStore, profile: Profile, less: LeaveOut = NOTHING, samples: int = SAMPLES) -> Package:
    """What a receiver with this `profile` gets: the files it asks for, the table that drives them, a map of names and a report. What no
    file can express is fitted by shapes with a table as far as the profile takes these, and measured over test poses and `samples` random
    ones. BadRequest where what is left out is not there, or a format refuses the weights."""
    own = MemoryStore(store)
    character, missed = with_less(character, own, less)
    name = plain_name(character.about.name, "character")
    refused = list(unsound_weights(character, own))
    if refused:
        raise BadRequest(f"No file takes weights like these: {'; '.join(f.title for f in refused)}. Repair that first.")
    with part_of_it(0.0, 0.4):
        held = _held(character, own, profile)
    clip = character.poses if profile.animation else ()
    values = [held.values(pose_values(character, p)) for p in clip]
    strip = BakedStrip(character, held.baked, own, values=values, makes_up=False)
    files: dict[str, bytes] = {}
    if "glb" in profile.formats:
        tell(0.42, "Writing GLB")
        files[f"{name}.glb"] = glb_of(strip, MOST_INFLUENCES)
    if "usd" in profile.formats:
        tell(0.45, "Writing USD")
        files[f"{name}.usdc"] = usd_of(strip, _placing(profile, 1.0))
    if "obj" in profile.formats:
        tell(0.5, "Writing OBJ")
        files |= _targets(held.baked.character, own, name, _placing(profile, character.checkin.unit_cm or 1.0))
    if "weights" in profile.formats:
        baked = held.baked.character
        files |= {f"weights/{p.name}.csv": write_weights_csv(baked, own, p.name) for p in baked.parts}
    if "character" in profile.formats:
        files[f"{name}.seam"] = write_character(character, own)
    with part_of_it(0.5, 0.55):
        levels = [make_level(held, own, level) for level in one_by_one(profile.levels, "Detail level")]
    for level in levels:
        poses = level.values if profile.animation else []
        reduced = BakedStrip(level.character, Evaluator(level.character, own), own, values=poses, makes_up=False)
        files[f"{name}.{level.label}.glb"] = glb_of(reduced, MOST_INFLUENCES)
    files[TABLE] = _json(drive_table(held))
    files[NAMES] = _json(_names(held.baked.character))
    with part_of_it(0.55, 1.0):
        errors = errors_of(held, samples)
    offending = offences(held.baked.character, own, profile)
    made = Package(files, errors, offending, missed, levels, sum(len(grid.targets) for grid in held.grids))
    files[REPORT] = _json(_report(character, profile, held, made))
    return made


def _placing(profile: Profile, otherwise: float) -> Placing:
    return Placing(otherwise if profile.unit is None else UNITS[profile.unit], profile.up)


def _held(character: Character, store: ArrayStore, profile: Profile) -> Fitted:
    if not profile.tables:
        return by_controls(character, store)
    room = None if profile.shapes is None else profile.shapes - len(character.shapes) - len(character.reliefs)
    return fitted(character, store, room)


def _targets(baked: Character, store: ArrayStore, name: str, placing: Placing) -> dict[str, bytes]:
    """The neutral and, for each shape, all meshes as it alone makes them, in the delivered order."""
    rest = {p.name: np.asarray(store.get(p.points)).astype(float) for p in baked.parts}

    def shaped(shape: Shape) -> bytes:
        points = {part: own.copy() for part, own in rest.items()}
        for delta in shape.deltas:
            points[delta.part][np.asarray(store.get(delta.vertices))] += np.asarray(store.get(delta.offsets))
        return write_obj(baked, store, points=points, placing=placing)

    return {f"{name}.obj": write_obj(baked, store, placing=placing)} | {f"targets/{s.name}.obj": shaped(s) for s in baked.shapes}


def _names(baked: Character) -> dict[str, Any]:
    """What bones, shapes and parts are called in the files, by what they are called here."""
    return {
        "bones": joint_names(baked),
        "shapes": {s.name: s.name for s in baked.shapes},
        "parts": {p.name: p.name for p in baked.parts},
        "controls": {c.name: c.label for c in baked.controls},
    }


def _report(character: Character, profile: Profile, held: Fitted, made: Package) -> dict[str, Any]:
    return {
        "character": character.about.name,
        "profile": profile.name,
        "files": {name: len(data) for name, data in made.files.items()},
        "vertices": {p.name: p.vertex_count for p in character.parts},
        "off": [asdict(off) for off in made.errors],
        "fitted": {grid.name: {"shapes": len(grid.targets), "mm": CM_TO_MM * held.off[grid.name]} for grid in held.grids},
        "offences": [{"kind": f.kind, "about": f.about, "title": f.title, "text": f.text} for f in made.offences],
        "missed": made.missed,
        "levels": {level.label: level.counts() | {"lost": level.lost_by()} for level in made.levels},
    }


def _json(tree: Any) -> bytes:
    return json.dumps(tree, ensure_ascii=False, separators=(",", ":")).encode()
