"""A character as GLB: skin, morph targets, and a range-of-motion animation."""

from __future__ import annotations

from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from tightseam.bake.all_baked import with_all_baked
from tightseam.bake.lid_bones import with_lids_as_bones
from tightseam.bake.strip import BakedStrip
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.frames import local_frames, rest_frames
from tightseam.document.joint_names import joint_names
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights
from tightseam.document.model import Character, Part
from tightseam.exchange.glb_container import GlbWriter
from tightseam.exchange.glb_extras import KEY, make_extras
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.geometry.types import Floats, Ints

CM_TO_M = 0.01
VERTEX_BUFFER, INDEX_BUFFER = 34962, 34963
A_SET = 4  # influences
MOST_IN_A_BYTE = 256  # joints that unsigned bytes can number; JOINTS_0 may be of unsigned shorts as well (glTF 2.0, 3.7.3.3)
STILL = 1e-9  # of a joint's frame: less is no movement


def write_glb(character: Character, store: ArrayStore) -> bytes:
    """A node a part, one skin with at most 4 influences, targets named like the shapes, metres.

    What closes lids is baked into a target a control, or into joints where bones drive them. What skin and targets cannot express, eye
    relief, lids on their arc and caps, is baked into one target a strip pose that needs it; what rides gets weights and targets of
    its own. The animation "range of motion" has one key a second: second k is pose k of the strip. BadRequest names vertices that cannot
    be expressed.
    """
    return glb_of(glb_strip(character, store))


def glb_strip(character: Character, store: ArrayStore) -> BakedStrip:
    """The strip as a GLB plays it, with what it holds, and what its bones and shapes leave out."""
    own = MemoryStore(store)
    return BakedStrip(character, Evaluator(with_all_baked(character, own), own), own)


def glb_of(strip: BakedStrip, most: int = A_SET) -> bytes:
    """The file of a strip that `glb_strip` made, with at most `most` influences a vertex: beyond 4 of them they are in a second set."""
    return _GlbBuilder(strip, most).build()


