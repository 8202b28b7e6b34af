"""A skinned GLB as a receiver reads it (glTF 2.0): joints, meshes with their targets, and the clips that animate them."""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[Any]
Ints = NDArray[Any]

TYPES = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


class Unreadable(ValueError):
    """What arrives is no GLB that this receiver can read."""


@dataclass
class Joint:
    """Where a joint rests in its parent: a shift in metres and a rotation (3, 3); `parent` is a number, -1 for none."""

    name: str
    parent: int
    shift: Floats
    turn: Floats


@dataclass
class Mesh:
    """Points (N, 3) in metres, triangles (T, 3), the joints (N, K) that carry each vertex and their weights, offsets (N, 3) by
    target; `order` are the names of the targets as clips have them."""

    name: str
    points: Floats
    triangles: Ints
    joints: Ints
    weights: Floats
    targets: dict[str, Floats]
    order: tuple[str, ...] = ()


@dataclass
class Clip:
    """Seconds (S,) of a clip; by joint number its shifts (S, 3) and turns (S, 4) as x, y, z, w; by mesh the weights (S, T) of targets."""

    name: str
    seconds: Floats
    shifts: dict[int, Floats] = field(default_factory=dict)
    turns: dict[int, Floats] = field(default_factory=dict)
    weights: dict[str, Floats] = field(default_factory=dict)


@dataclass
class Scene:
    """Joints stand behind their parents; `bind` (J, 4, 4) takes points of the neutral into the joints' own frames."""

    joints: list[Joint]
    bind: Floats
    meshes: list[Mesh]
    clips: list[Clip]


def read_glb(data: bytes) -> Scene:
    """Unreadable for anything that is not a whole GLB with at most one skin."""
    try:
        return _Reader(data).scene()
    except (KeyError, IndexError, TypeError, ValueError, struct.error) as error:
        raise Unreadable(f"This GLB cannot be read: {error}") from None


