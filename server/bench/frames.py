"""Meshes and frames for the stage, as msgpack."""

import zlib
from typing import Any

import msgpack
import numpy as np
from tightseam.deform.evaluator import vertex_normals
from tightseam.deform.skeleton import checked_values
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import polygons
from tightseam.document.lookup import relief as find_relief
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Part
from tightseam.document.sections import keys_of
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.jaw.reliefs import relief_values
from tightseam.lids.maps import map_of
from tightseam.lids.tune import lids_of
from tightseam.shapes.offsets import offsets_of

from bench.packages import arrived, difference
from bench.rigs import Rig, edges_of, subdivided
from bench.schemas import FrameIn, MapOf, ShapeOf
from bench.tints import tint

NO_TRIANGLES = np.zeros((0, 3), np.uint32)


def meshes(rig: Rig) -> bytes:
    """Per part what does not change with the pose: triangles, wires, colours, for the true mesh and its subdivision.

    `owners` gives the true vertex that each polygon of the subdivision touches: a click on it picks that vertex.
    """
    return DERIVED.get(("packed meshes", *keys_of(rig.document, ("parts",))), lambda: _packed(rig))


def _packed(rig: Rig) -> bytes:
    return msgpack.packb({"parts": [_mesh(rig, part) for part in rig.document.parts]})


def _mesh(rig: Rig, part: Part) -> dict[str, Any]:
    rest = np.asarray(rig.store.get(part.points))
    own = polygons(rig.store, part)
    matrix, finer = subdivided(rig.store, part)
    colours = rig.store.get(part.colours) if part.colours else None
    face_colours = rig.store.get(part.face_colours) if part.face_colours else None
    triangles, faces = triangulate_with_faces(rest, own)
    fine_triangles, fine_faces = triangulate_with_faces(matrix @ rest, finer)
    return {
        "name": part.name,
        "kind": part.kind,
        "count": part.vertex_count,
        "triangles": _u32(triangles),
        "wires": _u32(edges_of(rig.store, part)),
        "colours": None if colours is None else _f32(colours),
        "faceColours": None if face_colours is None else _f32(face_colours[faces]),
        "smooth": {
            "count": matrix.shape[0],
            "owners": _u32(own.corners),
            "triangles": _u32(fine_triangles),
            "colours": None if colours is None else _f32(matrix @ colours),
            "faceColours": None if face_colours is None else _f32(face_colours[own.face_of_corner[fine_faces]]),
        },
    }


def frame(rig: Rig, request: FrameIn, other: Rig | None = None) -> bytes:
    """Posed points and normals of each part that the client does not show yet, and the weights of a bone if asked for. `other` is what a
    difference is held against: the pinned revision, or what is there of an edit that is tried."""
    values = checked_values(rig.document, request.values, request.overdrive)
    evaluator = rig.evaluator()
    points, normals = evaluator.frame(values)
    off = None
    if request.arrived is not None:
        posed = arrived(request.arrived, evaluator.meshes, points, values)
        off, points = difference(points, posed), posed
        vertex_normals(normals, points, evaluator.meshes.quads, evaluator.meshes.triangles)
    parts = {}
    for part in rig.document.parts:
        rows = evaluator.meshes.rows(part.name)
        digest = zlib.adler32(points[rows].view(np.uint8).reshape(-1).data) * 2 + request.smooth
        if request.known.get(part.name) != digest:
            p, n = _smooth(rig, part, points[rows]) if request.smooth else (points[rows], normals[rows])
            parts[part.name] = {"digest": digest, "points": _f32(p), "normals": _f32(n)}
    answer = {"revision": request.revision, "parts": parts, "bones": _bones(rig, evaluator.posed_by)}
    if off is not None:
        answer["off"] = float(off.max())  # of the true mesh, whatever is drawn
    if request.handles:
        answer["handles"] = _f32(evaluator.skeleton.handles(values))
    if request.weights_of is not None:
        answer["weights"] = weights(rig, request.weights_of, request.smooth)
    if request.map_of is not None:
        answer["weights"] = lid_map(rig, request.map_of, request.smooth)
    if request.region_of is not None:
        answer["weights"] = region(rig, request.region_of, request.smooth)
    if request.shape_of is not None:
        answer["weights"] = shape_size(rig, request.shape_of, request.smooth)
    if request.tint is not None:
        tints = tint(rig, request, other) if off is None else evaluator.meshes.by_part(off)
        answer["tint"] = {p.name: _f32(_fine(rig, p, tints[p.name]) if request.smooth else tints[p.name]) for p in rig.document.parts}
    return msgpack.packb(answer)


