"""Selections of vertices: changed, and what carries them; what is wrong with weights."""

import numpy as np
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import by_name, polygons
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import shape as find_shape
from tightseam.edits.registry import Step, make_step
from tightseam.exchange.weights_csv import Match, read_weights_csv
from tightseam.geometry.adjacency import islands
from tightseam.head.found import plane_of
from tightseam.weights.patch import Patch
from tightseam.weights.rows import MOST_RECEIVED
from tightseam.weights.selection import grown

from bench.rigs import Rig
from bench.weight_schemas import BoneShareOut, IslandOut, SelectIn, SelectionIn, SelectionOut, SelectOut, TableOut

MOST_ISLANDS = 200
WHOLE = 1e-4  # how far a total may be from 1


def changed(rig: Rig, request: SelectIn) -> SelectOut:
    if request.how == "saved":
        found = by_name(rig.document.selections, request.saved or "", "selection")
        return SelectOut(vertices=rig.store.get(found.vertices).tolist())
    if request.how == "shape":
        return SelectOut(vertices=_moved_by(rig, request.shape or "", request.part))
    if request.how == "cap":
        return SelectOut(vertices=rig.store.get(by_name(rig.document.caps, request.cap or "", "cap").vertices).tolist())
    if request.how == "weight":
        return SelectOut(vertices=_by_weight(rig, request))
    whole = request.how in ("whole", "invert") and not request.vertices
    patch = Patch(rig.document, rig.store, request.part, request.vertices or ([0] if whole else []), [])
    if request.how == "across":
        image = patch.mirrored(plane_of(rig.document, rig.store))
        if (image < 0).all():
            raise BadRequest("None of these vertices has a mirror image on its part.")
        return SelectOut(vertices=np.unique(image[image >= 0]).tolist())
    picked = np.zeros(0, int) if whole else patch.vertices
    return SelectOut(vertices=grown(polygons(rig.store, patch.part), picked, patch.part.vertex_count, request.how).tolist())


def _moved_by(rig: Rig, shape: str, part: str) -> list[int]:
    moved = next((d for d in find_shape(rig.document, shape).deltas if d.part == find_part(rig.document, part).name), None)
    return [] if moved is None else rig.store.get(moved.vertices).tolist()


def _by_weight(rig: Rig, request: SelectIn) -> list[int]:
    if request.bone is None:
        raise BadRequest("Say which bone's weights to select by.")
    patch = Patch(rig.document, rig.store, request.part, [0], [])
    column = patch.column(request.bone)
    whole = Patch(rig.document, rig.store, request.part, range(patch.part.vertex_count), [])
    weights = whole.rows[:, column]
    return np.flatnonzero((weights >= request.low) & (weights <= request.high)).tolist()


def table(rig: Rig, request: SelectionIn) -> TableOut:
    patch = Patch(rig.document, rig.store, request.part, request.vertices, [])
    columns = [k for k in np.argsort(-patch.rows.sum(axis=0), kind="stable") if patch.rows[:, k].any()]
    return TableOut(
        vertices=patch.vertices.tolist(),
        bones=[patch.bones[k] for k in columns],
        weights=patch.rows[:, columns].round(6).tolist(),
        totals=patch.rows.sum(axis=1).round(6).tolist(),
    )


def read_table(rig: Rig, data: bytes, part: str, match: Match) -> Step:
    """The edit that gives a part the weights of a CSV table; bones that are not in it lose theirs on its vertices."""
    found = read_weights_csv(data, rig.document, rig.store, part, match)
    params = {
        "part": part, "vertices": found.vertices.tolist(), "bones": list(found.bones), "weights": found.weights.tolist(), "others": "clear",
    }  # fmt: skip
    return make_step("weights.table", params)


def islands_of(rig: Rig, part: str) -> list[IslandOut]:
    """What carries each island of a part, the largest island first."""
    found = find_part(rig.document, part)
    patch = Patch(rig.document, rig.store, part, range(found.vertex_count), [])
    label = islands(polygons(rig.store, found), found.vertex_count)
    order = np.argsort(-np.bincount(label), kind="stable")[:MOST_ISLANDS]
    rows = [(np.flatnonzero(label == k), patch.rows[label == k]) for k in order]
    return [IslandOut(vertices=own.tolist(), bones=_shares(patch.bones, weights)) for own, weights in rows]


def _shares(bones: list[str], rows: np.ndarray) -> list[BoneShareOut]:
    """The bones that have any weight, those with most first."""
    shares = [
        BoneShareOut(bone=bone, mean=float(w.mean()), most=float(w.max()), vertices=int((w > 0).sum()))
        for bone, w in zip(bones, rows.T, strict=True)
        if w.any()
    ]
    return sorted(shares, key=lambda s: -s.mean)


def summary(rig: Rig, request: SelectionIn) -> SelectionOut:
    patch = Patch(rig.document, rig.store, request.part, request.vertices, [])
    rows = patch.rows
    return SelectionOut(
        count=len(rows),
        bones=_shares(patch.bones, rows),
        off=int((np.abs(rows.sum(axis=1) - 1) > WHOLE).sum()),
        many=int(((rows > 0).sum(axis=1) > MOST_RECEIVED).sum()),
    )
