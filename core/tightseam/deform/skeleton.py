"""From control values to bone matrices."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from tightseam.document.errors import BadRequest
from tightseam.document.lookup import control as find_control
from tightseam.document.model import Bone, Character, Control
from tightseam.geometry.types import Floats

AXES = {"x": 0, "y": 1, "z": 2}
OVERDRIVE = 1.5  # how far beyond its range a control may be asked for when overdrive is meant


def checked_values(character: Character, values: Mapping[str, float], overdrive: bool = False) -> dict[str, float]:
    """Values of all controls, those not given at rest; BadRequest for an unknown control or a value out of range."""
    result = {c.name: c.rest for c in character.controls}
    for name, value in values.items():
        control = find_control(character, name)
        stretch = OVERDRIVE if overdrive else 1.0
        low, high = control.rest + (control.low - control.rest) * stretch, control.rest + (control.high - control.rest) * stretch
        if not (isinstance(value, (int, float)) and np.isfinite(value)):
            raise BadRequest(f"{control.label} needs a number.")
        if not low - 1e-9 <= value <= high + 1e-9:
            raise BadRequest(f"{control.label} goes from {low:g} to {high:g}{control.unit}; {value:g} is out of range.")
        result[name] = float(value)
    return result


def shape_strengths(controls: Sequence[Control], values: Mapping[str, float]) -> dict[str, float]:
    """Strength of each shape that any control drives."""
    strengths: dict[str, float] = {}
    for control in controls:
        for link in control.links:
            if link.kind == "shape":
                strengths[link.target] = strengths.get(link.target, 0.0) + link.gain * values[control.name]
    return strengths


def bone_angles(controls: Sequence[Control], bones: Sequence[Bone], values: Mapping[str, float]) -> Floats:
    """Degrees about x, y, z of each bone, (B, 3)."""
    row = {bone.name: k for k, bone in enumerate(bones)}
    angles = np.zeros((len(bones), 3))
    for control in controls:
        for link in control.links:
            if link.kind == "bone" and link.axis is not None:
                angles[row[link.target], AXES[link.axis]] += link.gain * values[control.name]
    return angles


def rotation(degrees: Floats) -> Floats:
    """Rotation matrices (..., 3, 3) that turn about x first, then z, then y (pitch under yaw, as eyes and necks turn)."""
    angles = np.radians(degrees)
    (cx, cy, cz), (sx, sy, sz) = np.moveaxis(np.cos(angles), -1, 0), np.moveaxis(np.sin(angles), -1, 0)
    rows = [
        [cy * cz, -cy * sz * cx + sy * sx, cy * sz * sx + sy * cx],
        [sz, cz * cx, -cz * sx],
        [-sy * cz, sy * sz * cx + cy * sx, -sy * sz * sx + cy * cx],
    ]
    return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)


def bone_matrices(bones: Sequence[Bone], angles: Floats) -> Floats:
    """Matrices (B, 4, 4) that take neutral points to where each bone carries them. Parents stand before children."""
    row = {bone.name: k for k, bone in enumerate(bones)}
    pivots = np.array([bone.head for bone in bones]).reshape(-1, 3)
    local = np.tile(np.eye(4), (len(bones), 1, 1))
    local[:, :3, :3] = rotation(angles)
    local[:, :3, 3] = pivots - np.einsum("bij,bj->bi", local[:, :3, :3], pivots)
    still = (angles == 0).all(axis=1)
    matrices = np.empty_like(local)
    for k, bone in enumerate(bones):
        if bone.parent is None:
            matrices[k] = local[k]
        else:
            parent = matrices[row[bone.parent]]
            matrices[k] = parent if still[k] else parent @ local[k]
    return matrices
