"""The demo cast: three heads from one generator, clean and with their faults, and the body stand-in."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.binding.checks import reference_weights, weight_findings
from tightseam.demo.cast import ABOUT, NAMES, cast
from tightseam.demo.faults import RIG_FAULTS, plant_in_rig
from tightseam.demo.weight_faults import plant_in_maren
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadRequest
from tightseam.edits.registry import apply_recipe
from tightseam.geometry.adjacency import boundary, edges
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.symmetry import partners

from tests.head import Head, step_of

KINDS = {"skin", "eye", "teeth upper", "teeth lower", "tongue", "brow", "lash", "hair", "cloth"}
MIRROR = np.array([-1, 1, 1])


@pytest.mark.parametrize("name", NAMES)
def test_every_head_has_all_its_parts_whole(raw_heads, name):
    head = raw_heads[name]
    assert {p.kind for p in head.parts} - {"whiskers"} == KINDS
    assert ("whiskers" in {p.kind for p in head.parts}) == (name == "hob")
    skin = head.parts[0]
    polygons = Polygons.from_lists(skin.polygons)
    partner = partners(skin.points, 1e-9)
    assert np.array_equal(skin.points[partner] * MIRROR, skin.points)
    for part in head.parts:
        own = Polygons.from_lists(part.polygons)
        assert np.isfinite(part.points).all(), part.name
        assert edges(own, len(part.points)).uses.max() <= 2, part.name
        assert len(np.unique(own.corners)) == len(part.points), part.name
    assert boundary(polygons, len(skin.points)).sum() > 40  # the neck, the sockets


def test_the_three_are_clearly_different(raw_heads):
    """Shares of the face that tell a child from an adult from an elder, not only their sizes."""

    def proportions(name):
        marks = raw_heads[name].landmarks
        tall = marks["crown"][1] - marks["chin_under"][1]
        eye = next(p for p in raw_heads[name].parts if p.name == "eye_L").points
        return {
            "eye": np.ptp(eye[:, 1]) / tall,
            "eye line": (marks["eye_centre_L"][1] - marks["chin_under"][1]) / tall,
            "mouth": (marks["mouth_corner_L"] - marks["mouth_corner_R"])[0] / tall,
            "nose": (marks["nose_tip"][2] - marks["lip_upper"][2]) / tall,
        }

    maren, pim, hob = (proportions(n) for n in NAMES)
    assert pim["eye"] > 1.2 * maren["eye"] > 1.2 * hob["eye"]
    assert pim["eye line"] < maren["eye line"]
    assert hob["nose"] > maren["nose"] > pim["nose"]


@pytest.mark.parametrize("name", NAMES)
def test_a_clean_rig_keeps_every_seam_within_its_limits_in_every_pose(rigged, name):
    over = [(pose, r.seam, r.excess) for pose, row in rigged[name].readings().items() for r in row if not r.within]
    assert over == []


@pytest.mark.parametrize("name", RIG_FAULTS)
def test_a_faulty_rig_shows_the_planted_findings_and_no_others(rigged, name):
    clean, faults = rigged[name], RIG_FAULTS[name]
    store = MemoryStore(clean.store)
    character = plant_in_rig(clean.character, store, faults)
    head = Head(character, store)
    over = {r.seam for row in head.readings().values() for r in row if not r.within}
    assert over == {f.seam for f in faults}


@pytest.fixture(scope="module")
def half_tuned(rigged):
    """Maren with all her faults of binding and weights, what was planted in her skin, and weights to compare with."""
    clean = rigged["maren"]
    store = MemoryStore(clean.store)
    character, planted = plant_in_maren(plant_in_rig(clean.character, store, RIG_FAULTS["maren"]), store)
    return character, store, planted, reference_weights(clean.character, clean.store)


def test_maren_gives_exactly_the_findings_that_were_planted(half_tuned):
    character, store, planted, reference = half_tuned
    told = weight_findings(character, store, reference)
    wanted = {(f.kind, f.part, f.cause) for f in RIG_FAULTS["maren"]} | {(p.check, "skin", p.bone or "skin") for p in planted}
    assert {(f.kind, f.part, f.about) for f in told} == wanted
    for fault in planted:
        same = [set(f.vertices) for f in told if (f.kind, f.part, f.about) == (fault.check, "skin", fault.bone or "skin")]
        assert max(len(fault.vertices & found) for found in same) == len(fault.vertices), fault.bone
    many = next(f for f in told if f.kind == "too_many")
    assert set(many.vertices) <= set().union(*(p.vertices for p in planted))


def test_following_the_findings_repairs_maren_wholly(half_tuned):
    character, store, _, reference = half_tuned
    for _ in range(20):
        told = weight_findings(character, store, reference)
        if not told:
            break
        character = apply_recipe(character, store, [step_of(told[0])])
    head = Head(character, store)
    assert told == []
    assert [r.seam for row in head.readings().values() for r in row if not r.within] == []


@pytest.mark.parametrize("name", NAMES)
def test_the_jaw_takes_chin_and_lower_lip_down_and_the_smile_lifts_the_corners(rigged, name):
    head = rigged[name]
    marks = {m.name: np.array(m.point) for m in head.character.landmarks}
    rest = head.rest("skin")
    at = {
        n: int(np.linalg.norm(rest - marks[n], axis=1).argmin())
        for n in ("lip_lower", "lip_upper", "mouth_corner_L", "mouth_corner_R", "chin_front")
    }
    opened, smiling = head.posed("skin", {"jaw_open": 1}) - rest, head.posed("skin", {"smile": 1}) - rest
    assert opened[at["lip_lower"], 1] < -1.2
    assert opened[at["chin_front"], 1] < -1.2
    assert abs(opened[at["lip_upper"], 1]) < 0.2
    for side, sign in (("L", 1), ("R", -1)):
        corner = smiling[at[f"mouth_corner_{side}"]]
        assert corner[1] > 0.2
        assert corner[0] * sign > 0.2


def test_a_full_blink_closes_the_eye_and_half_a_blink_about_half(rigged):
    for name in NAMES:
        head = rigged[name]
        marks = {m.name: np.array(m.point) for m in head.character.landmarks}
        upper, lower = (int(np.linalg.norm(head.rest("skin") - marks[f"lid_{k}_L"], axis=1).argmin()) for k in ("upper", "lower"))

        def gap(blink: float, head=head, upper=upper, lower=lower) -> float:
            p = head.posed("skin", {"blink_L": blink})
            return float(np.linalg.norm(p[upper] - p[lower]))

        opened, half, closed = gap(0), gap(0.5), gap(1)
        assert closed < 0.35 * opened, name
        assert 0.3 < (half - closed) / (opened - closed) < 0.7, name


def test_the_clean_cast_comes_rigged_and_fresh_pim_as_meshes_only():
    store = MemoryStore()
    pim = cast("pim", store)
    assert (pim.bones, pim.poses, pim.landmarks) == ((), (), ())
    assert all(p.delivered and p.delivered.file == "pim_head_v3.usdc" for p in pim.parts)
    check_names(pim)
    check_arrays(pim, store)


def test_the_body_stand_in_has_the_bones_a_head_is_joined_to():
    store = MemoryStore()
    body = cast("body", store)
    check_names(body)
    check_arrays(body, store)
    assert {p.kind for p in body.parts} == {"body"}
    assert {"spine_1", "neck", "head"} <= {b.name for b in body.bones}


def test_nobody_else_is_in_the_cast():
    with pytest.raises(BadRequest, match="There are: maren, pim, hob, body"):
        cast("Petronella", MemoryStore())
    assert set(ABOUT) == {*NAMES, "body"}