class _GlbBuilder:
    def __init__(self, strip: BakedStrip, most: int) -> None:
        self.most = most
        self.strip, self.evaluator, self.store = strip, strip.baked, strip.store
        self.character = self.evaluator.character
        self.writer = GlbWriter()
        self.materials: list[dict[str, Any]] = []
        self.target_names: dict[str, list[str]] = {}

    def build(self) -> bytes:
        parts = self.character.parts
        meshes = [self._mesh(p) for p in parts]
        nodes: list[dict[str, Any]] = []
        for k, part in enumerate(parts):
            node: dict[str, Any] = {"name": part.name, "mesh": k}
            if find_binding(self.character, part.name) is not None:
                node["skin"] = 0
            nodes.append(node)
        joints = self._joints(len(nodes))
        roots = list(range(len(nodes))) + [len(nodes) + k for k, b in enumerate(self.character.bones) if b.parent is None]
        tree: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": "Tight Seam"},
            "scene": 0,
            "scenes": [{"name": self.character.about.name, "nodes": roots}],
            "nodes": nodes + joints,
            "meshes": meshes,
            "materials": self.materials,
            "extras": {KEY: make_extras(with_lids_as_bones(self.strip.character, self.store), self.store)},
        }
        if joints:
            tree["skins"] = [self._skin(len(nodes))]
        if self.strip.values:
            tree["animations"] = [self._animation(len(nodes))]
        return self.writer.pack(tree)

    def _mesh(self, part: Part) -> dict[str, Any]:
        points = np.asarray(self.store.get(part.points))
        triangles, faces = triangulate_with_faces(points, polygons(self.store, part))
        add = self.writer.add
        attributes = {
            "POSITION": add((points * CM_TO_M).astype(np.float32), VERTEX_BUFFER, bounds=True),
            "NORMAL": add(_safe_normals(points, triangles), VERTEX_BUFFER),
        }
        if part.colours:
            attributes["COLOR_0"] = add(to_linear(np.asarray(self.store.get(part.colours))).astype(np.float32), VERTEX_BUFFER)
        if find_binding(self.character, part.name) is not None:
            joints, weights = self._influences(part)
            for k in range(joints.shape[1] // A_SET):
                own = slice(A_SET * k, A_SET * (k + 1))
                attributes |= {f"JOINTS_{k}": add(joints[:, own], VERTEX_BUFFER), f"WEIGHTS_{k}": add(weights[:, own], VERTEX_BUFFER)}
        targets = self._targets(part)
        self.target_names[part.name] = [name for name, _ in targets]
        positions = [{"POSITION": self.writer.add_sparse((d * CM_TO_M).astype(np.float32), VERTEX_BUFFER)} for _, d in targets]
        primitives = []
        for colour, chosen in self._groups(part, faces):
            primitive: dict[str, Any] = {
                "attributes": attributes,
                "indices": add(triangles[chosen].ravel().astype(np.uint32), INDEX_BUFFER),
                "material": self._material(part, colour),
            }
            if positions:
                primitive["targets"] = positions
            primitives.append(primitive)
        mesh: dict[str, Any] = {"name": part.name, "primitives": primitives}
        if targets:
            mesh |= {"weights": [0.0] * len(targets), "extras": {"targetNames": self.target_names[part.name]}}
        return mesh

    def _influences(self, part: Part) -> tuple[Ints, Floats]:
        found = find_binding(self.character, part.name)
        assert found is not None
        deforming = {b.name for b in self.character.bones if b.role == "deform"}
        names = [b.name for b in self.character.bones]
        weights = dense_weights(self.store, [i for i in found.influences if i.bone in deforming], names, part.vertex_count)
        count = (weights > 0).sum(axis=1)
        if count.max() > self.most:
            bad = np.flatnonzero(count > self.most)
            raise BadRequest(
                f"{len(bad)} vertices of {part.name} have more than {self.most} influences, the first is {bad[0]}. Cap them first."
            )
        off = np.flatnonzero(np.abs(weights.sum(axis=1) - 1) > 1e-4)
        if len(off):
            raise BadRequest(
                f"The weights of {len(off)} vertices of {part.name} do not add up to 1, the first is {off[0]} with "
                f"{weights[off[0]].sum():.3f}. Repair that first."
            )
        width = A_SET if count.max() <= A_SET else 2 * A_SET
        weights = np.pad(weights, ((0, 0), (0, max(width - len(names), 0))))  # a set is a set of four, of however few joints
        joints = np.argsort(-weights, axis=1, kind="stable")[:, :width]
        chosen = np.take_along_axis(weights, joints, axis=1)
        chosen /= chosen.sum(axis=1, keepdims=True)
        kind = np.uint8 if len(names) <= MOST_IN_A_BYTE else np.uint16
        return np.where(chosen > 0, joints, 0).astype(kind), chosen.astype(np.float32)

    def _targets(self, part: Part) -> list[tuple[str, Floats]]:
        targets: list[tuple[str, Floats]] = []
        for shape in self.character.shapes:
            for delta in shape.deltas:
                if delta.part == part.name:
                    dense = np.zeros((part.vertex_count, 3))
                    dense[np.asarray(self.store.get(delta.vertices))] = np.asarray(self.store.get(delta.offsets))
                    targets.append((shape.name, dense))
        beside = (self.strip.target(k, part.name) for k in range(len(self.strip.poses)))
        return targets + [found for found in beside if found is not None]

    def _groups(self, part: Part, faces: Ints) -> list[tuple[tuple[float, ...] | None, Ints]]:
        """Triangles by the colour of their polygon; one group where colours are per vertex."""
        if part.face_colours is None:
            return [(None, np.arange(len(faces)))]
        colours, which = np.unique(np.asarray(self.store.get(part.face_colours)), axis=0, return_inverse=True)
        group = which.reshape(-1)[faces]
        return [(tuple(to_linear(colour).tolist()), np.flatnonzero(group == k)) for k, colour in enumerate(colours)]

    def _material(self, part: Part, colour: tuple[float, ...] | None) -> int:
        material: dict[str, Any] = {
            "name": part.kind if colour is None else f"{part.kind} {len(self.materials)}",
            "pbrMetallicRoughness": {"metallicFactor": 0.0, "roughnessFactor": 0.15 if part.kind == "eye" else 0.6},
        }
        if colour is not None:
            material["pbrMetallicRoughness"]["baseColorFactor"] = [*colour, 1.0]
        self.materials.append(material)
        return len(self.materials) - 1

    def _joints(self, first: int) -> list[dict[str, Any]]:
        bones, parents = self.character.bones, self.evaluator.skeleton.parents.tolist()
        nodes: list[dict[str, Any]] = []
        local = local_frames(rest_frames(bones), self.evaluator.skeleton.parents)
        for name, frame in zip(joint_names(self.character).values(), local, strict=True):
            node: dict[str, Any] = {"name": name, "translation": (frame[:3, 3] * CM_TO_M).tolist()}
            if not np.array_equal(frame[:3, :3], np.eye(3)):
                node["rotation"] = quaternion(frame[:3, :3]).tolist()
            nodes.append(node)
        for k, parent in enumerate(parents):
            if parent >= 0:
                nodes[parent].setdefault("children", []).append(first + k)
        return nodes

    def _skin(self, first: int) -> dict[str, Any]:
        bones = self.character.bones
        frames = rest_frames(bones)
        frames[:, :3, 3] *= CM_TO_M
        inverse = np.linalg.inv(frames).transpose(0, 2, 1).astype(np.float32)  # column-major
        return {
            "name": "rig",
            "joints": [first + k for k in range(len(bones))],
            "skeleton": first,
            "inverseBindMatrices": self.writer.add(inverse.reshape(-1, 16)),
        }

    def _animation(self, first: int) -> dict[str, Any]:
        samplers: list[dict[str, Any]] = []
        channels: list[dict[str, Any]] = []
        seconds = self.writer.add(np.arange(len(self.strip.values), dtype=np.float32), bounds=True)

        def key(node: int, path: str, values: Floats) -> None:
            samplers.append({"input": seconds, "output": self.writer.add(values.astype(np.float32)), "interpolation": "LINEAR"})
            channels.append({"sampler": len(samplers) - 1, "target": {"node": node, "path": path}})

        skeleton, bones = self.evaluator.skeleton, self.character.bones
        still = local_frames(rest_frames(bones), skeleton.parents)
        posed = np.array([self.strip.frames(k) for k in range(len(self.strip.poses))])
        for k in range(len(bones)):
            if np.abs(posed[:, k, :3, :3] - still[k, :3, :3]).max() > STILL:
                key(first + k, "rotation", np.array([quaternion(m[:3, :3]) for m in posed[:, k]]))
            if np.abs(posed[:, k, :3, 3] - still[k, :3, 3]).max() > STILL:
                key(first + k, "translation", posed[:, k, :3, 3] * CM_TO_M)
        for k, part in enumerate(self.character.parts):
            if self.target_names[part.name]:
                key(k, "weights", self._target_weights(part.name).reshape(-1))
        return {"name": "range of motion", "samplers": samplers, "channels": channels}

    def _target_weights(self, part: str) -> Floats:
        weights = [self.strip.weights(k) for k in range(len(self.strip.poses))]
        return np.array([[of.get(name, 0.0) for name in self.target_names[part]] for of in weights])


def to_linear(srgb: Floats) -> Floats:
    """Linear light of sRGB values 0..1 (IEC 61966-2-1)."""
    return np.where(srgb <= 0.04045, srgb / 12.92, ((np.maximum(srgb, 0) + 0.055) / 1.055) ** 2.4)


def quaternion(matrix: Floats) -> Floats:
    """Unit quaternion (x, y, z, w) of a rotation matrix (3, 3), w not negative."""
    return np.asarray(Rotation.from_matrix(matrix).as_quat(canonical=True))


def _safe_normals(points: Floats, triangles: Ints) -> Floats:
    normals = vertex_normals(points, triangles)
    normals[np.linalg.norm(normals, axis=1) < 0.5] = [0, 1, 0]
    normals = normals.astype(np.float32)
    return np.asarray(normals / np.linalg.norm(normals, axis=1, keepdims=True))
