"""USD: meshes with their polygons, UsdSkel skins and blend shapes."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Mapping
from pathlib import Path, PurePosixPath
from typing import Any

import numpy as np

from tightseam.bake.strip import BESIDE_SHAPES
from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.limits import MOST_VERTICES
from tightseam.document.progress import tell
from tightseam.exchange.delivery import Delivery, Joint, Mesh, joint_at, reversed_winding, transformed
from tightseam.exchange.usd_library import load_usd
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats

LINE = re.compile(r"\.usda?:(\d+)")  # as the library writes a place in a file
ENDINGS = (".usd", ".usda", ".usdc", ".usdz")
Z_UP = np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])  # turns a head that stands along Z upright


def read_usd(data: bytes, file: str, beside: Mapping[str, bytes] | None = None) -> Delivery:
    """The meshes of a USD file; layers it refers to are taken from `beside` (by path) and from nowhere else."""
    load_usd()
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        for name, content in {**(beside or {}), file: data}.items():
            if PurePosixPath(name).suffix.lower() in ENDINGS:
                place = root / _inside(name)
                place.parent.mkdir(parents=True, exist_ok=True)
                place.write_bytes(content)
        try:
            return _UsdReader(root, root / _inside(file), file).delivery()
        except TightSeamError:
            raise
        except Exception as error:  # the library raises its own kinds, some with text that is none
            raise BadDocument(f"{file} cannot be read as USD{_line_of(error)}; it is cut off, damaged or of another kind.") from None


def _line_of(error: Exception) -> str:
    """The line of a text file that the library stumbled over, where it says so."""
    try:
        found = LINE.search(str(error))
    except UnicodeDecodeError:
        return ""
    return f" from line {found[1]} on" if found else ""


def _inside(name: str) -> PurePosixPath:
    path = PurePosixPath(name)
    if path.is_absolute() or ".." in path.parts:
        raise BadDocument(f"The path “{name}” leads out of its folder.")
    return path


class _UsdReader:
    def __init__(self, root: Path, path: Path, file: str) -> None:
        from pxr import Sdf, Usd, UsdGeom

        self._file = file
        layer = Sdf.Layer.FindOrOpen(str(path))
        if layer is None:
            raise BadDocument(f"{file} cannot be read as USD; it is cut off, damaged or of another kind.")
        self._check_references(root, path, layer, set())
        stage = Usd.Stage.Open(layer)
        if stage is None:
            raise BadDocument(f"{file} cannot be opened as USD.")
        self._stage: Any = stage
        self._notes: list[str] = []
        self._unit = float(UsdGeom.GetStageMetersPerUnit(stage)) * 100
        self._up = Z_UP if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z else np.eye(4)
        self._skeletons: dict[str, list[str]] = {}
        self._joints: list[Joint] = []

    def _check_references(self, root: Path, path: Path, layer: Any, seen: set[str]) -> None:
        """A file may refer only to what came with it: anything else would be read from this machine."""
        from pxr import Sdf

        for address in layer.GetCompositionAssetDependencies():
            target = (path.parent / address).resolve()
            if not target.is_relative_to(root.resolve()) or not target.exists():
                raise BadDocument(f"{self._file} refers to “{address}”, which did not come along. Flatten it, or drop all its files.")
            if str(target) not in seen:
                seen.add(str(target))
                other = Sdf.Layer.FindOrOpen(str(target))
                if other is not None:
                    self._check_references(root, target, other, seen)

    def delivery(self) -> Delivery:
        from pxr import Usd, UsdGeom, UsdSkel

        prims = [p for p in self._stage.Traverse(Usd.TraverseInstanceProxies()) if p.IsActive()]
        for prim in prims:
            if prim.IsA(UsdSkel.Skeleton):
                self._take_skeleton(UsdSkel.Skeleton(prim))
        cache = UsdGeom.XformCache()
        found = [p for p in prims if p.IsA(UsdGeom.Mesh)]
        meshes = []
        for step, prim in enumerate(found):
            tell(step / max(len(found), 1), f"Reading {self._file}")
            mesh = self._mesh(prim)
            world = np.array(cache.GetLocalToWorldTransform(prim)).T @ np.eye(4)
            meshes.append(transformed(mesh, self._up @ world) if world is not None else mesh)
        if not meshes:
            raise BadDocument(f"{self._file} holds no meshes.")
        if self._up is Z_UP:
            self._notes.append("The file stands along Z; it was turned upright.")
            meshes = [self._without_turn(m) for m in meshes]
        return Delivery(self._file, tuple(meshes), self._unit, tuple(self._joints), tuple(dict.fromkeys(self._notes)))

    def _without_turn(self, mesh: Mesh) -> Mesh:
        """Standing upright is no hidden transform of the part."""
        from dataclasses import replace

        linear = None if mesh.linear is None else self._up[:3, :3].T @ mesh.linear
        return replace(mesh, linear=None if linear is None or np.abs(linear - np.eye(3)).max() < 1e-9 else linear)

    def _take_skeleton(self, skeleton: Any) -> None:
        from pxr import UsdSkel

        paths = [str(j) for j in skeleton.GetJointsAttr().Get() or []]
        binds = skeleton.GetBindTransformsAttr().Get()
        if binds is None or len(binds) != len(paths):
            self._notes.append("A skeleton without bind transforms was left out.")
            return
        names = [str(n) for n in skeleton.GetJointNamesAttr().Get() or []] or [p.rsplit("/", 1)[-1] for p in paths]
        parents = UsdSkel.Topology([str(p) for p in paths]).GetParentIndices()
        taken = {j.name for j in self._joints}
        for k, name in enumerate(names):
            if name in taken:
                continue
            self._joints.append(joint_at(name, names[parents[k]] if parents[k] >= 0 else None, self._up @ np.array(binds[k]).T))
        self._skeletons[str(skeleton.GetPath())] = names

    def _mesh(self, prim: Any) -> Mesh:
        from pxr import UsdGeom

        mesh = UsdGeom.Mesh(prim)
        name = str(prim.GetDisplayName() or prim.GetName())
        points = np.array(mesh.GetPointsAttr().Get() or [], float).reshape(-1, 3)
        sizes = np.array(mesh.GetFaceVertexCountsAttr().Get() or [], np.int32)
        corners = np.array(mesh.GetFaceVertexIndicesAttr().Get() or [], np.int64)
        if not len(points) or not len(sizes):
            raise BadDocument(f"The mesh {name} of {self._file} has no points or no faces.")
        if len(points) > MOST_VERTICES:
            raise BadDocument(f"{name} has {len(points):,} vertices; {MOST_VERTICES:,} are the most.")
        if not np.isfinite(points).all():
            raise BadDocument(f"{name} has a vertex that is not at a finite place.")
        if sizes.min() < 3 or int(sizes.sum()) != len(corners) or corners.min() < 0 or corners.max() >= len(points):
            raise BadDocument(f"The faces of {name} speak of vertices that are not there, or have fewer than three corners.")
        polygons = Polygons(sizes, corners.astype(np.int32))
        if mesh.GetOrientationAttr().Get() == UsdGeom.Tokens.leftHanded:
            polygons = reversed_winding(polygons)
        return Mesh(
            name, points, polygons, len(points), colours=self._colours(mesh, len(points)),
            targets=self._targets(prim, points), weights=self._weights(prim, len(points)),
        )  # fmt: skip

    def _colours(self, mesh: Any, count: int) -> Floats | None:
        values = mesh.GetDisplayColorPrimvar().ComputeFlattened()
        rows = np.array(values, float).reshape(-1, 3) if values else np.zeros((0, 3))
        return np.clip(rows, 0, 1) if len(rows) == count else None

    def _targets(self, prim: Any, points: Floats) -> dict[str, Floats]:
        from pxr import UsdSkel

        binding = UsdSkel.BindingAPI(prim)
        names = [str(n) for n in binding.GetBlendShapesAttr().Get() or []]
        paths = binding.GetBlendShapeTargetsRel().GetTargets()
        found: dict[str, Floats] = {}
        for name, path in zip(names, paths, strict=False):
            if name.startswith(BESIDE_SHAPES):  # of our own strip, which is made anew
                self._notes.append("Shapes that were baked for one test pose were left out.")
                continue
            shape = UsdSkel.BlendShape(self._stage.GetPrimAtPath(path))
            offsets = np.array(shape.GetOffsetsAttr().Get() or [], float).reshape(-1, 3)
            rows = shape.GetPointIndicesAttr().Get()
            at = np.array(rows, int) if rows else np.arange(len(offsets))
            if len(at) != len(offsets) or (len(at) and (at.max() >= len(points) or at.min() < 0)) or not np.isfinite(offsets).all():
                raise BadDocument(f"The blend shape {name} does not fit {prim.GetName()}.")
            dense = np.zeros_like(points)
            dense[at] = offsets
            found[name] = dense
            if shape.GetInbetweens():
                self._notes.append("In-betweens of blend shapes were left out.")
        return found

    def _weights(self, prim: Any, count: int) -> Floats | None:
        from pxr import UsdSkel

        binding = UsdSkel.BindingAPI(prim)
        indices, weights = binding.GetJointIndicesPrimvar(), binding.GetJointWeightsPrimvar()
        skeleton = binding.GetInheritedSkeleton()
        names = self._skeletons.get(str(skeleton.GetPath())) if skeleton else None
        own = binding.GetJointsAttr().Get()
        if own:
            names = [str(j).rsplit("/", 1)[-1] for j in own]
        if not indices or not indices.HasValue() or names is None:
            return None
        width = max(int(indices.GetElementSize()), 1)
        at = np.array(indices.Get(), int).reshape(-1, width)
        amount = np.array(weights.Get(), float).reshape(-1, width)
        if str(indices.GetInterpolation()) == "constant":
            at, amount = np.repeat(at[:1], count, axis=0), np.repeat(amount[:1], count, axis=0)
        if len(at) != count or amount.shape != at.shape or at.min(initial=0) < 0 or at.max(initial=0) >= len(names):
            raise BadDocument(f"The weights of {prim.GetName()} do not fit its mesh.")
        column = {j.name: k for k, j in enumerate(self._joints)}
        if any(n not in column for n in names):
            return None
        dense = np.zeros((count, len(self._joints)))
        np.add.at(dense, (np.arange(count)[:, None], np.array([column[n] for n in names])[at]), amount)
        return dense
