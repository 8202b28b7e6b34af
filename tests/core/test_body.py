"""A head on a body: where it goes, what of the body it takes the place of, and that the face stays what it was."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.body.join import body_for
from tightseam.body.spine import find_spine
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.body import body_stand_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.make import dense_weights, make_influences, make_part
from tightseam.document.model import Binding, Bone, Character
from tightseam.document.poses import pose_values, rest_values
from tightseam.edits.body_edits import JoinBody
from tightseam.exchange.glb_write import write_glb
from tightseam.exchange.placing import Placing
from tightseam.exchange.usd_write import usd_of, usd_strip
from tightseam.geometry.polygons import Polygons
from tightseam.intake.take_in import take_in

from tests import cast
from tests.head import Head


@pytest.fixture(scope="module")
def maren() -> Head:
    return cast.clean("maren")


def joined(head: Head, body: Character, store: MemoryStore, fades: bool = True) -> tuple[Character, tuple[str, ...]]:
    found = body_for(head.character, body, store)
    edit = JoinBody(
        parts=list(found.parts), bones=list(found.bones), bindings=list(found.bindings), under=found.under, shift=found.shift, fades=fades
    )
    return edit.apply(head.character, store), found.notes


@pytest.fixture(scope="module")
def on_body(maren):
    store = MemoryStore(maren.store)
    return *joined(maren, body_stand_in("", store), store), store


def test_the_head_stands_where_that_of_the_body_stood_and_hangs_on_its_chest(maren, on_body):
    character, notes, _ = on_body
    body = body_stand_in("", MemoryStore())
    bones = {b.name: b for b in character.bones}
    assert bones["head"].base == pytest.approx(next(b for b in body.bones if b.name == "head").base)
    assert bones["neck_1"].parent == "chest"
    assert "neck" not in bones
    assert {"spine_1", "spine_2", "chest"} <= bones.keys()
    assert len(character.parts) == len(maren.character.parts) + 1
    assert any("Our neck begins" in note for note in notes)


def test_the_face_in_every_pose_is_what_it_was_but_for_the_neck(maren, on_body):
    """With the body at rest all above the neck's fade is the same, moved along."""
    character, _, store = on_body
    after, shift = Evaluator(character, store), None
    for pose in maren.character.poses:
        values = pose_values(maren.character, pose)
        a, b = maren.evaluator.points(values), after.points(values)
        for part in ("eye_L", "teeth_lower", "tongue", "hair", "lash_upper_R"):
            moved = (b[after.meshes.rows(part)] - a[maren.evaluator.meshes.rows(part)]).mean(axis=0)
            shift = moved if shift is None else shift
            off = b[after.meshes.rows(part)] - a[maren.evaluator.meshes.rows(part)] - shift
            assert np.abs(off).max() < 1e-3, (pose.name, part)


def test_the_neck_fades_into_the_chest_and_totals_stay(maren, on_body):
    character, _, store = on_body
    names = [b.name for b in character.bones]
    skin = next(p for p in character.parts if p.name == "skin")
    weights = dense_weights(store, next(b for b in character.bindings if b.part == "skin").influences, names, skin.vertex_count)
    assert weights.sum(axis=1) == pytest.approx(np.ones(skin.vertex_count), abs=1e-5)
    heights = np.asarray(store.get(skin.points))[:, 1]
    chest = weights[:, names.index("chest")]
    lowest = heights < heights.min() + 0.05
    assert chest[lowest].min() > 0.9
    assert chest[heights > next(b for b in character.bones if b.name == "neck_2").base[1]].max() == 0
    values = rest_values(character) | {"head_turn": 40.0}
    after = Evaluator(character, store)
    turned = after.points(values)[after.meshes.rows("skin")]
    still = after.points(rest_values(character))[after.meshes.rows("skin")]
    assert np.linalg.norm(turned - still, axis=1)[lowest].max() < 0.1 * np.linalg.norm(turned - still, axis=1).max()


def test_when_the_chest_bends_the_whole_head_goes_along(on_body):
    character, _, store = on_body
    after = Evaluator(character, store)
    bent = after.points(rest_values(character) | {"chest.turn_z": 20.0})
    still = after.points(rest_values(character))
    eye = after.meshes.rows("eye_L")
    assert np.linalg.norm((bent - still)[eye], axis=1).min() > 5


