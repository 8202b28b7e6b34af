"""What offends the limits of a receiver: an offence of each kind planted, found with its vertices, and mended."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tightseam.cli import main
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.poses import pose_values
from tightseam.document.shifted import shifted
from tightseam.edits.registry import apply_recipe, parse_recipe
from tightseam.handoff.fitting_names import fits, fitting
from tightseam.handoff.offences import offences
from tightseam.handoff.profile import SHIPPED, Profile, read_profile, shipped_profile

from tests import cast

ANYTHING = Profile("anything", "Anything")


@pytest.fixture(scope="module")
def maren():
    return cast.clean("maren")


def found(head, profile, character=None, store=None):
    return offences(character or head.character, store or head.store, profile)


def mended(head, finding, store):
    repair = finding.repairs[0]
    steps = parse_recipe(json.dumps([{"edit": repair.edit, "params": repair.params}]).encode())
    return apply_recipe(head.character, store, steps)


def test_who_takes_everything_is_offended_by_nothing(maren):
    assert found(maren, ANYTHING) == []


def test_too_many_influences_are_told_with_all_their_vertices_and_capped(maren):
    store = MemoryStore(maren.store)
    two = replace(ANYTHING, influences=2)
    skin = next(f for f in found(maren, two) if f.part == "skin")
    bound = next(b for b in maren.character.bindings if b.part == "skin")
    carrying = np.zeros(len(maren.rest("skin")), int)
    for influence in bound.influences:
        carrying[np.asarray(store.get(influence.vertices))[np.asarray(store.get(influence.weights)) > 0]] += 1
    assert skin.vertices == tuple(np.flatnonzero(carrying > 2).tolist())
    assert skin.size == len(skin.vertices) > 0
    assert not [f for f in offences(mended(maren, skin, store), store, two) if f.part == "skin"]


def test_too_many_bones_shapes_and_vertices_are_counted(maren):
    deforming = sum(b.role == "deform" for b in maren.character.bones)
    told = {f.kind: f for f in found(maren, replace(ANYTHING, bones=deforming - 1, shapes=1))}
    assert told["bones"].text.startswith(f"There are {deforming};")
    assert told["shapes"].size == len(maren.character.shapes)
    vertices = sum(p.vertex_count for p in maren.character.parts)
    assert found(maren, replace(ANYTHING, bones=deforming, shapes=len(maren.character.shapes), vertices=vertices)) == []
    many = found(maren, replace(ANYTHING, vertices=vertices - 1))
    assert [(f.kind, f.text) for f in many] == [("vertices", f"There are {vertices:,}; Anything takes {vertices - 1:,}.")]


def test_names_that_are_long_or_not_plain_are_listed(maren):
    shape = replace(maren.character.shapes[0], name="Mund ö")
    character = replace(maren.character, shapes=(shape, *maren.character.shapes[1:]))
    told = found(maren, replace(ANYTHING, plain_names=True, name_length=5), character)
    assert any("“Mund ö”" in f.text for f in told if f.kind == "plain")
    long = next(f for f in told if f.kind == "long" and f.about == "bone")
    assert f"“{next(b.name for b in character.bones if len(b.name) > 5)}”" in long.text


def test_a_bone_that_is_set_to_another_rest_is_named_with_the_angle_between(maren):
    """Our own rest turned by 20° about an axis of its own is 20° from ours; our own rest offends nobody."""
    jaw = next(b for b in maren.character.bones if b.name == "jaw")
    told = found(maren, replace(ANYTHING, resets={"jaw": (0, 0, 0)}))
    parent = next(b for b in maren.character.bones if b.name == jaw.parent)
    turn = np.array(parent.axes).reshape(3, 3) @ np.array(jaw.axes).reshape(3, 3).T
    angle = np.degrees(np.arccos(np.clip((np.trace(turn) - 1) / 2, -1, 1)))
    assert [f.about for f in told] == (["jaw"] if angle > 0.5 else [])
    other = found(maren, replace(ANYTHING, resets={"jaw": (90, 0, 0)}))
    assert [(f.kind, f.about) for f in other] == [("rest", "jaw")]
    assert "jumps" in other[0].text
    assert found(maren, replace(ANYTHING, resets={"no such bone": (90, 0, 0)})) == []


def test_shapes_that_nobody_listens_to_are_told_and_a_near_name_is_offered(maren):
    store = MemoryStore(maren.store)
    names = [s.name for s in maren.character.shapes]
    near = names[0].upper()
    listening = replace(ANYTHING, listens=(near, *names[2:]))
    told = found(maren, listening)
    assert {f.about for f in told} == set(names[:2])
    named = next(f for f in told if f.about == names[0])
    assert not [f for f in offences(mended(maren, named, store), store, listening) if f.about in (near, names[0])]


def test_profiles_that_ship_are_read_and_differ():
    profiles = [shipped_profile(key) for key in SHIPPED]
    assert [p.name for p in profiles] == list(SHIPPED)
    assert len({(p.influences, p.bones, p.shapes) for p in profiles}) == len(SHIPPED)
    with pytest.raises(BadRequest, match="There is no profile “huge”"):
        shipped_profile("huge")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "is no JSON"),
        ("[" * 100_000, "is nested too deeply"),
        ("[]", "is no profile"),
        ('{"name": "a", "label": "A", "influences": 99}', "influences"),
        ('{"name": "a", "label": "A", "colour": "red"}', "colour"),
        ('{"name": "a", "label": "A", "resets": {"jaw": [1, 2]}}', "resets"),
        ('{"name": "a", "label": "A", "resets": {"jaw": [1, 2, NaN]}}', "resets"),
    ],
)
def test_what_is_no_profile_is_refused_with_words(text, said):
    with pytest.raises(BadRequest, match=said):
        read_profile(text.encode(), "mine.json")


@given(st.binary(max_size=200))
def test_no_bytes_at_all_break_the_reader(data):
    with suppress(BadRequest):
        assert isinstance(read_profile(data, "mine.json"), Profile)


def test_the_command_tells_them_and_leaves_1(tmp_path, maren_file, capsys):
    path, own = tmp_path / "maren.seam", tmp_path / "own.json"
    path.write_bytes(maren_file)
    own.write_text('{"name": "own", "label": "Own", "influences": 1}')
    assert main(["offences", str(path), "--profile", "film"]) == 0
    assert main(["offences", str(path), "--profile", str(own)]) == 1
    assert "Too many influences on Skin" in capsys.readouterr().out
    assert main(["offences", str(path), "--profile", str(own), "--json"]) == 1
    told = json.loads(capsys.readouterr().out)
    assert told["profile"] == "own"
    assert told["offences"][0]["kind"] == "influences"


def test_a_head_that_stands_elsewhere_is_told_and_moved_and_stays_as_it_is(maren):
    """All of it goes along: what is posed is what it was, so much higher."""
    high = replace(ANYTHING, head_height=160.0)
    (told,) = found(maren, high)
    assert told.kind == "height"
    store = MemoryStore(maren.store)
    moved = mended(maren, told, store)
    assert offences(moved, store, high) == []
    way = 160.0 - next(b for b in maren.character.bones if b.name == "head").base[1]
    after = Evaluator(moved, store)
    for pose in maren.character.poses:
        values = pose_values(maren.character, pose)
        assert np.abs(after.points(values) - maren.evaluator.points(values) - [0, way, 0]).max() < 1e-4
    back = shifted(moved, store, np.array([0.0, -way, 0.0]))
    for one, other in zip(back.landmarks, maren.character.landmarks, strict=True):
        assert one.point == pytest.approx(other.point, abs=1e-9)
    assert [s.deltas for s in back.shapes] == [s.deltas for s in maren.character.shapes]


@given(
    st.lists(st.text(min_size=1, max_size=12), min_size=1, max_size=12, unique=True),
    st.integers(3, 12) | st.none(),
    st.booleans(),
)
def test_names_that_fit_are_different_and_those_that_fitted_stay(names, most, plain):
    profile = replace(ANYTHING, name_length=most, plain_names=plain)
    others = fitting(names, profile)
    after = [others.get(n, n) for n in names]
    assert len(set(after)) == len(names)
    assert all(fits(n, profile) for n in after)
    assert all(not fits(n, profile) for n in others)


def test_names_are_mended_on_parts_bones_and_shapes(maren):
    store, strict = MemoryStore(maren.store), replace(ANYTHING, plain_names=True, name_length=9)
    shapes = tuple(replace(s, name=f"{s.name} ö") for s in maren.character.shapes)
    character = replace(maren.character, shapes=shapes, controls=(), poses=())
    for _ in range(8):
        told = next((f for f in offences(character, store, strict) if f.kind in ("plain", "long")), None)
        if told is None:
            break
        step = parse_recipe(json.dumps([{"edit": told.repairs[0].edit, "params": told.repairs[0].params}]).encode())
        character = apply_recipe(character, store, step)
    assert not [f for f in offences(character, store, strict) if f.kind in ("plain", "long")]
    assert [b.name for b in character.bones] == [b.name for b in maren.character.bones]
    assert all(len(b.export or b.name) <= 9 for b in character.bones)


def test_a_rest_is_looked_for_under_the_name_that_the_file_has(maren):
    """The bone of an eye is called like the eye here, and is not in a GLB."""
    sideways = (0, 0, -1, 0, 1, 0, 1, 0, 0)
    turned = replace(maren.character, bones=tuple(replace(b, axes=sideways) if b.name == "eye_L" else b for b in maren.character.bones))
    resets = {"eye_L": (0, 0, 0)}, {"eye_L_joint": (0, 0, 0)}
    assert [[f.about for f in found(maren, replace(ANYTHING, resets=r), turned)] for r in resets] == [[], ["eye_L"]]
