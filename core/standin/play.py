"""A package posed by a receiver: joints carry what targets have made of the neutral (linear blend skinning)."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import numpy as np

from standin.drive import Driven, DriveTable
from standin.glb import Floats, read_glb, turn_of
from standin.limits import limited

M_TO_CM = 100.0


class Receiver:
    """What arrived, under the limits of a profile: `told` says what was done to it. Points are in cm."""

    def __init__(self, glb: bytes, table: bytes | None, profile: Mapping[str, Any]) -> None:
        self.scene, self.told = limited(read_glb(glb), profile)
        self.table = None if table is None else DriveTable(json.loads(table))

    @property
    def poses(self) -> int:
        """How many poses its first clip has, one a second."""
        return len(self.scene.clips[0].seconds) if self.scene.clips else 0

    def posed(self, values: Mapping[str, float]) -> dict[str, Floats]:
        """Points (N, 3) of each mesh by its name, with controls at these values, the others at rest. ValueError without a table."""
        if self.table is None:
            raise ValueError("Nothing drives what arrived: there is no drive table.")
        driven = self.table.at(values)
        return self._skinned(self._world(self._locals(driven)), {m.name: driven.targets for m in self.scene.meshes})

    def played(self, pose: int) -> dict[str, Floats]:
        """As its first clip has it at that second."""
        clip, frames = self.scene.clips[0], []
        for k, joint in enumerate(self.scene.joints):
            turn = turn_of(clip.turns[k][pose]) if k in clip.turns else joint.turn
            frames.append(_frame(turn, clip.shifts[k][pose] if k in clip.shifts else joint.shift))
        orders = {m.name: m.order for m in self.scene.meshes}
        weights = {name: dict(zip(orders[name], rows[pose].tolist(), strict=True)) for name, rows in clip.weights.items()}
        return self._skinned(self._world(frames), weights)

    def _locals(self, driven: Driven) -> list[Floats]:
        """Of each joint the frame in its parent: its rest, then along its own axes, then about x, z and y of them."""
        found = []
        for joint in self.scene.joints:
            degrees = np.radians([driven.joints.get((joint.name, f"turn_{axis}"), 0.0) for axis in "xyz"])
            along = np.array([driven.joints.get((joint.name, f"move_{axis}"), 0.0) for axis in "xyz"]) / M_TO_CM
            found.append(_frame(joint.turn, joint.shift) @ _frame(_turned(degrees), along))
        return found

    def _world(self, frames: list[Floats]) -> Floats:
        found: list[Floats] = []
        for joint, frame in zip(self.scene.joints, frames, strict=True):
            found.append(frame if joint.parent < 0 else found[joint.parent] @ frame)
        return np.array(found).reshape(-1, 4, 4)

    def _skinned(self, world: Floats, weights: Mapping[str, Mapping[str, float]]) -> dict[str, Floats]:
        carried = world @ self.scene.bind
        posed = {}
        for mesh in self.scene.meshes:
            points, amounts = mesh.points.copy(), weights.get(mesh.name, {})
            for name, offsets in mesh.targets.items():
                if amounts.get(name, 0.0):
                    points += amounts[name] * offsets
            if mesh.joints.size:
                blended = np.einsum("nk,nkij->nij", mesh.weights, carried[mesh.joints])
                points = np.einsum("nij,nj->ni", blended[:, :3, :3], points) + blended[:, :3, 3]
            posed[mesh.name] = points * M_TO_CM
        return posed


def _frame(turn: Floats, shift: Floats) -> Floats:
    found = np.eye(4)
    found[:3, :3], found[:3, 3] = turn, shift
    return found


def _turned(radians: Floats) -> Floats:
    """About x, then z, then y: y stays with the parent, x goes with the joint."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(radians), np.sin(radians)
    about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    about_z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return about_y @ about_z @ about_x
