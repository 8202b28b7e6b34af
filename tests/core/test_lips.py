"""Lips that seal and corners that follow the jaw."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.distance import cdist
from tightseam.bake.mouth import bake_errors
from tightseam.deform import kernels, plain
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.model import Binding, CurveKey
from tightseam.edits.jaw_edits import SetLips, StartLips
from tightseam.edits.link_edits import LinkControl
from tightseam.edits.relief_region_edits import BakeLips
from tightseam.jaw.face import LowerFace
from tightseam.jaw.lip_gap import LipGap

from tests.head import Head, after

SEALED = {"lip_seal_L": 1.0, "lip_seal_R": 1.0}


def lines(head: Head, values) -> tuple[np.ndarray, np.ndarray]:
    skin, lips = head.posed("skin", values), head.character.lips[0]
    return tuple(skin[np.asarray(head.store.get(line))] for line in (lips.upper, lips.lower))


@pytest.mark.parametrize("who", ["maren", "hob", "pim"])
@pytest.mark.parametrize("way", [{"jaw_open": 1.0}, {"jaw_open": 0.5, "jaw_side": 1.0}, {"jaw_thrust": 1.0, "head_turn": 40.0}])
def test_sealed_lips_lie_together_as_in_the_neutral_whatever_the_jaw_does(rigged, who, way):
    head = rigged[who]
    rest, sealed = lines(head, {}), lines(head, way | SEALED)
    apart = np.abs(cdist(*sealed).min(axis=1) - cdist(*rest).min(axis=1))
    assert apart.max() < (0.02 if way.get("jaw_open") else 1e-3)  # carried by one rigid matrix; the opening has a shape as well
    if way.get("jaw_open"):
        assert cdist(*lines(head, way)).min(axis=1).max() > 0.5  # and they were apart


def test_it_zips_from_the_corner_to_the_middle(clean):
    face = LowerFace(clean.character, clean.store)
    gap = LipGap(face.surface, face.mouth)
    rows = [gap.of(clean.posed("skin", {"jaw_open": 1.0, "lip_seal_L": k, "lip_seal_R": k}).astype(float)) for k in (0, 0.3, 0.6, 1)]
    open_places = [(row > 0.05).sum() for row in rows]
    assert open_places == sorted(open_places, reverse=True)
    assert open_places[0] > 30
    assert open_places[3] == 0
    half = rows[2]
    assert half[20] > 0.5 > 0.05 > half[2]  # still open in the middle, closed at the corners
    assert half == pytest.approx(half[::-1], abs=0.05)
    one = gap.of(clean.posed("skin", {"jaw_open": 1.0, "lip_seal_L": 1.0}).astype(float))
    assert one[36] < 0.05 < 0.5 < one[4]


def test_lips_stick_until_the_jaw_has_parted_them(clean):
    assert cdist(*lines(clean, {"jaw_side": 1.0})).min(axis=1).max() < cdist(*lines(clean, {})).min(axis=1).max() + 2e-3
    loose = after(clean, SetLips(stick=0))
    assert np.abs(loose.posed("skin", {"jaw_side": 1.0}) - clean.posed("skin", {"jaw_side": 1.0})).max() > 0.05
    assert np.abs(loose.posed("skin", {"jaw_open": 0.5}) - clean.posed("skin", {"jaw_open": 0.5})).max() < 1e-5


def test_at_rest_it_moves_nothing(clean):
    assert np.abs(clean.posed("skin", SEALED | {"corner_L": 1.0, "corner_R": -1.0}) - clean.rest("skin")).max() < 1e-5


def test_a_corner_goes_further_with_the_jaw_or_holds_back(clean):
    corner = np.asarray(clean.store.get(clean.character.lips[0].upper))[-1]
    heights = [clean.posed("skin", {"jaw_open": 1.0, "corner_L": k})[corner, 1] for k in (1.0, 0.0, -1.0)]
    assert heights[0] < heights[1] - 0.3 < heights[1] + 0.3 < heights[2]
    other = np.asarray(clean.store.get(clean.character.lips[0].upper))[0]
    assert clean.posed("skin", {"jaw_open": 1.0, "corner_L": 1.0})[other] == pytest.approx(clean.posed("skin", {"jaw_open": 1.0})[other])


def test_a_head_that_turns_takes_the_seal_along(clean):
    turned = {"head_turn": 35.0, "head_nod": 10.0}
    here, there = (clean.posed("skin", v | {"jaw_open": 1.0} | SEALED) for v in ({}, turned))
    rows = np.asarray(clean.store.get(clean.character.lips[0].upper))
    assert np.abs(cdist(here[rows], here[rows]) - cdist(there[rows], there[rows])).max() < 2e-3


def test_it_is_driven_along_a_curve_by_any_control(clean):
    keys = (CurveKey(0.0, 1.0), CurveKey(0.5, 1.0), CurveKey(0.8, 0.0))
    head = after(clean, LinkControl(control="jaw_open", kind="seal", targets=["seal_L", "seal_R"], keys=keys))
    apart = [cdist(*lines(head, {"jaw_open": k})).min(axis=1).max() for k in (0.4, 0.6, 0.8)]
    assert apart[0] < 0.15 < apart[1] < apart[2]
    assert apart[2] == pytest.approx(cdist(*lines(clean, {"jaw_open": 0.8})).min(axis=1).max(), abs=1e-4)
    assert after(head, LinkControl(control="jaw_open", kind="seal", targets=["seal_L", "seal_R"], gain=0)).character == clean.character


def test_compiled_and_plain_loops_agree(clean):
    x, values = clean.evaluator.rig.lips, clean.values({"jaw_open": 0.8})
    motion = x.motion(clean.evaluator.matrices(values))
    shaped = clean.evaluator.meshes.rest
    args = (shaped, x.vertices, x.share, x.when, x.left, x.corners, np.float32(x.lips.soft))
    args += (np.array([0.4, 0.9], np.float32), np.array([0.3, -0.5], np.float32), motion.together, motion.apart)
    one, other = clean.evaluator.points(values), clean.evaluator.points(values)
    kernels.seal_lips(one, *args)
    plain.seal_lips(other, *args)
    assert np.abs(one - other).max() < 1e-4
    assert np.abs(one - clean.evaluator.points(values)).max() > 0.1


def test_without_a_jaw_or_weights_nothing_breaks(clean):
    bones = tuple(b for b in clean.character.bones if b.region not in ("jaw", "tongue", "teeth"))
    names = {b.name for b in bones}
    bindings = tuple(replace(b, influences=tuple(i for i in b.influences if i.bone in names)) for b in clean.character.bindings)
    controls = tuple(replace(c, links=tuple(n for n in c.links if n.kind != "bone" or n.target in names)) for c in clean.character.controls)
    bare = replace(clean.character, bones=bones, bindings=bindings, controls=controls, seams=(), poses=())
    evaluator = Evaluator(bare, clean.store)
    values = clean.values(SEALED | {"jaw_open": 1.0})
    assert evaluator.rig.lips is None
    assert np.isfinite(evaluator.points(values)).all()
    unbound = replace(clean.character, bindings=(Binding("skin", "weighted", ()), *clean.character.bindings[1:]))
    assert np.isfinite(Evaluator(unbound, clean.store).stages(values).sealed).all()


def test_found_again_they_keep_how_they_seal(clean):
    head = after(clean, SetLips(balance=0.3, zip=(CurveKey(0, 0.2), CurveKey(1, 0.9))), StartLips())
    assert head.character.lips[0].balance == 0.3
    assert head.character.lips[0].vertices == clean.character.lips[0].vertices
    bare = after(clean, BakeLips())  # a head that came without: found, and given controls
    bare = Head(replace(bare.character, controls=bare.character.controls[:3], poses=(), shapes=clean.character.shapes), bare.store)
    again = after(bare, StartLips())
    assert [c.name for c in again.character.controls[3:]] == ["lip_seal_L", "lip_seal_R", "corner_L", "corner_R"]


def test_baked_it_is_exact_with_the_jaw_wide_open_and_the_error_is_told(clean):
    baked = after(clean, BakeLips())
    assert not baked.character.lips
    for values in ({"jaw_open": 1.0, "lip_seal_L": 1.0}, {"jaw_open": 1.0, "corner_R": 1.0}, {}):
        assert np.abs(baked.posed("skin", values) - clean.posed("skin", values)).max() < 1e-4
    error = next(e for e in bake_errors(clean.character, clean.store) if e.what == "Lip seal and corners")
    pose = {"jaw_open": 0.5} | SEALED
    off = 10 * np.linalg.norm(baked.posed("skin", pose) - clean.posed("skin", pose), axis=1).max()
    assert error.worst >= off > 1.0
    with pytest.raises(BadRequest, match="not set up"):
        after(baked, BakeLips())


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (LinkControl(control="jaw_open", kind="seal", targets=["seal_X"]), "no seal called"),
        (LinkControl(control="nobody", kind="seal", targets=["seal_L"]), "no control called"),
        (SetLips(zip=(CurveKey(0, 0), CurveKey(2, 1))), "keys go from 0 to 1"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(clean, edit, says):
    with pytest.raises(BadRequest, match=says):
        after(clean, edit)


def test_a_document_with_broken_lips_is_refused(clean):
    lips = clean.character.lips[0]
    with pytest.raises(BadDocument, match="more than one pair"):
        check_names(replace(clean.character, lips=(lips, lips)))
    store = MemoryStore(clean.store)
    cut = replace(lips, lower=store.put(np.asarray(clean.store.get(lips.lower))[1:]))
    with pytest.raises(BadDocument, match="share both corners"):
        check_arrays(replace(clean.character, lips=(cut,)), store)
