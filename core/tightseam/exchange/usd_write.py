"""A character as USD: polygons, UsdSkel skin, blend shapes."""

from __future__ import annotations

import re
import tempfile
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from tightseam.bake.lid_bones import with_lids_as_bones
from tightseam.bake.lid_targets import lid_targets, without_lids_by_shapes
from tightseam.bake.lids import with_lids_baked
from tightseam.bake.mouth import with_mouth_baked
from tightseam.bake.rides import with_rides_baked
from tightseam.bake.strip import STILL, BakedStrip
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.frames import local_frames, parent_numbers, rest_frames
from tightseam.document.free_name import free_name
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights
from tightseam.document.model import Character, Part
from tightseam.exchange.placing import AS_HERE, Placing
from tightseam.exchange.usd_library import load_usd
from tightseam.exchange.usd_strip import add_strip
from tightseam.geometry.types import Floats, Ints

MOST_INFLUENCES = 8


def write_usd(character: Character, store: ArrayStore) -> bytes:
    """A binary USD file in cm, Y up: a mesh a part under one skeleton root. What closes lids is baked into shapes, with in-betweens for
    each lid that shapes drive, else one a control; lids that bones drive have joints. Reliefs are shapes, and lips sealed with
    the jaw wide open are. What brings a shape in by itself stands in the custom data of the root, under "correctives": by the shape's name
    its `drivers`, the values at which each `comesIn` and is `full`, how they are `mixed`, and the `gain`. The animation of the skeleton
    plays the strip, a pose a second, with a shape for what bones and shapes leave out of it: eye relief, lids on their arc, caps. Controls
    and links are not in it, nor what helpers carry: what moves with nothing here does not move there."""
    return usd_of(usd_strip(character, store))


def usd_of(strip: BakedStrip, placing: Placing = AS_HERE) -> bytes:
    """The file of a strip that `usd_strip` made, in the unit and with the axis up that `placing` says."""
    load_usd()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "character.usdc"
        _UsdWriter(strip, str(path), placing).write()
        return path.read_bytes()


def usd_strip(character: Character, store: ArrayStore) -> BakedStrip:
    """The strip as a USD file plays it, with what it holds, and what its bones and shapes leave out."""
    own = MemoryStore(store)
    mouth = with_mouth_baked(with_lids_as_bones(character, own), own)
    baked = with_rides_baked(with_lids_baked(without_lids_by_shapes(mouth), own), own)
    return BakedStrip(character, Evaluator(replace(baked, caps=()), own), own, lid_targets(mouth, own))


