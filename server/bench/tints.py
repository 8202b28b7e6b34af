"""Differences that the stage shows as colours: left against right, now against a pinned revision, posed against the neutral."""

import numpy as np
from tightseam.brush.canvas import canvas_of
from tightseam.deform.compare import in_head, mirrored_difference, mirrored_weights, stretched
from tightseam.deform.skeleton import checked_values
from tightseam.document.channels import channels
from tightseam.document.errors import BadRequest
from tightseam.document.model import Part
from tightseam.document.units import CM_TO_MM
from tightseam.weights.patch import Patch

from bench.rigs import Rig, edges_of
from bench.schemas import FrameIn


def tint(rig: Rig, request: FrameIn, other: Rig | None) -> dict[str, np.ndarray]:
    """Per part the difference on each vertex: mm, or per cent for weights and stretch."""
    if request.tint == "weights":
        return {p.name: 100 * _weights(rig, p) for p in rig.document.parts}
    now, to_head = _posed(rig, request)
    if request.tint == "stretch":
        return {p.name: stretched(np.asarray(rig.store.get(p.points)), now[p.name], edges_of(rig.store, p)) for p in rig.document.parts}
    if request.tint == "dual":
        return _dual(rig, request)
    if request.tint == "arrived":
        raise BadRequest("Make a package first: then what arrives can be held against what was made.")
    if request.tint in ("pin", "draft"):
        if other is None:
            raise BadRequest("Pin a revision first, then compare." if request.tint == "pin" else "Nothing is tried.")
        before, _ = _posed(other, request.model_copy(update={"values": _known(other, request.values)}))
        return {n: _apart(x, before.get(n)) for n, x in now.items()}
    canvases = {p.name: canvas_of(rig.document, rig.store, p) for p in rig.document.parts}
    return {n: mirrored_difference(in_head(x, to_head), canvases[n].partners, canvases[n].plane) for n, x in now.items()}


def _known(rig: Rig, values: dict[str, float]) -> dict[str, float]:
    """Of some values those of controls that there are; what came later is not there to be held against."""
    controls, own = {c.name for c in rig.document.controls}, channels(rig.document.bones)
    return {n: v for n, v in values.items() if n in controls or n in own or n.endswith(".strength")}


def _posed(rig: Rig, request: FrameIn) -> tuple[dict[str, np.ndarray], np.ndarray]:
    """Posed points (N, 3) of each part, and what brings them into the space of the neutral head."""
    values = checked_values(rig.document, request.values, request.overdrive)
    evaluator = rig.evaluator()
    points = evaluator.points(values).astype(float)
    return {n: points[evaluator.meshes.rows(n)] for n in evaluator.meshes.names}, evaluator.to_head(evaluator.posed_by)


def _dual(rig: Rig, request: FrameIn) -> dict[str, np.ndarray]:
    """How far dual quaternions take each vertex from where linear skinning does."""
    values = checked_values(rig.document, request.values, request.overdrive)
    with rig.all_linear() as linear_only, rig.all_dual() as dual_only:
        linear, dual = (evaluator.points(values) for evaluator in (linear_only, dual_only))
        meshes = linear_only.meshes
    apart = CM_TO_MM * np.linalg.norm(linear - dual, axis=1)
    return {n: apart[meshes.rows(n)] for n in meshes.names}


def _apart(now: np.ndarray, before: np.ndarray | None) -> np.ndarray:
    if before is None or before.shape != now.shape:
        return np.zeros(len(now))
    return CM_TO_MM * np.linalg.norm(now - before, axis=1)


def _weights(rig: Rig, part: Part) -> np.ndarray:
    patch = Patch(rig.document, rig.store, part.name, range(part.vertex_count), [])
    return mirrored_weights(patch.rows, canvas_of(rig.document, rig.store, part).partners, patch.twins)
