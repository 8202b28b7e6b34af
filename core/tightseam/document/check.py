"""Does a character hold together? Run on everything that comes from outside."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import own_spans
from tightseam.document.control_chains import chain_depth
from tightseam.document.errors import BadDocument
from tightseam.document.model import Binding, Bone, Character, CurveKeys, Lids, Lips, Part, Relief, Shape
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.geometry.types import Ints

FARTHEST = 1e5  # cm; a head a kilometre away is a mistake
MOST_VERTICES = 2_000_000
MOST_TURN = 360.0  # degrees a bone may be turned
MOST_KEYS = 64
CLOSEST_KEYS = 1e-6
MOST_RELIEF = 10.0  # cm
SQUARE = 1e-4  # how far products of a bone's axes may be from 0 and 1


def check_names(character: Character) -> None:
    """BadDocument where a name is doubled or points nowhere."""
    parts = _single([p.name for p in character.parts], "part")
    bones = _single([b.name for b in character.bones], "bone")
    _single([b.export or b.name for b in character.bones], "bone in exported files")
    shapes = _single([s.name for s in character.shapes], "shape")
    controls = _single([c.name for c in character.controls], "control")
    _single([s.name for s in character.seams], "seam")
    _single([p.name for p in character.poses], "pose")
    if not parts:
        raise BadDocument("The character has no parts.")
    own = set(own_spans(character))
    seen: set[str] = set()
    for bone in character.bones:
        if bone.parent is not None and bone.parent not in seen:
            raise BadDocument(f"The parent of the bone {bone.name}, {bone.parent}, does not come before it.")
        seen.add(bone.name)
        _check_bone(bone, bones)
    for b in character.bindings:
        _known(b.part, parts, "binding", "part")
        _check_ride(b, character, parts)
        for influence in b.influences:
            _known(influence.bone, bones, f"binding of {b.part}", "bone")
    for s in character.shapes:
        for delta in s.deltas:
            _known(delta.part, parts, f"shape {s.name}", "part")
    for r in character.reliefs:
        for name in (r.eye, r.skin, *(n for n, _ in r.followers)):
            _known(name, parts, "eye relief", "part")
    lids = _single([name for pair in character.lids for name in pair.names], "lid")
    for pair in character.lids:
        for name in (pair.eye, pair.skin, *(n for n, _ in pair.lashes)):
            _known(name, parts, f"lids {pair.side}", "part")
        for keys in (pair.line, *(k for f in (pair.follow_upper, pair.follow_lower) for k in (f.height, f.across, f.slide))):
            check_curve(keys, f"lids {pair.side}")
    reliefs = _single([r.name for r in character.surface_reliefs], "relief")
    for x in character.surface_reliefs:
        _check_relief_names(x, parts, reliefs)
    if len(character.lips) > 1:
        raise BadDocument("The character has more than one pair of lips.")
    for mouth in character.lips:
        _known(mouth.skin, parts, "lips", "part")
        check_curve(mouth.zip, "seal of the lips")
    seals, corners = (set(names) if character.lips else set() for names in (SEALS, CORNERS))
    linked = {"shape": shapes, "bone": bones, "lid": lids, "relief": reliefs, "seal": seals, "corner": corners, "control": controls}
    for c in character.controls:
        for link in c.links:
            _known(link.target, linked[link.kind], f"control {c.name}", link.kind)
            check_curve(link.curve, f"control {c.name}")
            if max(abs(link.gain), *(abs(k.value) for k in link.curve), 0) > FARTHEST:
                raise BadDocument(f"The control {c.name} does more to {link.target} than can be meant.")
    if chain_depth(character.controls) is None:
        raise BadDocument("Controls drive one another in a ring.")
    _single([p.name for p in character.plan], "pad of the face plan")
    for pad in character.plan:
        for axis in (pad.x, pad.y):
            if axis is not None:
                _known(axis, controls, f"pad {pad.name}", "control")
        if (pad.x is None and pad.y is None) or not all(0 <= c <= 1 for c in pad.place):
            raise BadDocument(f"The pad {pad.name} moves nothing, or lies beside the face plan.")
    for p in character.poses:
        for name in p.values:
            _known(name, controls | own, f"pose {p.name}", "control")
    for seam in character.seams:
        _known(seam.probe, parts, f"seam {seam.name}", "part")
        if seam.measure in ("ride", "clear"):
            _known(seam.solid or "", parts, f"seam {seam.name}", "part")
        if seam.measure == "ride":
            _known(seam.probe_set or "", next(set(p.sets) for p in character.parts if p.name == seam.probe), f"seam {seam.name}", "set")
    _single([s.name for s in character.selections], "selection")
    for kept in character.selections:
        _known(kept.part, parts, f"selection {kept.name}", "part")


def check_curve(keys: CurveKeys, where: str) -> None:
    """BadDocument where keys do not go upwards one after another, or there are too many."""
    if len(keys) > MOST_KEYS:
        raise BadDocument(f"A curve of the {where} has {len(keys)} keys; {MOST_KEYS} are the most.")
    if any(b.at - a.at < CLOSEST_KEYS for a, b in itertools.pairwise(keys)):
        raise BadDocument(f"The keys of a curve of the {where} do not stand one after another.")


def _check_relief_names(relief: Relief, parts: set[str], reliefs: set[str]) -> None:
    where = f"relief {relief.name}"
    _known(relief.part, parts, where, "part")
    if relief.twin is not None:
        _known(relief.twin, reliefs, where, "relief")
    check_curve(relief.profile, where)
    if abs(relief.cm) > MOST_RELIEF:
        raise BadDocument(f"The {where} goes {relief.cm:.3g} cm; {MOST_RELIEF:g} are the most.")
    if relief.direction == "along" and (relief.way is None or not np.linalg.norm(relief.way) > 0):
        raise BadDocument(f"The {where} goes along the surface, but does not say which way.")
    if relief.line and (len(relief.line) < 2 or np.ptp(relief.line, axis=0).max() <= 0):
        raise BadDocument(f"The line of the {where} has no length.")


def _check_ride(binding: Binding, character: Character, parts: set[str]) -> None:
    if (binding.ride is not None) != (binding.carrier == "ride") or (binding.ride and binding.influences):
        raise BadDocument(f"The binding of {binding.part} is half a ride: that has roots, and no bones of its own.")
    if binding.ride is not None:
        _known(binding.ride.on, parts, f"binding of {binding.part}", "part")
        if binding.ride.on == binding.part or any(b.part == binding.ride.on and b.ride for b in character.bindings):
            raise BadDocument(f"{binding.part} rides on {binding.ride.on}, which rides itself.")


def _check_bone(bone: Bone, names: set[str]) -> None:
    if bone.twin is not None:
        _known(bone.twin, names, f"bone {bone.name}", "bone")
    if np.abs([bone.base, bone.tip]).max() > FARTHEST:
        raise BadDocument(f"The bone {bone.name} lies {np.abs([bone.base, bone.tip]).max():.3g} cm out; check the units of the file.")
    axes = np.array(bone.axes).reshape(3, 3)
    if np.abs(axes @ axes.T - np.eye(3)).max() > SQUARE or np.linalg.det(axes) < 0:
        raise BadDocument(f"The axes of the bone {bone.name} are not at right angles, of length one and right-handed.")
    for spans, most in ((bone.turn, MOST_TURN), (bone.move, FARTHEST)):
        if any(not -most <= low <= 0 <= high <= most for low, high in spans):
            raise BadDocument(f"The limits of the bone {bone.name} do not hold its rest, or go beyond {most:g}.")


def check_arrays(character: Character, store: ArrayStore) -> None:
    """BadDocument where an array is missing, of the wrong form, not finite, or refers to vertices that are not there."""
    counts = {p.name: _check_part(p, store) for p in character.parts}
    for b in character.bindings:
        if b.ride and len(_indices(store, b.ride.roots, counts[b.ride.on], f"roots of {b.part}")) != counts[b.part]:
            raise BadDocument(f"The roots of {b.part} do not fit its vertices.")
        for i in b.influences:
            _check_rows(store, i.vertices, i.weights, 1, counts[b.part], f"weights of {i.bone} on {b.part}")
            weights = np.asarray(store.get(i.weights))
            if len(weights) and (weights.min() < 0 or weights.max() > 10):
                raise BadDocument(f"Weights of {i.bone} on {b.part} lie outside 0 to 10.")
        if b.dual is not None:
            _check_shares(store, b.dual, counts[b.part], f"dual quaternion skinning of {b.part}")
    check_shape_arrays(character.shapes, store, counts)
    for r in character.reliefs:
        for values in (r.amount, r.clearance, r.settle, *((r.swell,) if r.swell else ())):
            _check_rows(store, r.vertices, values, 1, counts[r.skin], f"eye relief of {r.eye}")
        for name, roots in r.followers:
            found = _indices(store, roots, counts[r.skin], f"eye relief of {name}")
            if len(found) != counts[name]:
                raise BadDocument(f"The eye relief of {name} gives {len(found)} roots for {counts[name]} vertices.")
    for pair in character.lids:
        _check_lids(pair, store, counts)
    for x in character.surface_reliefs:
        _check_rows(store, x.vertices, x.region, 1, counts[x.part], f"relief {x.name}")
        _check_shares(store, x.region, None, f"relief {x.name}")
    for mouth in character.lips:
        _check_lips(mouth, store, counts[mouth.skin])
    for kept in character.selections:
        _indices(store, kept.vertices, counts[kept.part], f"selection {kept.name}")


def check_shape_arrays(shapes: Iterable[Shape], store: ArrayStore, counts: Mapping[str, int]) -> None:
    """BadDocument where what a shape does fits no part; `counts` are vertices by part."""
    for s in shapes:
        for d in s.deltas:
            _known(d.part, counts, f"shape {s.name}", "part")
            _check_rows(store, d.vertices, d.offsets, 3, counts[d.part], f"shape {s.name} on {d.part}")


def _check_lids(pair: Lids, store: ArrayStore, counts: dict[str, int]) -> None:
    where = f"lids {pair.side}"
    _check_rows(store, pair.vertices, pair.share, 1, counts[pair.skin], where)
    moving = np.asarray(store.get(pair.vertices))
    if np.asarray(store.get(pair.upper)).shape != moving.shape:
        raise BadDocument(f"The {where} do not say of each vertex which lid it belongs to.")
    margins = [_indices(store, key, counts[pair.skin], where) for key in (pair.upper_margin, pair.lower_margin)]
    if min(len(m) for m in margins) < 3 or any(margins[0][k] != margins[1][k] for k in (0, -1)):
        raise BadDocument(f"The margins of the {where} do not share both corners.")
    if not np.isin(np.concatenate(margins), moving).all():
        raise BadDocument(f"The margins of the {where} hold vertices that do not move with them.")
    for name, roots in pair.lashes:
        found = _indices(store, roots, counts[pair.skin], f"{where}, {name}")
        if len(found) != counts[name] or not np.isin(found, moving).all():
            raise BadDocument(f"The roots of {name} do not fit its vertices and the {where}.")


def _check_lips(lips: Lips, store: ArrayStore, count: int) -> None:
    for values in (lips.share, lips.place, lips.corner):
        _check_rows(store, lips.vertices, values, 1, count, "lips")
    for values in (lips.share, lips.corner):
        _check_shares(store, values, None, "lips")
    lines = [_indices(store, key, count, "lips") for key in (lips.upper, lips.lower)]
    if min(len(x) for x in lines) < 3 or any(lines[0][k] != lines[1][k] for k in (0, -1)):
        raise BadDocument("The lines of the lips do not share both corners.")


def _check_shares(store: ArrayStore, key: str, count: int | None, where: str) -> None:
    shares = np.asarray(store.get(key))
    if shares.ndim != 1 or shares.dtype.kind != "f" or (count is not None and len(shares) != count):
        raise BadDocument(f"{where.capitalize()}: the shares do not fit the vertices.")
    if len(shares) and not (shares.min() >= 0 and shares.max() <= 1):
        raise BadDocument(f"{where.capitalize()}: a share lies outside 0 to 1.")


def _check_part(part: Part, store: ArrayStore) -> int:
    points = np.asarray(store.get(part.points))
    if points.ndim != 2 or points.shape[1] != 3 or points.dtype.kind != "f" or not len(points):
        raise BadDocument(f"{part.name} has no points.")
    if len(points) > MOST_VERTICES:
        raise BadDocument(f"{part.name} has {len(points)} vertices; {MOST_VERTICES} are the most.")
    if not np.isfinite(points).all():
        bad = int(np.flatnonzero(~np.isfinite(points).all(axis=1))[0])
        raise BadDocument(f"Vertex {bad} of {part.name} is not at a finite place.")
    if np.abs(points).max() > FARTHEST:
        bad = int(np.abs(points).max(axis=1).argmax())
        raise BadDocument(f"Vertex {bad} of {part.name} lies {np.abs(points).max():.3g} cm out; check the units of the file.")
    sizes = np.asarray(store.get(part.sizes))
    if sizes.ndim != 1 or not len(sizes) or sizes.dtype.kind not in "iu" or sizes.min() < 3:
        raise BadDocument(f"{part.name} has no polygons of three or more corners.")
    corners = _indices(store, part.corners, len(points), f"polygons of {part.name}")
    if int(sizes.sum()) != len(corners):
        raise BadDocument(f"The polygons of {part.name} do not add up to their corners.")
    if len(points) != part.vertex_count or len(sizes) != part.polygon_count:
        raise BadDocument(f"{part.name} does not have as many vertices and polygons as it says.")
    for name, key in part.sets.items():
        _indices(store, key, len(points), f"vertex set {name} of {part.name}")
    if part.source is not None:
        source = np.asarray(store.get(part.source))
        most = part.delivered.vertex_count if part.delivered else MOST_VERTICES
        if source.shape != (len(points),) or source.dtype.kind not in "iu" or source.min() < -1 or source.max() >= most:
            raise BadDocument(f"The source map of {part.name} does not fit its mesh.")
    if part.split is not None:
        split = _indices(store, part.split, len(points), f"split map of {part.name}")
        if part.delivered is None or len(split) != part.delivered.vertex_count:
            raise BadDocument(f"The split map of {part.name} does not fit the file it came from.")
    for colours, rows in ((part.colours, len(points)), (part.face_colours, len(sizes))):
        if colours is not None and np.asarray(store.get(colours)).shape != (rows, 3):
            raise BadDocument(f"The colours of {part.name} do not fit its mesh.")
    return len(points)


def _indices(store: ArrayStore, key: str, count: int, where: str) -> Ints:
    found = np.asarray(store.get(key))
    if found.ndim != 1 or found.dtype.kind not in "iu":
        raise BadDocument(f"The vertex numbers in {where} are not whole numbers in a row.")
    if len(found) and (found.min() < 0 or found.max() >= count):
        raise BadDocument(f"{where.capitalize()}: vertex {int(found.max())} is out of range, there are {count}.")
    return found


def _check_rows(store: ArrayStore, vertices: str, values: str, width: int, count: int, where: str) -> None:
    found = _indices(store, vertices, count, where)
    rows = np.asarray(store.get(values))
    if rows.shape != ((len(found),) if width == 1 else (len(found), width)) or rows.dtype.kind != "f":
        raise BadDocument(f"{where.capitalize()}: {len(found)} vertices do not fit values of form {rows.shape}.")
    if not np.isfinite(rows).all() or (len(rows) and np.abs(rows).max() > FARTHEST):
        raise BadDocument(f"{where.capitalize()}: a value is not finite or far too large.")
    if len(np.unique(found)) != len(found):
        raise BadDocument(f"{where.capitalize()}: a vertex is listed twice.")


def _single(names: list[str], noun: str) -> set[str]:
    for name in names:
        if not name or names.count(name) > 1:
            raise BadDocument(f"Two things of kind {noun} are called “{name}”." if name else f"A {noun} has no name.")
    return set(names)


def _known(name: str, names: Iterable[str], where: str, noun: str) -> None:
    if name not in names:
        raise BadDocument(f"The {where} speaks of a {noun} “{name}” that is not there.")