class _UsdWriter:
    def __init__(self, strip: BakedStrip, path: str, placing: Placing) -> None:
        from pxr import Usd, UsdGeom

        self._placing = placing
        self._strip, self._character, self._store = strip, strip.baked.character, strip.store
        self._blend_shapes: dict[str, None] = {}  # names of all parts', each once
        self._stage: Any = Usd.Stage.CreateNew(path)
        UsdGeom.SetStageUpAxis(self._stage, UsdGeom.Tokens.y if placing.up == "y" else UsdGeom.Tokens.z)
        UsdGeom.SetStageMetersPerUnit(self._stage, placing.unit_cm / 100)
        self._root = "/" + _identifier(self._character.about.name)
        self._paths: dict[str, str] = {}
        self._children: dict[str, set[str]] = {self._root: {"skeleton"}}

    def write(self) -> None:
        from pxr import UsdSkel

        root = UsdSkel.Root.Define(self._stage, self._root)
        self._stage.SetDefaultPrim(root.GetPrim())
        self._correctives(root.GetPrim())
        if self._character.bones:
            self._skeleton()
        for part in self._character.parts:
            self._mesh(part)
        if self._character.bones and self._strip.values:
            joints, shapes = list(self._paths.values()), list(self._blend_shapes)
            add_strip(self._stage, f"{self._root}/skeleton", joints, self._strip, shapes, self._placing)
        self._stage.GetRootLayer().Save()

    def _child(self, above: str, name: str) -> str:
        """A path that nothing has yet: names that differ may come out alike, of letters and digits that USD takes."""
        taken = self._children.setdefault(above, set())
        own = free_name(_identifier(name), taken)
        taken.add(own)
        return f"{above}/{own}" if above else own

    def _correctives(self, root: Any) -> None:
        from pxr import Vt

        table = {
            shape.name: {
                "drivers": Vt.StringArray([d.channel for d in activation.drivers]),
                "comesIn": Vt.DoubleArray([d.comes_in for d in activation.drivers]),
                "full": Vt.DoubleArray([d.full for d in activation.drivers]),
                "mixed": activation.mixed,
                "gain": activation.gain,
            }
            for shape in self._character.shapes
            if (activation := shape.activation) is not None
        }
        if table:
            root.SetCustomDataByKey("correctives", table)

    def _skeleton(self) -> None:
        from pxr import Gf, UsdSkel, Vt

        for bone in self._character.bones:
            self._paths[bone.name] = self._child(self._paths[bone.parent] if bone.parent else "", bone.export or bone.name)
        skeleton = UsdSkel.Skeleton.Define(self._stage, f"{self._root}/skeleton")
        skeleton.CreateJointsAttr(Vt.TokenArray(list(self._paths.values())))
        skeleton.CreateJointNamesAttr(Vt.TokenArray([b.export or b.name for b in self._character.bones]))
        bones = self._character.bones
        frames = rest_frames(bones)
        local = local_frames(frames, parent_numbers(bones))
        bind, rest = self._placing.frames(frames), self._placing.local_frames(local, parent_numbers(bones) < 0)
        skeleton.CreateBindTransformsAttr(Vt.Matrix4dArray([Gf.Matrix4d(f.T.tolist()) for f in bind]))  # row vectors
        skeleton.CreateRestTransformsAttr(Vt.Matrix4dArray([Gf.Matrix4d(f.T.tolist()) for f in rest]))

    def _mesh(self, part: Part) -> None:
        from pxr import UsdGeom, Vt

        mesh = UsdGeom.Mesh.Define(self._stage, self._child(self._root, part.name))
        mesh.GetPrim().SetDisplayName(part.name)
        points = np.asarray(self._store.get(part.points))
        faces = polygons(self._store, part)
        mesh.CreatePointsAttr(_vectors(self._placing.places(points)))
        mesh.CreateFaceVertexCountsAttr(Vt.IntArray.FromNumpy(faces.sizes.astype(np.int32)))
        mesh.CreateFaceVertexIndicesAttr(Vt.IntArray.FromNumpy(faces.corners.astype(np.int32)))
        mesh.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.catmullClark)
        if part.colours is not None:
            colours = mesh.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex)
            colours.Set(Vt.Vec3fArray.FromNumpy(np.asarray(self._store.get(part.colours), np.float32)))
        self._bind(part, mesh)
        self._shapes(part, mesh)

    def _bind(self, part: Part, mesh: Any) -> None:
        from pxr import UsdSkel, Vt

        found = find_binding(self._character, part.name)
        if found is None:
            return
        names = [b.name for b in self._character.bones]
        carried = [i for i in found.influences if find_bone(self._character, i.bone).role != "helper"]
        weights = dense_weights(self._store, carried, names, part.vertex_count)
        width = min(MOST_INFLUENCES, max(1, int((weights > 0).sum(axis=1).max())))
        joints = np.argsort(-weights, axis=1, kind="stable")[:, :width]
        amounts = np.take_along_axis(weights, joints, axis=1)
        binding = UsdSkel.BindingAPI.Apply(mesh.GetPrim())
        binding.CreateSkeletonRel().SetTargets([f"{self._root}/skeleton"])
        binding.CreateJointIndicesPrimvar(False, width).Set(
            Vt.IntArray.FromNumpy(np.where(amounts > 0, joints, 0).astype(np.int32).ravel())
        )
        binding.CreateJointWeightsPrimvar(False, width).Set(Vt.FloatArray.FromNumpy(amounts.astype(np.float32).ravel()))

    def _shapes(self, part: Part, mesh: Any) -> None:
        from pxr import UsdSkel, Vt

        made = [
            self._shape(mesh, shape.name, np.asarray(self._store.get(delta.vertices)), np.asarray(self._store.get(delta.offsets)))
            for shape in self._character.shapes
            for delta in shape.deltas
            if delta.part == part.name
        ]
        for target in (t for t in self._strip.lids if t.part == part.name):
            made.append(self._shape(mesh, target.name, target.vertices, target.offsets[-1]))
            for at, offsets in zip(target.closings[:-1].tolist(), target.offsets[:-1], strict=True):
                between = made[-1][1].CreateInbetween(f"closed_{round(100 * at)}")
                between.SetWeight(at)
                between.SetOffsets(_vectors(self._placing.places(offsets)))
        for found in (self._strip.target(k, part.name) for k in range(len(self._strip.values))):
            if found is not None:
                rows = np.flatnonzero(np.abs(found[1]).max(axis=1) > STILL)
                made.append(self._shape(mesh, found[0], rows, found[1][rows]))
        self._blend_shapes |= dict.fromkeys(name for name, _ in made)
        if made:
            binding = UsdSkel.BindingAPI.Apply(mesh.GetPrim())
            binding.CreateBlendShapesAttr(Vt.TokenArray([name for name, _ in made]))
            binding.CreateBlendShapeTargetsRel().SetTargets([shape.GetPath() for _, shape in made])

    def _shape(self, mesh: Any, name: str, vertices: Ints, offsets: Floats) -> tuple[str, Any]:
        from pxr import UsdSkel, Vt

        made = UsdSkel.BlendShape.Define(self._stage, self._child(str(mesh.GetPath()), name))
        made.CreateOffsetsAttr(_vectors(self._placing.places(offsets)))
        made.CreatePointIndicesAttr(Vt.IntArray.FromNumpy(np.asarray(vertices, np.int32)))
        return name, made


def _vectors(places: Floats) -> Any:
    from pxr import Vt

    return Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(places, np.float32))


def _identifier(name: str) -> str:
    plain = re.sub(r"\W", "_", name, flags=re.ASCII) or "unnamed"
    return plain if not plain[0].isdigit() else f"_{plain}"
