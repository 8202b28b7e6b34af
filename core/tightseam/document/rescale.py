"""Every length of a character by a factor."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayHash, ArrayStore
from tightseam.document.channels import channels_of
from tightseam.document.model import Bone, Character, Link, Point, Pose, Span
from tightseam.document.mouth_model import MOST_STICK


def rescaled(character: Character, store: ArrayStore, factor: float) -> Character:
    """The character `factor` times as large about the origin: points, pivots, landmarks, bones and how far they move, offsets, reliefs,
    lips, poses. Lips that stick do so over no more than what a document allows."""
    moves = {c.name for b in character.bones for c in channels_of(b) if c.kind == "move"}

    def point(p: Point) -> Point:
        return (p[0] * factor, p[1] * factor, p[2] * factor)

    def array(key: ArrayHash) -> ArrayHash:
        values = np.asarray(store.get(key))
        return store.put((values * factor).astype(values.dtype))

    def link(of: Link) -> Link:
        return replace(of, gain=of.gain * factor) if of.kind == "bone" and of.by == "move" else of

    def span(of: Span) -> Span:
        return (of[0] * factor, of[1] * factor)

    def bone(b: Bone) -> Bone:
        x, y, z = map(span, b.move)
        return replace(b, base=point(b.base), tip=point(b.tip), move=(x, y, z), envelope=b.envelope and span(b.envelope))

    def pose(p: Pose) -> Pose:
        return replace(p, values={name: value * factor if name in moves else value for name, value in p.values.items()})

    return replace(
        character,
        parts=tuple(replace(p, points=array(p.points), pivot=p.pivot and point(p.pivot)) for p in character.parts),
        landmarks=tuple(replace(m, point=point(m.point)) for m in character.landmarks),
        bones=tuple(map(bone, character.bones)),
        shapes=tuple(replace(s, deltas=tuple(replace(d, offsets=array(d.offsets)) for d in s.deltas)) for s in character.shapes),
        reliefs=tuple(
            replace(r, clearance=array(r.clearance), settle=array(r.settle), swell=r.swell and array(r.swell)) for r in character.reliefs
        ),
        surface_reliefs=tuple(replace(r, cm=r.cm * factor, line=tuple(map(point, r.line))) for r in character.surface_reliefs),
        lips=tuple(replace(x, stick=min(x.stick * factor, MOST_STICK)) for x in character.lips),
        controls=tuple(replace(c, links=tuple(map(link, c.links))) for c in character.controls),
        poses=tuple(map(pose, character.poses)),
    )
