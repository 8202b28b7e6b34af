"""Checks against the mirror image: symmetry of positions and topology, and jumbled patches that the other side has not."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.sparse import csr_matrix, diags
from scipy.sparse.csgraph import connected_components

from tightseam.checkin.check import Check, count, place
from tightseam.checkin.subject import Subject
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Repair
from tightseam.geometry.adjacency import boundary
from tightseam.geometry.symmetry import symmetry_map
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.found import Piece

MATCH = 0.05  # mean edge lengths within which a mirror image counts as met
ROUGH_DIFFERENCE = 0.12  # local edge lengths by which a vertex's own deviation may differ from its neighbours'
SMALLEST_PATCH = 3
ROUGHER = 1.8  # times as rough as its mirror image, by itself
LEAST_ROUGH = 0.2  # edge lengths
LOST_SHARE = 0.5  # of vertices without a partner from where a head counts as asymmetric


def mirror_checks(subject: Subject) -> Iterator[Check]:
    skin, frame = subject.skin, subject.frame
    if skin is None or frame is None:
        return
    edge = np.linalg.norm(np.diff(skin.points[skin.edges.ends], axis=1)[:, 0], axis=1)
    partner = symmetry_map(skin.points, skin.polygons, frame.plane, MATCH * float(edge.mean()))
    matched = partner >= 0
    off = np.zeros_like(skin.points)
    off[matched] = skin.points[matched] - frame.plane.mirrored(skin.points)[partner[matched]]
    deviation = np.linalg.norm(off, axis=1) * CM_TO_MM
    name = skin.part.name
    limit = subject.limits["symmetry"]
    wrong = matched & (deviation > limit)
    beyond = f", {count(int(wrong.sum()), 'vertex', 'vertices')} beyond {limit:g} mm" if wrong.any() else ""
    yield Check(
        "symmetry_positions", "Symmetry of positions", "symmetry", "look" if wrong.any() else "fine",
        f"{deviation.max():.2f} mm at most{beyond}",
        "Weights, shapes and landmarks are made on one side and mirrored. What differs must be made twice, or comes out wrong on one side.",
        "If it is not meant: make it symmetric from the better side.",
        ("symmetry",), place(name, skin.vertices[wrong]),
        repairs=_mirrorings(name) if wrong.any() else (),
    )  # fmt: skip
    lost = np.flatnonzero(~matched)
    whole = len(lost) > LOST_SHARE * len(matched)
    yield Check(
        "symmetry_topology", "Symmetry of topology", "symmetry", "look" if len(lost) else "fine",
        "every vertex has its mirror image" if not len(lost) else f"{count(len(lost), 'vertex', 'vertices')} without a mirror image",
        "A vertex without a partner cannot be mirrored to: its weights and deltas are interpolated at best."
        + (" So many are without that the head is asymmetric as a whole; mirroring will go by position." if whole else ""),
        "Ask for the same faces on both sides.",
        places=place(name, skin.vertices[lost]) if not whole else (),
    )  # fmt: skip
    yield _jumbled(subject, skin, partner, off)


def _mirrorings(part: str) -> tuple[Repair, ...]:
    sides = (("L", "left", "right"), ("R", "right", "left"))
    return tuple(Repair(f"Mirror {a} to {b}", "mesh.make_symmetric", {"part": part, "from_side": s}) for s, a, b in sides)


def _jumbled(subject: Subject, skin: Piece, partner: Ints, off: Floats) -> Check:
    limit = subject.limits["jumble"]
    found = jumbled_vertices(skin, partner, off, limit)
    name = skin.part.name
    vertices = skin.vertices[found]
    return Check(
        "jumbled", "Jumbled patches", "skin", "fault" if len(found) else "fine",
        f"{count(len(found), 'vertex', 'vertices')} out of order" if len(found) else "none",
        "Vertices that lie out of order crumple in every pose, however good the weights are.",
        "Smooth the patch: its border stays where it is.",
        ("jumble",), place(name, vertices),
        repairs=(Repair("Smooth the patch", "mesh.smooth_patch", {"part": name, "vertices": vertices.tolist()}),) if len(found) else (),
    )  # fmt: skip


def jumbled_vertices(skin: Piece, partner: Ints, off: Floats, limit: float) -> Ints:
    """Vertices of patches that are rough where their mirror image is not.

    A form that is meant is the same on both sides, or differs smoothly. So with e the deviation of a vertex from its mirror
    image, |e - mean of e over its neighbours| in edge lengths tells disorder from form; of the two sides the jumbled one is
    by far the rougher by itself. Vertices without a partner are judged by their own roughness alone.
    """
    around = skin.surface.neighbours
    degree = np.maximum(np.asarray(around.sum(axis=1)).ravel(), 1)
    mean = diags(1 / degree) @ around
    spacing = _spacing(skin, around, degree)
    own = np.linalg.norm(mean @ skin.points - skin.points - mean @ (mean @ skin.points - skin.points), axis=1) / spacing
    usable = (partner >= 0) & ~boundary(skin.polygons, len(skin.points))
    differing = np.linalg.norm(off - _mean_over(around, off, partner >= 0), axis=1) / spacing
    rough = usable & (differing > ROUGH_DIFFERENCE)
    rough |= (partner < 0) & (own > limit)
    label = _patches(around, rough)
    found: list[Ints] = []
    sizes = np.bincount(label[rough], minlength=1) if rough.any() else np.zeros(1, int)
    for patch in np.flatnonzero(sizes >= SMALLEST_PATCH):
        members = np.flatnonzero(rough & (label == patch))
        images = partner[members]
        images = images[images >= 0]
        across_the_middle = bool(np.isin(images, members).any())
        form = float(own[images].mean()) if len(images) and not across_the_middle else 0.0
        if own[members].mean() > max(ROUGHER * form, LEAST_ROUGH):
            found.append(members)
    return np.concatenate(found) if found else np.zeros(0, int)


def _spacing(skin: Piece, around: csr_matrix, degree: Floats) -> Floats:
    ends = skin.edges.ends
    length = np.linalg.norm(skin.points[ends[:, 0]] - skin.points[ends[:, 1]], axis=1)
    total = np.bincount(ends.ravel(), np.repeat(length, 2), len(skin.points))
    return np.asarray(np.maximum(total / degree, 1e-9))


def _mean_over(around: csr_matrix, values: Floats, known: Bools) -> Floats:
    """Mean of `values` (N, 3) over those neighbours that are known."""
    weight = np.asarray(around @ known.astype(float))
    return np.asarray((around @ (values * known[:, None])) / np.maximum(weight, 1)[:, None])


def _patches(around: csr_matrix, chosen: Bools) -> Ints:
    """Number of the connected patch of each chosen vertex, (N,); vertices two edges apart count as connected."""
    index = np.flatnonzero(chosen)
    label = np.zeros(len(chosen), int)
    near = around[index] @ around[:, index] + around[index][:, index]
    label[index] = connected_components(near, directed=False)[1]
    return label
