"""What is wrong with bones is found, and its repair puts it right."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.make import make_influences
from tightseam.document.model import Binding, Skeleton
from tightseam.edits.registry import EDITS
from tightseam.head.found import FoundHead
from tightseam.landmarks.bones.checks import bone_findings

from tests.core.heads import character_of, turned, without_hair
from tests.core.recipes import edited

FACE = {"choices": {"face": "both", "ears": True}}


@pytest.fixture(scope="module")
def rig(raw_maren):
    character, store = character_of(without_hair(raw_maren))
    return edited(character, store, ("landmark.suggest", {}), ("bones.build", FACE)), store


def findings(character, store):
    return bone_findings(FoundHead(character, store), character)


def test_bones_from_landmarks_have_nothing_wrong(raw_heads):
    for name, head in raw_heads.items():
        for raw in (without_hair(head), turned(head, 20)):
            character, store = character_of(raw)
            built = edited(character, store, ("landmark.suggest", {}), ("bones.build", FACE))
            assert findings(built, store) == [], name


@pytest.mark.parametrize(
    ("edit", "params", "check", "size"),
    [
        ("bone.place", {"bone": "eye_L", "head": [3.15, 20.0, 5.45], "mirror": True}, "eye_centre", 3.0),
        ("bone.place", {"bone": "jaw", "head": [0, 17.4, -0.2], "mirror": False}, "jaw_hinge", 5.0),
        ("bone.place", {"bone": "cheek_L", "head": [5.55, 16.37, 6.86], "mirror": False}, "twins", 4.0),
        ("bone.place", {"bone": "tongue_2", "head": [0, 14.5, 4.5], "mirror": False}, "tongue", 10.0),
        ("bone.place", {"bone": "neck_1", "head": [0, 3.0, -9.0], "mirror": False}, "outside", 20.0),
    ],
)
def test_a_bone_out_of_place_is_found_and_put_back(rig, edit, params, check, size):
    character, store = rig[0], MemoryStore(rig[1])
    wrong = edited(character, store, (edit, params))
    found = [f for f in findings(wrong, store) if f.kind == check]
    assert found
    assert found[0].size == pytest.approx(size, rel=0.5)
    assert found[0].repairs[0].edit in EDITS
    for _ in range(3):
        left = findings(wrong, store)
        if not left:
            break
        wrong = edited(wrong, store, (left[0].repairs[0].edit, left[0].repairs[0].params))
    assert findings(wrong, store) == []


def test_a_jaw_that_leans_is_told_by_degrees(rig):
    character, store = rig[0], MemoryStore(rig[1])
    raised = {"jaw_hinge_L": 1.0}
    marks = tuple(replace(m, point=(m.point[0], m.point[1] + raised.get(m.name, 0.0), m.point[2])) for m in character.landmarks)
    leaning = edited(replace(character, landmarks=marks), store, ("bones.build", FACE))
    found = {f.kind: f for f in findings(leaning, store)}
    hinge = next(m.point for m in character.landmarks if m.name == "jaw_hinge_L")
    assert found["jaw_level"].size == pytest.approx(np.degrees(np.arctan2(1.0, 2 * hinge[0])), abs=0.2)
    assert found["jaw_level"].unit == "°"
    assert "jaw_hinge" not in found  # it still goes through both


def test_a_part_bound_to_a_helper_stays_behind_and_is_said(rig):
    character, store = rig[0], MemoryStore(rig[1])
    count = next(p.vertex_count for p in character.parts if p.name == "tongue")
    bound = Binding("tongue", "rigid", make_influences(store, ["lip_lower"], np.ones((count, 1))))
    wrong = replace(character, bindings=tuple(bound if b.part == "tongue" else b for b in character.bindings))
    found = findings(wrong, store)
    assert [(f.kind, f.about, f.size) for f in found] == [("helper", "lip_lower", count)]
    assert found[0].text.startswith("Tongue is bound to it alone")
    mended = edited(wrong, store, (found[0].repairs[0].edit, found[0].repairs[0].params))
    assert findings(mended, store) == []


def test_an_eye_carried_by_the_head_alone_is_no_bone_off_centre(faulty):
    assert findings(faulty.character, faulty.store) == []


def test_without_bones_or_head_there_is_nothing_to_find(raw_maren):
    character, store = character_of(without_hair(raw_maren))
    assert findings(character, store) == []
    assert Skeleton() == Skeleton(face="shapes")