class _Reader:
    def __init__(self, data: bytes) -> None:
        magic, version, length = struct.unpack_from("<4sII", data)
        if magic != b"glTF" or version != 2 or length != len(data):
            raise Unreadable("This is not a whole GLB.")
        size, kind = struct.unpack_from("<I4s", data, 12)
        if kind != b"JSON":
            raise Unreadable("This GLB does not begin with its tree.")
        self.tree: dict[str, Any] = json.loads(data[20 : 20 + size])
        self.binary = data[28 + size :]

    def scene(self) -> Scene:
        nodes = self.tree.get("nodes", [])
        parents = {child: k for k, node in enumerate(nodes) for child in node.get("children", ())}
        skin = self.tree.get("skins", [{"joints": []}])[0]
        order = self._parents_first(skin["joints"], parents)
        number = {node: k for k, node in enumerate(order)}
        joints = [Joint(nodes[n]["name"], number.get(parents.get(n, -1), -1), *self._rest(nodes[n])) for n in order]
        where = [skin["joints"].index(n) for n in order]
        bind = np.tile(np.eye(4), (len(order), 1, 1))
        if "inverseBindMatrices" in skin:
            bind = self.array(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)[where].astype(float)  # column-major
        renumbered = np.argsort(where)
        meshes = [self._mesh(node, renumbered) for node in nodes if "mesh" in node]
        clips = [self._clip(clip, number, nodes) for clip in self.tree.get("animations", ())]
        return Scene(joints, bind, meshes, clips)

    def array(self, number: int) -> Floats:
        """An accessor as an array (count, width), sparse ones filled in."""
        accessor = self.tree["accessors"][number]
        width, kind = WIDTHS[accessor["type"]], TYPES[accessor["componentType"]]
        found = np.zeros((accessor["count"], width), kind)
        if "bufferView" in accessor:
            found = self._view(accessor["bufferView"], accessor.get("byteOffset", 0), accessor["count"], width, kind)
        if "sparse" in accessor:
            sparse = accessor["sparse"]
            where, what = sparse["indices"], sparse["values"]
            rows = self._view(where["bufferView"], where.get("byteOffset", 0), sparse["count"], 1, TYPES[where["componentType"]])
            found = found.copy()
            found[rows[:, 0]] = self._view(what["bufferView"], what.get("byteOffset", 0), sparse["count"], width, kind)
        return found

    def _view(self, number: int, offset: int, count: int, width: int, kind: Any) -> Floats:
        view = self.tree["bufferViews"][number]
        start, size = view.get("byteOffset", 0) + offset, np.dtype(kind).itemsize * width
        stride = view.get("byteStride", size)
        if count == 0:
            return np.zeros((0, width), kind)
        if start + stride * (count - 1) + size > len(self.binary):
            raise Unreadable("An array of this GLB ends before its data.")
        raw = np.frombuffer(self.binary, np.uint8, stride * (count - 1) + size, start)
        rows = np.lib.stride_tricks.as_strided(raw, (count, size), (stride, 1))
        return np.ascontiguousarray(rows).view(kind).reshape(count, width)

    @staticmethod
    def _parents_first(joints: list[int], parents: dict[int, int]) -> list[int]:
        inside, order, done = set(joints), [], set()
        for joint in joints:
            chain = []
            while joint in inside and joint not in done:
                if joint in chain:
                    raise Unreadable("The joints of this GLB hang on one another in a ring.")
                chain.append(joint)
                joint = parents.get(joint, -1)
            order += chain[::-1]
            done |= set(chain)
        return order

    @staticmethod
    def _rest(node: dict[str, Any]) -> tuple[Floats, Floats]:
        return np.array(node.get("translation", (0, 0, 0)), float), turn_of(np.array(node.get("rotation", (0, 0, 0, 1)), float))

    def _mesh(self, node: dict[str, Any], renumbered: Ints) -> Mesh:
        mesh = self.tree["meshes"][node["mesh"]]
        first = mesh["primitives"][0]
        of = first["attributes"]
        points = self.array(of["POSITION"]).astype(float)
        sets = [k for k in range(8) if f"JOINTS_{k}" in of] if "skin" in node else []
        none = [np.zeros((len(points), 0))]
        joints = np.concatenate([self.array(of[f"JOINTS_{k}"]) for k in sets] or none, axis=1).astype(int)
        weights = np.concatenate([self.array(of[f"WEIGHTS_{k}"]) for k in sets] or none, axis=1)
        triangles = np.concatenate([self.array(p["indices"]).reshape(-1, 3) for p in mesh["primitives"]]).astype(int)
        names = mesh.get("extras", {}).get("targetNames", [])
        targets = [self.array(t["POSITION"]).astype(float) for t in first.get("targets", ())]
        return Mesh(
            node["name"], points, triangles, renumbered[joints] if joints.size else joints, weights.astype(float),
            dict(zip(names, targets, strict=True)), tuple(names),
        )  # fmt: skip

    def _clip(self, clip: dict[str, Any], number: dict[int, int], nodes: list[dict[str, Any]]) -> Clip:
        found = Clip(clip.get("name", ""), np.zeros(0))
        for channel in clip["channels"]:
            sampler, target = clip["samplers"][channel["sampler"]], channel["target"]
            found.seconds = self.array(sampler["input"])[:, 0].astype(float)
            values = self.array(sampler["output"]).astype(float)
            if target["path"] == "weights":
                found.weights[nodes[target["node"]]["name"]] = values.reshape(len(found.seconds), -1)
            elif target["path"] == "rotation":
                found.turns[number[target["node"]]] = values
            elif target["path"] == "translation":
                found.shifts[number[target["node"]]] = values
        return found


def turn_of(quaternion: Floats) -> Floats:
    """Rotation (3, 3) of a quaternion x, y, z, w."""
    x, y, z, w = quaternion / np.linalg.norm(quaternion)
    return np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )
