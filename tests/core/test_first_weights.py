"""First weights: by heat with landmarks, by envelopes, by straight-line distance, from another part."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.binding.checks import weight_findings
from tightseam.binding.envelope import envelope_weights
from tightseam.binding.face import face_bones
from tightseam.binding.first_weights import heat
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone, part
from tightseam.document.make import dense_weights
from tightseam.document.model import Bone, Skeleton
from tightseam.edits.binding_edits import SetEnvelope, TransferWeights, WeighPart
from tightseam.edits.bone_weight_edits import SetWeights
from tightseam.edits.build_edits import BuildBones
from tightseam.edits.weight_edits import EvenWeights, SmoothWeights
from tightseam.geometry.distance import segment_distance
from tightseam.geometry.symmetry import partners
from tightseam.weights.rows import MOST_INFLUENCES

from tests import cast
from tests.head import Head

EVERYTHING = Skeleton(face="both", ears=True)


@pytest.fixture(scope="module", params=["maren", "pim", "hob"])
def faced(request) -> Head:
    """A clean head with all bones of the face, its skin weighed by heat."""
    head = cast.clean(request.param)
    store = MemoryStore(head.store)
    built = BuildBones(choices=EVERYTHING).apply(head.character, store)
    weighed = WeighPart(part="skin", how="heat").apply(built, store)
    return Head(weighed, store)


def weights_of(head: Head, part_name: str = "skin") -> np.ndarray:
    bones = [b.name for b in head.character.bones]
    return dense_weights(head.store, find_binding(head.character, part_name).influences, bones, len(head.rest(part_name)))


def test_weights_are_shares_alike_on_both_sides_and_few(faced):
    weights, bones = weights_of(faced), faced.character.bones
    names = [b.name for b in bones]
    partner = partners(faced.rest("skin"), 1e-6)
    twins = [names.index(b.twin or b.name) for b in bones]
    assert weights.min() >= 0
    assert np.abs(weights.sum(axis=1) - 1).max() < 1e-6
    assert np.abs(weights - weights[partner][:, twins]).max() < 1e-5
    assert (weights > 0).sum(axis=1).max() <= 4


def test_every_bone_of_the_face_carries_and_those_of_eyes_and_teeth_do_not(faced):
    most = dict(zip([b.name for b in faced.character.bones], weights_of(faced).max(axis=0), strict=True))
    for b in faced.character.bones:
        if b.role == "helper" or b.region in ("eyes", "teeth", "tongue"):
            assert most[b.name] == 0, b.name
        else:
            assert most[b.name] > 0.4, b.name


@pytest.mark.parametrize("edit", [SmoothWeights, EvenWeights])
def test_averages_of_many_bones_keep_those_that_can_be_posed(faced, edit):
    weights = weights_of(faced)
    lips = [k for k, b in enumerate(faced.character.bones) if b.region == "mouth"]
    mouth = np.flatnonzero(weights[:, lips].sum(axis=1) > 0.2)
    assert (weights[mouth].sum(axis=0) > 0).sum() > MOST_INFLUENCES
    store = MemoryStore(faced.store)
    changed = edit(part="skin", vertices=mouth.tolist(), **({"steps": 20} if edit is SmoothWeights else {})).apply(faced.character, store)
    after = weights_of(Head(changed, store))
    assert (after[mouth] > 0).sum(axis=1).max() == MOST_INFLUENCES
    assert np.abs(after[mouth].sum(axis=1) - 1).max() < 1e-6


def test_all_seams_hold_in_all_poses_and_nothing_is_found(faced):
    assert [(name, r.seam) for name, found in faced.readings().items() for r in found if not r.within] == []
    assert weight_findings(faced.character, faced.store) == []


def test_the_jaw_opens_as_without_bones_of_the_face(faced):
    """What a head or a jaw carries is shared with the bones that hang on it, so at rest these change nothing but what a cap drops."""
    store = faced.store
    kept = tuple(b for b in faced.character.bones if b.region in ("head", "neck", "jaw", "eyes", "teeth", "tongue"))
    bare = WeighPart(part="skin", how="heat").apply(replace(faced.character, bones=kept, bindings=_of(faced.character, kept)), store)
    open_jaw = {"jaw_open": 0.6}
    apart = np.linalg.norm(faced.posed("skin", open_jaw) - Head(bare, store).posed("skin", open_jaw), axis=1)
    assert np.percentile(apart, 95) < 0.005  # cm
    assert apart.max() < 0.05


def _of(character, bones):
    names = {b.name for b in bones}
    return tuple(b for b in character.bindings if all(i.bone in names for i in b.influences))


def test_the_lips_are_separated(faced):
    bones = faced.character.bones
    names = [b.name for b in bones]
    weights = weights_of(faced)
    of_jaw = weights[:, [names.index("jaw"), *face_bones(bones, "jaw")]].sum(axis=1)
    upper, lower = faced.set("lip_upper_line"), faced.set("lip_lower_line")
    middle = len(upper) // 2
    assert of_jaw[upper[middle]] < 1e-6
    assert of_jaw[lower[middle]] > 1 - 1e-6
    assert (of_jaw[upper] <= 0.5 + 1e-6).all()
    assert (of_jaw[lower] >= 0.5 - 1e-6).all()


def test_lids_are_carried_by_their_own_bones_alone(faced):
    weights, bones = weights_of(faced), faced.character.bones
    for side in "LR":
        for lid in ("upper", "lower"):
            margin = faced.set(f"lid_{lid}_margin_{side}")[1:-1]
            own = [k for k, b in enumerate(bones) if b.role == "deform" and b.name.startswith(f"lid_{lid}_") and b.side == side]
            foreign = [k for k, b in enumerate(bones) if k not in own and b.name != "head"]
            assert weights[margin][:, foreign].max() < 1e-6
            assert weights[margin][:, own].sum(axis=1).max() > 0.99


def test_by_straight_lines_and_by_envelopes_the_lips_stick_together(faced):
    """What makes the surface worth following: the other ways leave weight across the lips."""
    found = {}
    for how in ("heat", "straight", "envelope"):
        changed = WeighPart(part="skin", how=how).apply(faced.character, faced.store)
        meter = Head(changed, faced.store).meter()
        lips = next(r for r in meter.measure_pose(next(p for p in changed.poses if p.name == "jaw_open")) if r.seam == "lips")
        strays = [f for f in weight_findings(changed, faced.store) if f.kind == "stray"]
        found[how] = (lips.within, len(strays))
    assert found["heat"] == (True, 0)
    assert not found["straight"][0]
    assert not found["envelope"][0]
    assert min(found["straight"][1], found["envelope"][1]) > 3


def test_held_bones_keep_theirs_to_the_bit_and_the_rest_share_what_is_left(clean):
    store = MemoryStore(clean.store)
    chosen = clean.set("lip_upper").tolist()
    painted = SetWeights(part="skin", vertices=chosen, bone="neck_1", value=0.25).apply(clean.character, store)
    again = WeighPart(part="skin", how="heat", vertices=chosen, locked=["neck_1"]).apply(painted, store)
    weights = weights_of(Head(again, store))
    names = [b.name for b in again.bones]
    assert (weights[chosen, names.index("neck_1")] == np.float32(0.25)).all()
    assert np.abs(weights.sum(axis=1) - 1).max() < 1e-6
    others = np.setdiff1d(np.arange(len(weights)), chosen)
    before = weights_of(clean)
    assert np.array_equal(weights[others], before[others])


def test_weighing_again_changes_nothing(clean):
    store = MemoryStore(clean.store)
    again = WeighPart(part="skin", how="heat").apply(clean.character, store)
    after = weights_of(Head(again, store))
    assert np.abs(after - weights_of(clean)).max() < 1e-6


def test_none_takes_everything_away_and_idle_is_found(clean):
    store = MemoryStore(clean.store)
    bare = WeighPart(part="brow_L", how="none").apply(clean.character, store)
    assert [f.kind for f in weight_findings(bare, store)] == ["idle"]


def test_a_brow_takes_the_weights_of_the_skin_below_it(faced):
    store = MemoryStore(faced.store)
    made = TransferWeights(part="brow_L", source="skin").apply(faced.character, store)
    head = Head(made, store)
    bones = [b.name for b in made.bones]
    carried = weights_of(head, "brow_L").sum(axis=0)
    assert carried[[bones.index(f"brow_{k}_L") for k in (1, 2, 3)]].min() > 0
    assert carried[[bones.index(f"brow_{k}_R") for k in (1, 2, 3)]].max() == 0
    turned = {"brow_2_L.move_y": 0.3}
    if all(lo < hi for lo, hi in bone(made, "brow_2_L").move):
        assert np.linalg.norm(head.posed("brow_L", turned) - head.rest("brow_L"), axis=1).max() > 0.1


def test_a_copy_of_the_skin_gets_just_its_weights(clean):
    store = MemoryStore(clean.store)
    twin = replace(part(clean.character, "skin"), name="copy", kind="other")
    doubled = replace(clean.character, parts=(*clean.character.parts, twin))
    made = TransferWeights(part="copy", source="skin").apply(doubled, store)
    head = Head(made, store)
    assert np.abs(weights_of(head, "copy") - weights_of(head, "skin")).max() < 1e-5


def test_an_envelope_is_all_inside_nothing_outside_and_half_between():
    limb = Bone("limb", "Limb", None, (0, 0, 0), (10, 0, 0), envelope=(1.0, 3.0))
    other = Bone("other", "Other", None, (0, 50, 0), (10, 50, 0), envelope=(1.0, 60.0))
    points = np.array([[5, 0.5, 0], [5, 2, 0], [5, 3.5, 0], [12, 0, 0]], float)
    weights = envelope_weights(points, [limb, other])
    t = (np.array([49.5, 48, 46.5, 50.04]) - 1) / 59
    far = 1 - t * t * (3 - 2 * t)
    assert weights[0, 0] == pytest.approx(1 / (1 + far[0]), abs=1e-3)
    assert weights[1, 0] == pytest.approx(0.5 / (0.5 + far[1]), abs=1e-3)
    assert weights[2, 0] == 0
    assert segment_distance(points, np.zeros(3), np.array([10.0, 0, 0])) == pytest.approx([0.5, 2, 3.5, 2])


def test_what_no_capsule_reaches_goes_to_the_nearest():
    one = Bone("one", "One", None, (0, 0, 0), (1, 0, 0), envelope=(0.1, 0.2))
    two = Bone("two", "Two", None, (9, 0, 0), (10, 0, 0), envelope=(0.1, 0.2))
    assert envelope_weights(np.array([[4.0, 0, 0], [6.0, 0, 0]]), [one, two]).tolist() == [[1, 0], [0, 1]]


def test_an_envelope_is_set_for_both_sides_and_must_have_a_width(clean):
    store = MemoryStore(clean.store)
    built = BuildBones(choices=EVERYTHING).apply(clean.character, store)
    made = SetEnvelope(bone="cheek_L", inner=0.5, outer=2).apply(built, store)
    assert bone(made, "cheek_R").envelope == (0.5, 2)
    with pytest.raises(BadRequest, match="must be farther out"):
        SetEnvelope(bone="cheek_L", inner=2, outer=2).apply(built, store)


def test_without_what_it_needs_it_says_what_is_missing(clean):
    store = MemoryStore(clean.store)
    no_jaw = replace(clean.character, bones=tuple(b for b in clean.character.bones if b.name != "jaw"))
    with pytest.raises(BadRequest, match="missing: jaw"):
        heat(no_jaw, store, part(no_jaw, "skin"))
    unmarked = replace(clean.character, landmarks=())
    with pytest.raises(BadRequest, match="is not placed yet"):
        heat(unmarked, store, part(unmarked, "skin"))
    toothless = replace(clean.character, parts=tuple(p for p in clean.character.parts if not p.kind.startswith("teeth")))
    weights = heat(toothless, store, part(toothless, "skin"))
    assert np.abs(weights.sum(axis=1) - 1).max() < 1e-9
    with pytest.raises(BadRequest, match="both are the same"):
        TransferWeights(part="skin", source="skin").apply(clean.character, store)
