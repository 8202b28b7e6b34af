"""Hair of the head on the skin: what carries it, how it goes along in shapes, and where the scalp comes through."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree
from scipy.spatial.transform import Rotation
from tightseam.binding.rooted import rooted_weights
from tightseam.document.arrays import MemoryStore
from tightseam.document.change import with_binding
from tightseam.document.lookup import binding
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import shape as find_shape
from tightseam.document.make import make_influences
from tightseam.document.model import Pose
from tightseam.edits.build_edits import BuildBones
from tightseam.edits.set_carrier import SetCarrier
from tightseam.geometry.adjacency import boundary, islands
from tightseam.geometry.normals import vertex_normals
from tightseam.head.hair import LIES, Hair
from tightseam.head.roots import ON
from tightseam.seams.clear import ClearGauge
from tightseam.seams.findings import findings
from tightseam.shapes.checks import shape_findings
from tightseam.weights.rows import rows_of

from tests import cast
from tests.core.samples import deepest
from tests.head import Head, after, repaired

RIDE, SCALP = "ride_hair", "scalp_hair"


@pytest.fixture(scope="module")
def maren() -> Head:
    return cast.clean("maren")


@pytest.fixture(scope="module")
def rigid(maren) -> Head:
    """Maren whose hair goes with the head alone."""
    return after(maren, SetCarrier(part="hair", carrier="rigid", bones=["head"]))


@pytest.fixture(scope="module")
def hair(maren) -> Hair:
    return hair_of(maren)


def hair_of(head: Head) -> Hair:
    return Hair(head.character, head.store, find_part(head.character, "hair"), find_part(head.character, "skin"))


def read(head: Head, **values: float) -> dict:
    return {r.seam: r for r in head.meter().measure_pose(Pose("x", "X", values)) if r.seam in (RIDE, SCALP)}


def scalp(head: Head) -> ClearGauge:
    return head.gauge(SCALP)


def sheets(head: Head) -> np.ndarray:
    """The vertices of islands that have a border."""
    count = len(head.rest("hair"))
    label = islands(head.polygons("hair"), count)
    return np.flatnonzero(np.isin(label, label[boundary(head.polygons("hair"), count)]))


# --- the clean cast


@pytest.mark.parametrize("who", cast.NAMES)
def test_no_control_pulls_hair_off_the_skin_or_the_skin_through_the_hair(who):
    head = cast.clean(who)
    ends = [(c.name, end) for c in head.character.controls for end in {c.low, c.high} - {c.rest}]
    over = [(name, end, r.seam, r.excess) for name, end in ends for r in read(head, **{name: end}).values() if not r.within]
    assert over == []


def test_hair_that_one_bone_carries_is_torn_off_as_the_head_turns_and_given_to_what_it_stands_on(rigid):
    """The nape stays behind a turned head, and the hair does not: both seams say so and offer the same, which mends both."""
    turned = Pose("turned", "Turned", {"head_turn": 50.0})
    head = Head(replace(rigid.character, poses=(turned,)), rigid.store)
    found = {f.about: f for f in findings(head.character, head.store, head.evaluator, head.readings())}
    assert (found[RIDE].kind, found[SCALP].kind) == ("drift", "clash")
    assert min(found[RIDE].size, found[SCALP].size) > 5
    assert "Moved most" not in found[SCALP].text  # seen from the head nothing moves what the head carries
    assert found[RIDE].repairs == found[SCALP].repairs
    mended = repaired(head, found[RIDE])
    assert all(r.within for r in read(mended, head_turn=50.0).values())
    again = findings(mended.character, mended.store, mended.evaluator, head.readings())
    assert [f.repairs for f in again if f.about in (RIDE, SCALP)] == [(), ()]  # what is done is not offered again


# --- the gauge of the scalp


@settings(max_examples=10)
@given(st.integers(0, 10**6))
def test_a_head_that_moves_as_one_comes_through_nowhere(maren, seed):
    turn, shift = Rotation.random(random_state=seed).as_matrix(), np.random.default_rng(seed).normal(size=3) * 20
    assert scalp(maren).read(maren.posed_by(lambda _, points: points @ turn.T + shift)).overlap == 0


@pytest.mark.parametrize("who", cast.NAMES)
@pytest.mark.parametrize("by", [0.05, 0.15, 0.3, 0.6])
def test_hair_pressed_down_is_as_deep_as_dense_samples_say(who, by):
    head = cast.clean(who)
    gauge, moved = scalp(head), head.posed_by(lambda part, x: x - [0, by, 0] if part == "hair" else x)
    skin = head.evaluator.meshes.part_triangles[head.evaluator.meshes.names.index("skin")]
    expected = deepest((moved.points["hair"], gauge._clear.triangles), (moved.points["skin"], skin))
    assert expected > 0
    assert gauge.read(moved).overlap == pytest.approx(expected, abs=max(0.03, 0.05 * expected))


def test_what_counts_lies_clear_of_the_skin_and_is_seen(maren, hair):
    """Roots are under the skin by design; a closed tuft may lie in it with its lower side, a sheet with neither."""
    clear = scalp(maren)._clear
    assert hair.heights[clear.vertices].min() > 0
    assert not np.isin(clear.triangles, hair.roots[hair.heights[hair.roots] <= ON]).any()
    every = maren.evaluator.meshes.part_triangles[maren.evaluator.meshes.names.index("hair")]
    counted = np.isin(np.arange(len(every)), clear.rows)
    sheet = np.isin(every, sheets(maren)).all(axis=1)
    free = (hair.heights[every] > 0.05).all(axis=1)
    assert counted[sheet & free].mean() > 0.99
    assert 0.4 < counted[~sheet & free].mean() < 0.9


def test_hair_that_is_nowhere_clear_of_the_skin_says_nothing(maren):
    part, store = find_part(maren.character, "hair"), MemoryStore(maren.store)
    inside = (maren.rest("hair") * 0.1 + [0, 18, -1]).astype(np.float32)
    sunk = replace(part, points=store.put(inside))
    head = Head(replace(maren.character, parts=tuple(sunk if p is part else p for p in maren.character.parts)), store)
    reading = read(head)[SCALP]
    assert (reading.overlap, reading.within) == (None, True)


# --- carriers and shapes


@pytest.mark.parametrize("who", cast.NAMES)
def test_hair_is_carried_by_skull_and_neck_alone_where_it_stands_as_the_skin_is(who):
    head = cast.clean(who)
    hair, names = hair_of(head), [b.name for b in head.character.bones]
    own, skin = (
        rows_of(head.store, binding(head.character, name).influences, names, np.arange(len(head.rest(name)))) for name in ("hair", "skin")
    )
    trunk = [b.name == "head" or b.region == "neck" for b in head.character.bones]
    assert own[:, ~np.array(trunk)].max() == 0
    assert own.sum(axis=1) == pytest.approx(1, abs=1e-5)
    neck = [b.region == "neck" for b in head.character.bones]
    nearest = cKDTree(head.rest("skin")).query(head.rest("hair")[hair.roots])[1]
    assert np.abs(own[hair.roots][:, neck].sum(axis=1) - skin[nearest][:, neck].sum(axis=1)).mean() < 0.03


@pytest.mark.parametrize("total", [0.01, 0.4, 1.7])
def test_a_skin_whose_totals_are_wrong_hands_no_wrong_totals_on(maren, total):
    names, store = [b.name for b in maren.character.bones], MemoryStore(maren.store)
    bound = binding(maren.character, "skin")
    rows = rows_of(store, bound.influences, names, np.arange(len(maren.rest("skin")))) * total
    wrong = with_binding(maren.character, replace(bound, influences=make_influences(store, names, rows)))
    found = rooted_weights(wrong, store, find_part(wrong, "hair"))
    assert found.min() >= 0
    assert found.sum(axis=1) == pytest.approx(1, abs=1e-6)


def test_hair_that_floats_far_off_goes_with_the_head_and_no_shape_moves_it(maren):
    part, store = find_part(maren.character, "hair"), MemoryStore(maren.store)
    far = replace(part, points=store.put((maren.rest("hair") * 3).astype(np.float32)), sets={})
    floating = replace(maren.character, parts=tuple(far if p is part else p for p in maren.character.parts))
    weights = rooted_weights(floating, store, far)
    assert weights is None or (weights[:, [b.name for b in maren.character.bones].index("head")] == 1).all()
    skin = find_part(maren.character, "skin")
    assert Hair(floating, store, far, skin).taken_along(np.ones((skin.vertex_count, 3))).shape == (part.vertex_count, 3)


def test_far_from_the_skin_hair_goes_as_its_roots(maren):
    """A function that grows along the skin: what lies on it takes what is under it, the crown of the bun what its roots have."""
    hair = hair_of(maren)
    height = maren.rest("skin")[:, 1:2].astype(float)
    got, rooted = hair.carried(height)
    assert rooted.all()
    own = maren.rest("hair")[:, 1].astype(float)
    lies = hair.heights < LIES
    assert np.abs(got[lies, 0] - own[lies]).mean() < 0.3
    label = islands(maren.polygons("hair"), len(own))
    far = hair.heights > 2.5
    assert far.any()
    for tuft in np.unique(label[far]):
        assert np.ptp(got[far & (label == tuft), 0]) < 1e-9


def test_bones_are_built_about_hair_that_nothing_carried(rigged):
    hob = rigged["hob"]
    bare = Head(replace(hob.character, bindings=tuple(b for b in hob.character.bindings if b.part not in ("hair", "whiskers"))), hob.store)
    built = after(bare, BuildBones(choices=hob.character.skeleton))
    assert {b.part: b.carrier for b in built.character.bindings if b.part in ("hair", "whiskers")} == dict.fromkeys(
        ("hair", "whiskers"), "weighted"
    )
    assert built.posed("whiskers", {"jaw_open": 1.0}) == pytest.approx(hob.posed("whiskers", {"jaw_open": 1.0}), abs=1e-4)


def test_skin_that_slides_takes_roots_along_and_lifts_what_lies_on_it(maren, hair):
    """All of the skin 2 mm up its normals: roots and what lies near go out by 2 mm. All of it 3 mm upwards: every tuft goes along."""
    skin = maren.rest("skin").astype(float)
    out = vertex_normals(skin, maren.evaluator.meshes.part_triangles[maren.evaluator.meshes.names.index("skin")])
    grown = np.linalg.norm(hair.taken_along(0.2 * out), axis=1)
    assert grown[hair.roots] == pytest.approx(0.2, abs=0.02)
    assert grown[hair.heights < LIES].min() > 0.15
    assert hair.taken_along(np.tile([0.0, 0.3, 0.0], (len(skin), 1))) == pytest.approx(np.tile([0.0, 0.3, 0.0], (len(grown), 1)), abs=1e-9)


def test_hair_left_behind_by_brows_is_found_and_taken_along(maren):
    shape = find_shape(maren.character, "brows_up")
    bare = replace(shape, deltas=tuple(d for d in shape.deltas if d.part != "hair"))
    shapes = tuple(bare if s is shape else s for s in maren.character.shapes)
    head = Head(replace(maren.character, shapes=shapes), maren.store)
    finding = next(f for f in shape_findings(head.character, head.store) if f.part == "hair")
    assert (finding.kind, finding.repairs[0].edit) == ("left_behind", "shape.take_along")
    mended = repaired(head, finding)
    assert shape_findings(mended.character, mended.store) == []
    assert all(r.within for r in read(mended, brows_up=1.0).values())