def _fine(rig: Rig, part: Part, values: np.ndarray) -> np.ndarray:
    return subdivided(rig.store, part)[0] @ values


def _smooth(rig: Rig, part: Part, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    matrix, finer = subdivided(rig.store, part)
    fine = np.ascontiguousarray(matrix @ points, np.float32)
    normals = np.empty_like(fine)
    vertex_normals(normals, fine, finer.corners.reshape(-1, 4).view(np.uint32), NO_TRIANGLES)
    return fine, normals


def _bones(rig: Rig, matrices: np.ndarray) -> bytes:
    """Posed base and tip of each bone, (B, 2, 3)."""
    ends = np.array([[(*b.base, 1.0), (*b.tip, 1.0)] for b in rig.document.bones]).reshape(-1, 2, 4)
    return _f32(np.einsum("bij,bej->bei", matrices[:, :3], ends))


def weights(rig: Rig, bone: str, smooth: bool) -> dict[str, Any]:
    """Per part, the weight of a bone and the total on each vertex: 1 where a part rides, which has no weights to add up."""
    find_bone(rig.document, bone)
    answer = {}
    for part in rig.document.parts:
        bound = find_binding(rig.document, part.name)
        own, total = np.zeros(part.vertex_count, np.float32), np.zeros(part.vertex_count, np.float32)
        for influence in bound.influences if bound else ():
            at, values = rig.store.get(influence.vertices), rig.store.get(influence.weights)
            total[at] += values
            if influence.bone == bone:
                own[at] += values
        if bound is not None and bound.ride is not None:
            total[:] = 1
        answer[part.name] = _ramp(rig, part, own, total, smooth)
    return answer


def lid_map(rig: Rig, wanted: MapOf, smooth: bool) -> dict[str, Any]:
    """The values of a map of lids on the skin."""
    pair = lids_of(rig.document, wanted.side)
    return _on_part(rig, pair.skin, map_of(rig.document, rig.store, pair, wanted.map), smooth)


def region(rig: Rig, name: str, smooth: bool) -> dict[str, Any]:
    """The region of a relief on its part."""
    relief = find_relief(rig.document, name)
    return _on_part(rig, relief.part, relief_values(rig.document, rig.store, relief), smooth)


def shape_size(rig: Rig, wanted: ShapeOf, smooth: bool) -> dict[str, Any]:
    """Per part, how far a shape moves each vertex in parts of the farthest; totals are not 1 where it moves less than can be meant."""
    offsets = offsets_of(rig.document, rig.store, find_shape(rig.document, wanted.shape))
    far = {n: CM_TO_MM * np.linalg.norm(x, axis=1) for n, x in offsets.items()}
    most = max((float(x.max()) for x in far.values()), default=0.0) or 1.0
    answer = {}
    for part in rig.document.parts:
        own = far.get(part.name, np.zeros(part.vertex_count))
        answer[part.name] = _ramp(rig, part, own / most, np.where((own > 0) & (own < wanted.below), 0.0, 1.0), smooth)
    return answer


def _on_part(rig: Rig, name: str, values: np.ndarray, smooth: bool) -> dict[str, Any]:
    """Per part, as weights are: values on one of them, nothing elsewhere, and all totals 1."""
    answer = {}
    for part in rig.document.parts:
        own = values if part.name == name else np.zeros(part.vertex_count)
        answer[part.name] = _ramp(rig, part, own, np.ones(part.vertex_count), smooth)
    return answer


def _ramp(rig: Rig, part: Part, own: np.ndarray, total: np.ndarray, smooth: bool) -> dict[str, Any]:
    own, total = (_fine(rig, part, x) if smooth else x for x in (own, total))
    return {"own": _f32(own), "total": _f32(total)}


def _f32(array: np.ndarray) -> bytes:
    return np.ascontiguousarray(array, np.float32).tobytes()


def _u32(array: np.ndarray) -> bytes:
    return np.ascontiguousarray(array, np.uint32).tobytes()
