"""A body stand-in: shoulders and chest with spine, neck and head bones, and a nod and turn."""

from __future__ import annotations

import numpy as np

from tightseam.demo.shape import Array
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_joints
from tightseam.document.make import make_influences, make_part
from tightseam.document.model import About, Binding, Bone, Character, Control, Landmark, Link, Point, Pose
from tightseam.geometry.polygons import Polygons
from tightseam.weights.chain import chain_weights

AROUND = 28
# height, half width, half depth, how far forward, how square; cm from the waist to the collar
ROWS = (
    (-42.0, 13.5, 8.6, -1.5, 2.2), (-36.0, 13.8, 8.9, -1.4, 2.3), (-30.0, 14.4, 9.4, -1.4, 2.4), (-24.0, 15.2, 9.8, -1.5, 2.5),
    (-18.0, 16.2, 9.8, -1.8, 2.6), (-13.0, 17.2, 9.2, -2.2, 2.7), (-9.0, 17.4, 8.2, -2.5, 2.6), (-6.0, 16.0, 7.2, -2.7, 2.4),
    (-3.6, 13.2, 6.4, -2.8, 2.2), (-1.8, 9.8, 5.8, -2.8, 2.0), (-0.4, 7.0, 5.0, -2.7, 2.0), (1.0, 5.2, 4.4, -2.6, 2.0),
)  # fmt: skip
JOINTS = {  # name: label, parent, height, forward
    "spine_1": ("Spine 1", None, -42.0, -1.5), "spine_2": ("Spine 2", "spine_1", -28.0, -1.5), "chest": ("Chest", "spine_2", -14.0, -2.5),
    "neck": ("Neck", "chest", -0.5, -3.0), "head": ("Head", "neck", 8.0, -1.5),
}  # fmt: skip
CROWN: Point = (0.0, 26.0, 0.0)
CLOTH = (0.25, 0.36, 0.40)


def body_stand_in(story: str, store: ArrayStore) -> Character:
    """A character of one part. Its poses in order are the clip: rest, nod, rest, turn left, turn right."""
    points, polygons = _torso()
    part = make_part(store, "body", "body", points, polygons, np.tile(CLOTH, (len(points), 1)))
    bones = _bones()
    names = [b.name for b in bones]
    along = chain_weights(points, chain_joints(bones))
    controls = (
        Control("head_nod", "Head nod", -30, 30, 0, (Link("bone", "neck", 0.4, "x"), Link("bone", "head", 0.6, "x")), "°"),
        Control("head_turn", "Head turn", -60, 60, 0, (Link("bone", "neck", 0.4, "y"), Link("bone", "head", 0.6, "y")), "°"),
    )
    poses = (
        Pose("rest", "Rest", {}), Pose("nod", "Nod", {"head_nod": 18.0}), Pose("rest_again", "Rest again", {}),
        Pose("turn_left", "Turn left", {"head_turn": 40.0}), Pose("turn_right", "Turn right", {"head_turn": -40.0}),
    )  # fmt: skip
    bindings = (Binding("body", "weighted", make_influences(store, names, along)),)
    marks = (Landmark("crown", CROWN), Landmark("chin_under", (0.0, 0.0, 4.0)))
    return Character(About("Body stand-in", story), (part,), marks, bones, bindings, controls=controls, poses=poses)


def _torso() -> tuple[Array, Polygons]:
    """Rings of super-ellipses, open at waist and collar."""
    angle = 2 * np.pi * np.arange(AROUND) / AROUND
    rings = []
    for height, wide, deep, forward, square in ROWS:
        s, c = np.sin(angle), np.cos(angle)
        x = wide * np.sign(s) * np.abs(s) ** (2 / square)
        z = forward + deep * np.sign(c) * np.abs(c) ** (2 / square)
        rings.append(np.column_stack([x, np.full(AROUND, height), z]))
    quads = [
        [r * AROUND + k, r * AROUND + (k + 1) % AROUND, (r + 1) * AROUND + (k + 1) % AROUND, (r + 1) * AROUND + k]
        for r in range(len(ROWS) - 1)
        for k in range(AROUND)
    ]
    return np.vstack(rings), Polygons.from_lists(quads)


def _bones() -> tuple[Bone, ...]:
    heads: dict[str, Point] = {name: (0.0, y, z) for name, (_, _, y, z) in JOINTS.items()}
    following = [*list(heads.values())[1:], CROWN]
    return tuple(Bone(n, JOINTS[n][0], JOINTS[n][1], heads[n], tip) for n, tip in zip(JOINTS, following, strict=True))
