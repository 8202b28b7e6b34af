"""Every length of a character by a factor."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayHash, ArrayStore
from tightseam.document.model import Character, Link, Point


def rescaled(character: Character, store: ArrayStore, factor: float) -> Character:
    """The character `factor` times as large about the origin: points, pivots, landmarks, bones, offsets, reliefs, ways of bones."""

    def point(p: Point) -> Point:
        return (p[0] * factor, p[1] * factor, p[2] * factor)

    def array(key: ArrayHash) -> ArrayHash:
        values = np.asarray(store.get(key))
        return store.put((values * factor).astype(values.dtype))

    def link(of: Link) -> Link:
        return replace(of, gain=of.gain * factor) if of.kind == "bone" and of.by == "move" else of

    return replace(
        character,
        parts=tuple(replace(p, points=array(p.points), pivot=p.pivot and point(p.pivot)) for p in character.parts),
        landmarks=tuple(replace(m, point=point(m.point)) for m in character.landmarks),
        bones=tuple(replace(b, head=point(b.head), tail=point(b.tail)) for b in character.bones),
        shapes=tuple(replace(s, deltas=tuple(replace(d, offsets=array(d.offsets)) for d in s.deltas)) for s in character.shapes),
        reliefs=tuple(
            replace(r, clearance=array(r.clearance), settle=array(r.settle), swell=r.swell and array(r.swell)) for r in character.reliefs
        ),
        surface_reliefs=tuple(replace(r, cm=r.cm * factor, line=tuple(map(point, r.line))) for r in character.surface_reliefs),
        controls=tuple(replace(c, links=tuple(map(link, c.links))) for c in character.controls),
    )