def test_a_head_that_the_body_has_is_cut_away_with_its_face(maren):
    """A body with a head and a jaw of its own, in one mesh, and a part that is only head."""
    store = MemoryStore(maren.store)
    body = body_stand_in("", store)
    torso = body.parts[0]
    points = np.asarray(store.get(torso.points))
    jaw = Bone("jaw", "Jaw", "head", (0.0, 9.0, 2.0), (0.0, 8.0, 5.0))
    names = [b.name for b in (*body.bones, jaw)]
    weights = np.zeros((len(points), len(names)))
    high = points[:, 1] > -7
    weights[high, names.index("head")], weights[~high, names.index("chest")] = 1, 1
    eye = make_part(store, "their_eye", "other", points[:4] + [0, 60, 0], Polygons.from_lists([[0, 1, 2, 3]]))
    whole = np.zeros((4, len(names)))
    whole[:, names.index("jaw")] = 1
    own = replace(
        body, parts=(torso, eye), bones=(*body.bones, jaw),
        bindings=tuple(Binding(p, "weighted", make_influences(store, names, w)) for p, w in (("body", weights), ("their_eye", whole))),
    )  # fmt: skip
    character, notes = joined(maren, own, store)
    left = next(p for p in character.parts if p.name == "body")
    assert left.vertex_count < torso.vertex_count
    assert np.asarray(store.get(left.points))[:, 1].max() <= points[~high][:, 1].max() + 4
    assert "their_eye" not in {p.name for p in character.parts}
    assert sum("left out" in note for note in notes) == 2
    assert next(b for b in character.bones if b.name == "jaw").label == next(b for b in maren.character.bones if b.name == "jaw").label


@pytest.mark.parametrize(
    ("names", "found"),
    [
        (("hips", "spine", "neck", "head"), ("head", ("neck",), "spine")),
        (("Root", "Chest", "Neck_01", "Neck_02", "rig:Head", "HeadTop"), ("rig:Head", ("Neck_01", "Neck_02"), "Chest")),
        (("pelvis", "upperTorso", "BodyHead"), ("BodyHead", (), "upperTorso")),
    ],
)
def test_head_and_neck_are_found_by_name(names, found):
    bones = [Bone(n, n, names[k - 1] if k else None, (0, k, 0), (0, k + 1, 0)) for k, n in enumerate(names)]
    spine = find_spine(bones)
    assert (spine.head.name, tuple(b.name for b in spine.neck), spine.under.name) == found


def test_what_cannot_be_joined_is_refused_in_words(maren, on_body):
    store = MemoryStore(maren.store)
    body = body_stand_in("", store)
    with pytest.raises(BadRequest, match="no bone called head"):
        body_for(maren.character, replace(body, bones=body.bones[:3], bindings=()), store)
    with pytest.raises(BadRequest, match="no body below"):
        body_for(maren.character, replace(body, bones=(replace(body.bones[4], parent=None),), bindings=()), store)
    with pytest.raises(BadRequest, match="no head bone yet"):
        body_for(replace(maren.character, bones=()), body, store)
    with pytest.raises(BadRequest, match="stands on a body"):
        joined(Head(on_body[0], on_body[2]), body, on_body[2])


@pytest.mark.parametrize("ending", ["glb", "usdc"])
def test_a_body_out_of_a_file_is_the_body(maren, on_body, ending):
    """GLB, and USD in metres with Z up: what is joined stands and hangs as it does without the file."""
    store = MemoryStore(maren.store)
    body = body_stand_in("", store)
    data = usd_of(usd_strip(body, store), Placing(100.0, "z")) if ending == "usdc" else write_glb(body, store)
    taken = take_in({f"body.{ending}": data}, store).character
    character, _ = joined(maren, taken, store)
    before, _, own = on_body
    assert [b.name for b in character.bones] == [b.name for b in before.bones]
    one, other = Evaluator(before, own), Evaluator(character, store)
    assert rest_values(before).keys() == rest_values(character).keys()
    assert np.abs(one.points(rest_values(before)) - other.points(rest_values(character))).max() < 1e-3
    for a, b in zip(before.bones, character.bones, strict=True):
        assert b.base == pytest.approx(a.base, abs=1e-3), a.name
        assert b.parent == a.parent, a.name
