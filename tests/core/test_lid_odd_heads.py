"""Lids of heads that are not as usual: they close, or it is said why not. Measured with libigl, with nothing of our own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from tightseam.demo.build import RawHead
from tightseam.demo.cast import raw_parts
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as points_of
from tightseam.edits.lid_edits import CopyLids, PickMargins
from tightseam.first_rig import first_rig
from tightseam.geometry.easing import smoothstep
from tightseam.lids.maps import map_of, margins_of

from tests.core.heads import in_triangles, moved, without_hair
from tests.core.lid_heads import GAP, NOTHING, Eye, board_of, found, gazes, partners, until_clean
from tests.head import Head, after

NEAR, FAR = 2.6, 5.0  # cm from the centre of an eye: what goes with it wholly, what stays


def rig(raw: RawHead) -> Head:
    store = MemoryStore()
    character = first_rig("Somebody", "", raw_parts(raw, store), raw.landmarks, store)
    return Head(character, store)


def about_eye(raw: RawHead, side: str, change: Callable[[np.ndarray], np.ndarray], far: float = FAR) -> Callable[[np.ndarray], np.ndarray]:
    """A change of offsets from the centre of an eye, with all that lies about it, fading out round it."""
    centre = np.asarray(raw.landmarks[f"eye_centre_{side}"])

    def applied(points: np.ndarray) -> np.ndarray:
        arm = points - centre
        share = 1 - smoothstep(np.clip((np.linalg.norm(arm, axis=1) - NEAR) / (far - NEAR), 0, 1))
        return points + share[:, None] * (change(arm) - arm)

    return applied


def higher_and_smaller(raw: RawHead) -> RawHead:
    return moved(raw, about_eye(raw, "R", lambda arm: 0.85 * arm + [0, 0.4, 0.2]))


def far_apart(raw: RawHead) -> RawHead:
    there = raw
    for side, way in (("L", 1.2), ("R", -1.2)):
        there = moved(there, about_eye(raw, side, lambda arm, way=way: arm + [way, 0, 0], 6.5))
    return there


def wide_ovals(raw: RawHead) -> RawHead:
    there = raw
    for side in "LR":
        there = moved(there, about_eye(raw, side, lambda arm: arm * [1.1, 0.97, 1]))
    return there


def flat_ovals(raw: RawHead) -> RawHead:
    there = raw
    for side in "LR":
        there = moved(there, about_eye(raw, side, lambda arm: arm * [1, 1, 0.93]))
    return there


@pytest.mark.parametrize("odd", [higher_and_smaller, far_apart, wide_ovals, flat_ovals], ids=lambda f: f.__name__)
def test_odd_eyes_close_in_every_gaze(raw_maren, odd):
    head = rig(odd(raw_maren))
    for side in "LR":
        eye = Eye(head, side)
        for values in gazes(blink=1)[::4]:
            assert eye.gap(values) < GAP, (side, values)
            assert eye.deepest(values) < NOTHING, (side, values)
    assert all(c.within for c in board_of(head).cells)
    assert found(head) == []


def test_one_eye_alone_has_a_blink_of_its_own(raw_maren):
    raw = without_hair(raw_maren)
    alone = RawHead([p for p in raw.parts if p.name != "eye_R" and not (p.kind == "lash" and p.name.endswith("R"))], raw.landmarks)
    head = rig(alone)
    assert [x.side for x in head.character.lids] == ["L"]
    assert {"blink_L", "squint"} <= {c.name for c in head.character.controls}
    assert "blink" not in {c.name for c in head.character.controls}
    eye = Eye(head, "L")
    for values in gazes(blink_L=1)[::4]:
        assert eye.gap(values) < GAP
        assert eye.deepest(values) < NOTHING
    with pytest.raises(BadRequest, match="The eye R has no lids"):
        CopyLids(side="L").apply(head.character, head.store)


@pytest.mark.parametrize(("who", "side"), [("maren", None), ("pim", 1), ("hob", -1)])
def test_a_head_in_triangles_is_rigged_as_in_quads(raw_heads, who, side):
    """Whole, or on one side: the shortest edges from landmark to landmark are the loops that quads had, and every seam holds."""
    quads, triangles = rig(without_hair(raw_heads[who])), rig(in_triangles(raw_heads[who], side))
    for name, own in find_part(quads.character, "skin").sets.items():
        if "margin" in name or "line" in name:
            same = np.array_equal(quads.store.get(own), triangles.store.get(find_part(triangles.character, "skin").sets[name]))
            assert same, name
    for pose, row in triangles.readings().items():
        assert all(r.excess is None or r.excess <= 1 for r in row), pose


def test_margins_are_picked_among_triangles_by_a_few_of_their_vertices(raw_maren):
    head = rig(in_triangles(raw_maren))
    pair = head.character.lids[0]
    upper, lower = margins_of(head.store, pair)
    few = [*upper[::4].tolist(), *lower[2:-2:4].tolist()]
    again = PickMargins(side=pair.side, vertices=few[::-1]).apply(head.character, head.store)
    assert [m.tolist() for m in margins_of(head.store, again.lids[0])] == [upper.tolist(), lower.tolist()]
    with pytest.raises(BadRequest, match="No closed loop runs through"):
        PickMargins(side=pair.side, vertices=few[:3]).apply(head.character, head.store)


def test_a_head_whose_landmarks_lie_on_one_another_is_told_so(raw_maren):
    raw = in_triangles(raw_maren)
    raw.landmarks = raw.landmarks | {"lid_upper_L": raw.landmarks["lid_inner_L"]}
    with pytest.raises(BadRequest, match="through Inner corner L and Outer corner L, Upper margin L and Lower margin L"):
        rig(raw)


def test_a_head_whose_lips_have_their_middles_on_one_side_is_told_so(raw_maren, clean):
    skin = points_of(clean.character, clean.store, "skin")
    on_upper_lip = skin[np.asarray(clean.store.get(clean.character.lips[0].upper))[3]]
    raw = replace(raw_maren, landmarks=raw_maren.landmarks | {"lip_lower": on_upper_lip})
    with pytest.raises(BadRequest, match="Upper lip and Lower lip do not lie on either side of Mouth corner R and Mouth corner L"):
        rig(raw)


def test_maps_of_uneven_eyes_are_copied_by_the_mesh(raw_maren):
    head = rig(higher_and_smaller(raw_maren))
    copied = after(head, CopyLids(side="L"), CopyLids(side="L", what="maps"))
    assert copied.character.lids[1].line == head.character.lids[0].line
    left, right = (map_of(copied.character, copied.store, x, "share") for x in copied.character.lids)
    held = np.flatnonzero(left)
    known = partners(head)[held] >= 0
    assert known.mean() > 0.9
    assert np.array_equal(left[held[known]], right[partners(head)[held[known]]])
    # a few vertices have the wrong partner on such a head: what creases by that is found and mended
    assert {f.kind for f in found(copied)} <= {"crease"}
    until_clean(copied, 2)
