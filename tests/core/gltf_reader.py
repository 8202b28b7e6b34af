"""An independent reading of a GLB in numpy: morph, then skin, as the glTF specification says. Shares no code with the product."""

from __future__ import annotations

import json
import struct

import numpy as np

FORMS = {"SCALAR": 1, "VEC3": 3, "VEC4": 4, "MAT4": 16}
TYPES = {5121: np.uint8, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}


class PosedGlb:
    def __init__(self, data: bytes) -> None:
        length = struct.unpack_from("<I", data, 12)[0]
        self.tree = json.loads(data[20 : 20 + length])
        self.binary = data[20 + length + 8 :]
        self.parents = {child: k for k, node in enumerate(self.tree["nodes"]) for child in node.get("children", [])}

    def accessor(self, number: int) -> np.ndarray:
        a = self.tree["accessors"][number]
        kind, width = TYPES[a["componentType"]], FORMS[a["type"]]
        if "sparse" not in a:
            return self._rows(a["bufferView"], a.get("byteOffset", 0), kind, a["count"], width)
        values, of = np.zeros((a["count"], width)), a["sparse"]
        rows = self._rows(of["indices"]["bufferView"], 0, TYPES[of["indices"]["componentType"]], of["count"], 1)[:, 0].astype(int)
        values[rows] = self._rows(of["values"]["bufferView"], 0, kind, of["count"], width)
        return values

    def _rows(self, view: int, offset: int, kind: type, count: int, width: int) -> np.ndarray:
        start = self.tree["bufferViews"][view].get("byteOffset", 0) + offset
        return np.frombuffer(self.binary, kind, count * width, start).reshape(count, width).astype(np.float64)

    def at(self, second: int) -> dict[str, np.ndarray]:
        """Points in metres of every mesh node at a whole second of the first animation."""
        rotation, shift, weights = {}, {}, {}
        animation = self.tree["animations"][0]
        for channel in animation["channels"]:
            sampler = animation["samplers"][channel["sampler"]]
            key, output = self._key(sampler, second), self.accessor(sampler["output"])
            node, path = channel["target"]["node"], channel["target"]["path"]
            if path == "rotation":
                rotation[node] = output[key]
            elif path == "translation":
                shift[node] = output[key]
            else:
                count = len(self.tree["meshes"][self.tree["nodes"][node]["mesh"]]["weights"])
                weights[node] = output.reshape(-1, count)[key]
        skin = self.tree["skins"][0]
        inverse = self.accessor(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)
        joints = np.array([self._world(j, rotation, shift) @ inverse[k] for k, j in enumerate(skin["joints"])])
        return {n["name"]: self._mesh(k, n, weights, joints) for k, n in enumerate(self.tree["nodes"]) if "mesh" in n}

    def _key(self, sampler: dict, second: int) -> int:
        """The key of a sampler at a whole second."""
        return int(np.argmin(np.abs(self.accessor(sampler["input"])[:, 0] - second)))

    def targets(self, name: str, second: int) -> dict[str, tuple[float, np.ndarray]]:
        """The targets of a mesh node by their names: how far each is in at a whole second, and its offsets in metres."""
        number = next(k for k, n in enumerate(self.tree["nodes"]) if n["name"] == name)
        mesh, animation = self.tree["meshes"][self.tree["nodes"][number]["mesh"]], self.tree["animations"][0]
        names = mesh.get("extras", {}).get("targetNames", [])
        offsets = [self.accessor(t["POSITION"]) for t in mesh["primitives"][0].get("targets", [])]
        weights = np.zeros(len(names))
        for channel in animation["channels"]:
            if channel["target"] == {"node": number, "path": "weights"}:
                sampler = animation["samplers"][channel["sampler"]]
                weights = self.accessor(sampler["output"]).reshape(-1, len(names))[self._key(sampler, second)]
        return {n: (float(w), o) for n, w, o in zip(names, weights, offsets, strict=True)}

    def _world(self, node: int, rotation: dict[int, np.ndarray], shift: dict[int, np.ndarray]) -> np.ndarray:
        still = self.tree["nodes"][node]
        x, y, z, w = rotation.get(node, still.get("rotation", (0, 0, 0, 1)))
        local = np.eye(4)
        local[:3, :3] = [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
        local[:3, 3] = shift.get(node, still.get("translation", (0, 0, 0)))
        return local if node not in self.parents else self._world(self.parents[node], rotation, shift) @ local

    def _mesh(self, number: int, node: dict, weights: dict[int, np.ndarray], joints: np.ndarray) -> np.ndarray:
        primitive = self.tree["meshes"][node["mesh"]]["primitives"][0]
        points = self.accessor(primitive["attributes"]["POSITION"])
        for weight, target in zip(weights.get(number, []), primitive.get("targets", []), strict=False):
            points = points + weight * self.accessor(target["POSITION"])
        which = self.accessor(primitive["attributes"]["JOINTS_0"]).astype(int)
        share = self.accessor(primitive["attributes"]["WEIGHTS_0"])
        matrices = np.einsum("nk,nkij->nij", share, joints[which])
        return np.einsum("nij,nj->ni", matrices[:, :3, :3], points) + matrices[:, :3, 3]
