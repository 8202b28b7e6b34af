"""glTF 2.0 that another program wrote: node transforms applied and reported, split vertices welded with the map kept."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Collection, Mapping
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import unquote

import numpy as np

from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.limits import MOST_VERTICES
from tightseam.document.progress import tell
from tightseam.exchange.delivery import Delivery, Joint, Mesh, joint_at, transformed
from tightseam.exchange.glb_container import MOST_BYTES, GlbReader
from tightseam.exchange.quads import recover_quads
from tightseam.geometry.distinct import Distinct
from tightseam.geometry.types import AnyArray, Floats, Ints

TRIANGLES = 4
MOST_NODES = 20_000


def read_gltf(data: bytes, file: str, beside: Mapping[str, bytes] | None = None) -> Delivery:
    """The meshes of a GLB, or of a .gltf whose buffers lie `beside` it (by their path) or in data addresses. Units are metres.

    Skinned meshes stand where their bind pose puts them. BadDocument says what is wrong.
    """
    try:
        return _GltfReader(_open(data, file, beside or {}), file).delivery()
    except TightSeamError:
        raise
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, OverflowError, RecursionError) as error:
        raise BadDocument(f"{file} does not hold together ({type(error).__name__}: {error}).") from None


def _open(data: bytes, file: str, beside: Mapping[str, bytes]) -> GlbReader:
    if data[:4] == b"glTF":
        return GlbReader(data)
    try:
        tree = json.loads(data)
    except (ValueError, RecursionError):
        raise BadDocument(f"The JSON of {file} cannot be read.") from None
    if not isinstance(tree, dict):
        raise BadDocument(f"The JSON of {file} is not an object.")
    buffers = {k: _buffer(entry, file, beside) for k, entry in enumerate(tree.get("buffers") or [])}
    return GlbReader.of_parts(tree, buffers)


def _buffer(entry: dict[str, Any], file: str, beside: Mapping[str, bytes]) -> bytes:
    address = str(entry.get("uri", ""))
    if address.startswith("data:"):
        if len(address) > 2 * MOST_BYTES:
            raise BadDocument(f"A buffer of {file} is larger than {MOST_BYTES / 1e6:.0f} MB.")
        try:
            return base64.b64decode(address.split(",", 1)[1], validate=True)
        except (IndexError, binascii.Error):
            raise BadDocument(f"A buffer of {file} cannot be decoded.") from None
    path = str(PurePosixPath(file).parent / unquote(address))
    if path not in beside:
        raise BadDocument(f"{file} needs the file “{address}”, which did not come along. Drop both, or a zip of them.")
    return beside[path]


class _GltfReader:
    def __init__(self, reader: GlbReader, file: str) -> None:
        self._reader, self._file = reader, file
        self._notes: list[str] = []
        self._nodes = reader.tree.get("nodes") or []
        if len(self._nodes) > MOST_NODES:
            raise BadDocument(f"{file} has {len(self._nodes)} nodes; {MOST_NODES} are the most.")
        self._skins = reader.tree.get("skins") or []

    def delivery(self) -> Delivery:
        world = self._world()
        placed = [k for k in world if "mesh" in self._nodes[k]]
        if not placed:
            raise BadDocument(f"{self._file} shows no mesh.")
        joints = self._joints()
        names = [j.name for j in joints]
        meshes: list[Mesh] = []
        for step, k in enumerate(placed):
            tell(step / len(placed), f"Reading {self._file}")
            node = self._nodes[k]
            mesh = self._mesh(node, names)
            if mesh is not None:
                meshes.append(mesh if "skin" in node else transformed(mesh, world[k]))
        if not meshes:
            raise BadDocument(f"{self._file} holds no triangles.")
        if self._reader.tree.get("animations"):
            self._notes.append("Animations were left out.")
        return Delivery(self._file, tuple(meshes), 100.0, joints, tuple(dict.fromkeys(self._notes)))

    def _world(self) -> dict[int, Floats]:
        """World matrix (4, 4) of each node that a scene shows, parents before children."""
        scenes = self._reader.tree.get("scenes") or [{"nodes": list(range(len(self._nodes)))}]
        scene = self._reader.tree.get("scene", 0)
        roots = self._reader.item("scenes", scene).get("nodes", []) if "scenes" in self._reader.tree else scenes[0]["nodes"]
        found: dict[int, Floats] = {}
        waiting: list[tuple[int, Floats]] = [(int(k), np.eye(4)) for k in roots]
        while waiting:
            k, above = waiting.pop()
            if k in found:
                continue
            node = self._reader.item("nodes", k)
            found[k] = above @ _local(node)
            waiting += [(int(c), found[k]) for c in node.get("children", [])]
        return dict(sorted(found.items()))

    def _joints(self) -> tuple[Joint, ...]:
        """Joints of all skins, parents before children; they stand where the inverse of their bind matrix says."""
        frames: dict[int, Floats] = {}
        for skin in self._skins:
            chosen = [int(j) for j in skin["joints"]]
            if "inverseBindMatrices" in skin:
                inverse = np.asarray(self._reader.array(skin["inverseBindMatrices"], 16, "bind matrices"), float)
                matrices = inverse.reshape(-1, 4, 4).transpose(0, 2, 1)
                for j, m in zip(chosen, matrices, strict=True):
                    frames.setdefault(j, np.linalg.inv(m))
        nearest = self._nearest_above(frames)
        ordered: dict[int, None] = {}
        for k in frames:
            above = [k]
            while (up := nearest[above[-1]]) is not None and up not in ordered:
                above.append(up)
            ordered |= dict.fromkeys(reversed(above))
        named = {k: self._node_name(k) for k in ordered}
        return tuple(joint_at(named[k], None if (up := nearest[k]) is None else named[up], frames[k]) for k in ordered)

    def _nearest_above(self, among: Collection[int]) -> dict[int, int | None]:
        """For each node the nearest one above it that is `among` some; BadDocument where nodes hang in a ring."""
        parent = {int(c): k for k, n in enumerate(self._nodes) for c in n.get("children", [])}
        found: dict[int, int | None] = {}
        for k in range(len(self._nodes)):
            way: dict[int, None] = {}
            at: int | None = k
            while at is not None and at not in found:
                if at in way:
                    raise BadDocument(f"{self._file}: the node {self._node_name(at)} hangs below itself.")
                way[at] = None
                at = parent.get(at)
            for low in reversed(way):
                up = parent.get(low)
                found[low] = up if up is None or up in among else found[up]
        return found

    def _node_name(self, k: int) -> str:
        return str(self._nodes[k].get("name") or f"node_{k}")

    def _mesh(self, node: dict[str, Any], joint_names: list[str]) -> Mesh | None:
        mesh = self._reader.item("meshes", node["mesh"])
        name = str(node.get("name") or mesh.get("name") or f"mesh_{node['mesh']}")
        pieces = [_Primitive(self._reader, p, name) for p in mesh.get("primitives", []) if p.get("mode", TRIANGLES) == TRIANGLES]
        if len(pieces) < len(mesh.get("primitives", [])):
            self._notes.append(f"{name}: lines, points and strips were left out.")
        if not pieces:
            return None
        # primitives may share their vertices: each list is taken once
        lists = {p.accessor: p for p in pieces}
        starts = dict(zip(lists, np.concatenate([[0], np.cumsum([len(p.points) for p in lists.values()])[:-1]]).tolist(), strict=True))
        points = np.concatenate([p.points for p in lists.values()]).astype(np.float64)
        if len(points) > MOST_VERTICES:
            raise BadDocument(f"{name} has {len(points):,} vertices; {MOST_VERTICES:,} are the most.")
        triangles = np.concatenate([p.triangles + starts[p.accessor] for p in pieces])
        target_names = mesh.get("extras", {}).get("targetNames", []) if isinstance(mesh.get("extras"), dict) else []
        count = min(len(p.targets) for p in lists.values())
        targets = [np.concatenate([p.targets[t] for p in lists.values()]) for t in range(count)]
        weights = self._weights(node, lists, joint_names) if "skin" in node else None
        split, first = _welded(points, targets, weights)
        polygons = recover_quads(points[first], split[triangles])
        colours = _colours(lists)
        return Mesh(
            name, points[first], polygons, len(points), first if len(first) < len(points) else None,
            split if len(first) < len(points) else None, None if colours is None else colours[first],
            targets={str(target_names[t]) if t < len(target_names) else f"target_{t}": d[first] for t, d in enumerate(targets)},
            weights=None if weights is None else weights[first],
        )  # fmt: skip

    def _weights(self, node: dict[str, Any], lists: Mapping[Any, _Primitive], joint_names: list[str]) -> Floats | None:
        skin = self._reader.item("skins", node["skin"])
        at = {name: k for k, name in reversed(list(enumerate(joint_names)))}  # of two with one name the first
        column = [at[name] for j in skin["joints"] if (name := self._node_name(int(j))) in at]
        rows = []
        for p in lists.values():
            if p.joints is None or p.weights is None or len(column) < len(skin["joints"]):
                return None
            if len(p.joints) and p.joints.max() >= len(column):
                raise BadDocument(f"The weights of {p.name} speak of joint {p.joints.max()}; there are {len(column)}.")
            dense = np.zeros((len(p.points), len(joint_names)))
            np.add.at(dense, (np.arange(len(p.points))[:, None], np.array(column)[p.joints]), p.weights)
            rows.append(dense)
        return np.concatenate(rows)


class _Primitive:
    def __init__(self, reader: GlbReader, primitive: dict[str, Any], name: str) -> None:
        self.name = name
        attributes = primitive["attributes"]
        self.accessor = attributes["POSITION"]
        self.points = np.asarray(reader.array(self.accessor, 3, f"points of {name}"), float)
        if "indices" in primitive:
            indices = reader.array(primitive["indices"], 1, f"triangles of {name}").astype(np.int64)
        else:
            indices = np.arange(len(self.points))
        if len(indices) % 3 or (len(indices) and (indices.max() >= len(self.points) or indices.min() < 0)):
            raise BadDocument(f"The triangles of {name} speak of vertices that are not there.")
        self.triangles = indices.reshape(-1, 3)
        self.targets = [
            np.asarray(reader.array(t["POSITION"], 3, f"targets of {name}"), float)
            if "POSITION" in t else np.zeros_like(self.points) for t in primitive.get("targets", [])
        ]  # fmt: skip
        if any(len(t) != len(self.points) for t in self.targets):
            raise BadDocument(f"A target of {name} does not have as many vertices as its mesh.")
        self.joints: Ints | None = None
        self.weights: Floats | None = None
        if "JOINTS_0" in attributes and "WEIGHTS_0" in attributes:
            self.joints = reader.array(attributes["JOINTS_0"], 4, f"joints of {name}").astype(np.int64)
            self.weights = np.asarray(reader.array(attributes["WEIGHTS_0"], 4, f"weights of {name}"), float)
            if len(self.joints) != len(self.points) or len(self.weights) != len(self.points):
                raise BadDocument(f"The weights of {name} do not fit its mesh.")
        self.colours = _colour_rows(reader, attributes.get("COLOR_0"), len(self.points), name)


def _colour_rows(reader: GlbReader, accessor: Any, count: int, name: str) -> Floats | None:
    if accessor is None:
        return None
    width = 4 if reader.item("accessors", accessor).get("type") == "VEC4" else 3
    rows = np.asarray(reader.array(accessor, width, f"colours of {name}"), float)[:, :3]
    if len(rows) != count:
        return None
    return np.where(rows <= 0.0031308, rows * 12.92, 1.055 * np.clip(rows, 0, 1) ** (1 / 2.4) - 0.055)


def _colours(lists: Mapping[Any, _Primitive]) -> Floats | None:
    rows = [p.colours for p in lists.values()]
    return None if any(r is None for r in rows) else np.concatenate(rows)  # type: ignore[arg-type]


def _local(node: dict[str, Any]) -> Floats:
    if "matrix" in node:
        matrix = np.array(node["matrix"], float).reshape(4, 4).T
    else:
        x, y, z, w = (float(v) for v in node.get("rotation", (0, 0, 0, 1)))
        turn = np.array(
            [
                [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
                [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
                [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
            ]
        )
        matrix = np.eye(4)
        with np.errstate(invalid="ignore"):  # what is not finite is refused below, in words
            matrix[:3, :3] = turn * np.array(node.get("scale", (1, 1, 1)), float)
        matrix[:3, 3] = np.array(node.get("translation", (0, 0, 0)), float)
    if not np.isfinite(matrix).all():
        raise BadDocument("A node of the file has a transform that is not finite.")
    return matrix


def _welded(points: Floats, targets: list[Floats], weights: Floats | None) -> tuple[Ints, Ints]:
    """Vertices that a format split: same place, same targets, same weights. (which one each became (M,), first of each (N,)),
    both in the order of first appearance."""
    rows: list[AnyArray] = [points, *targets] + ([weights] if weights is not None else [])
    apart = Distinct.of(np.concatenate(rows, axis=1).astype(np.float32))
    order = np.argsort(apart.first)
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    return rank[apart.place], apart.first[order]
