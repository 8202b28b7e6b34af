"""Caps: how far expressions add up, what stays as it is, and how they are made, changed and handed over."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from tightseam.brush.brush import Brush
from tightseam.deform.caps import AddedUp, CompiledCap, CompiledCaps
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import pull_list
from tightseam.document.arrays import MemoryStore
from tightseam.document.channels import strength_of
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Control, Link
from tightseam.document.poses import pose_values, rest_values
from tightseam.document.removal import without
from tightseam.document.rescale import rescaled
from tightseam.edits.cap_edits import AddCap, RemoveCap, SetCap
from tightseam.edits.corrective_edits import AddCorrective
from tightseam.edits.pose_edits import KeepPose
from tightseam.edits.registry import make_step
from tightseam.edits.shape_edits import OffsetVertices
from tightseam.edits.shape_making_edits import NewShape
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.glb_write import write_glb
from tightseam.mending.capped import capped
from tightseam.mending.mended import mendings
from tightseam.mending.swept import swept
from tightseam.shapes.sculpt import SculptDab, Sculpting, SculptStroke

from tests.core.gltf_reader import PosedGlb
from tests.core.mix_faults import Planter
from tests.head import Head, after

CHEEK = 900
BOTH = {"puff": 1.0, "push": 1.0}


def posed(head: Head, values: dict[str, float]) -> np.ndarray:
    evaluator = Evaluator(head.character, head.store)
    return evaluator.points(rest_values(head.character) | values)[evaluator.meshes.rows("skin")]


@pytest.fixture(scope="module")
def adding(clean) -> Head:
    """A head with two expressions that bring one cheek out by 4 and 6 mm, and one of two sides."""
    near = np.flatnonzero(np.linalg.norm(clean.rest("skin") - clean.rest("skin")[CHEEK], axis=1) < 1.5).tolist()
    head = clean
    for name, mm in (("puff", 4.0), ("push", 6.0), ("wide_L", 5.0), ("wide_R", 5.0)):
        head = after(head, NewShape(name=name), OffsetVertices(name=name, part="skin", vertices=near, left=mm))
        control = Control(name, name, 0, 1, 0, (Link("shape", name, 1.0),))
        head = Head(replace(head.character, controls=(*head.character.controls, control)), head.store)
    return head


@pytest.fixture(scope="module")
def held(adding) -> Head:
    return after(adding, AddCap(part="skin", vertices=[CHEEK], cm=0.7, soft=0.1, fades=2.0))


def one_cap(cm: float, soft: float, region: float = 1.0) -> CompiledCaps:
    """One vertex that two shapes move by their strengths along x and y."""
    added = AddedUp(np.array([0]), np.arange(2), np.array([[[1.0, 0, 0]], [[0, 1.0, 0]]]))
    return CompiledCaps(added, (CompiledCap(np.array([0]), np.array([region]), cm, soft),))


LENGTH = st.floats(-3, 3, allow_nan=False).filter(lambda x: abs(x) > 1e-6)


@settings(max_examples=300, deadline=None)
@given(LENGTH, LENGTH, st.floats(0, 4), st.floats(0, 1), st.floats(0, 1))
def test_what_is_beyond_goes_softly_to_its_end_and_never_turns(x, y, cm, soft, region):
    back = one_cap(cm, soft, region).held_back(np.diag([x, y]))
    assert back is not None
    asked = np.array([x, y, 0.0])
    left = np.linalg.norm(asked - back[0])
    free = max(cm, abs(x), abs(y))
    beyond = max(np.linalg.norm(asked) - free, 0.0)
    through = beyond * soft / (beyond + soft) if beyond else 0.0
    assert left == pytest.approx(np.linalg.norm(asked) - region * (beyond - through), abs=1e-7)
    assert np.abs(np.cross(asked, back[0])).max() < 1e-9
    assert region < 1 or left <= free + soft + 1e-7


def test_of_two_caps_at_a_vertex_the_one_that_holds_more_holds():
    two = one_cap(1.0, 0.0)
    weak = CompiledCap(np.array([0]), np.array([1.0]), 1.2, 0.0)
    both = replace(two, each=(weak, *two.each))
    asked = np.diag([1.0, 1.0])
    assert np.array_equal(both.held_back(asked), two.held_back(asked))


def test_two_expressions_end_where_the_formula_says(held):
    moved = posed(held, BOTH)[CHEEK] - posed(held, {})[CHEEK]
    assert np.linalg.norm(moved) == pytest.approx(0.7 + 0.3 * 0.1 / (0.3 + 0.1), abs=2e-4)


@pytest.mark.parametrize("alone", [{}, {"puff": 1.0}, {"push": 0.5}, {"wide_L": 1.0}, {"smile": 1.0, "puff": 0.0}])
def test_the_neutral_and_single_expressions_stay_to_the_bit(adding, held, alone):
    assert np.array_equal(posed(held, alone), posed(adding, alone))


def test_both_sides_of_one_expression_are_one(adding, held):
    both = {"wide_L": 1.0, "wide_R": 1.0}
    assert np.array_equal(posed(held, both), posed(adding, both))
    three = {**both, "puff": 1.0}
    assert np.linalg.norm(posed(held, three)[CHEEK] - posed(held, {})[CHEEK]) == pytest.approx(1.0 + 0.4 * 0.1 / 0.5, abs=2e-4)


def test_strengths_that_are_set_by_themselves_are_expressions_too(adding, held):
    own = {strength_of("puff"): 1.0, "push": 1.0}
    assert np.allclose(posed(held, own), posed(held, BOTH), atol=1e-5)
    assert not np.allclose(posed(adding, own), posed(held, own), atol=1e-3)


def test_it_fades_out_along_the_surface(adding, held):
    less = np.linalg.norm(posed(adding, BOTH) - posed(held, BOTH), axis=1)
    far = np.linalg.norm(held.rest("skin") - held.rest("skin")[CHEEK], axis=1)
    assert less[CHEEK] == less.max()
    assert less[far > 2.0].max() == 0
    ring = (far > 0.8) & (far < 1.2) & (np.linalg.norm(posed(adding, BOTH) - adding.rest("skin"), axis=1) > 0.9)
    assert ring.any()
    assert (less[ring] > 0).all()
    assert (less[ring] < less[CHEEK]).all()


def test_a_corrective_comes_on_top(held):
    made = after(held, AddCorrective(values=BOTH, name="fix"), OffsetVertices(name="fix", part="skin", vertices=[CHEEK], up=3.0))
    moved = posed(made, BOTH)[CHEEK] - posed(held, BOTH)[CHEEK]
    assert moved == pytest.approx([0, 0.3, 0], abs=1e-4)


def test_the_pull_list_adds_up_to_where_the_vertex_is(held):
    evaluator = Evaluator(held.character, held.store)
    causes = pull_list(evaluator, "skin", CHEEK, rest_values(held.character) | BOTH)
    assert "cap" in {c.kind for c in causes}
    total = np.sum([c.vector for c in causes], axis=0)
    assert total == pytest.approx(10 * (posed(held, BOTH)[CHEEK] - posed(held, {})[CHEEK]), abs=1e-3)


def test_a_plain_shape_is_not_sculpted_where_it_would_come_out_otherwise(held):
    dab = SculptDab(vertex=CHEEK, place=tuple(posed(held, BOTH)[CHEEK]), tool="swell")
    sculpting = Sculpting("puff", "skin", Brush(radius=1.0, strength=1.0), BOTH)
    with pytest.raises(BadRequest, match="Caps hold Skin back"):
        SculptStroke(held.character, held.store, sculpting)
    made = after(held, AddCorrective(values=BOTH, name="fix"))
    stroke = SculptStroke(made.character, made.store, replace(sculpting, shape="fix"))
    stroke.dab(dab)
    seen = stroke.posed.copy()
    now = Head(stroke.painted(made.character, made.store), made.store)
    assert np.abs(posed(now, BOTH) - seen).max() < 1e-3


def test_mirrored_it_holds_both_sides(adding):
    both = after(adding, AddCap(part="skin", vertices=[CHEEK], mirror=True, fades=0.0))
    at = adding.rest("skin")[np.asarray(both.store.get(both.character.caps[0].vertices))]
    assert len(at) == 2
    assert at[0] == pytest.approx(at[1] * [-1, 1, 1], abs=1e-3)


def test_it_is_changed_called_by_a_name_of_its_own_and_removed(held):
    more = after(held, AddCap(part="skin", vertices=[10, 11]), SetCap(name="cap", cm=0.9))
    assert [c.label for c in more.character.caps] == ["Cap on Skin", "Cap on Skin 2"]
    assert [c.cm for c in more.character.caps] == [0.9, 0.0]
    assert [c.soft for c in more.character.caps] == [0.1, 0.1]
    assert after(more, RemoveCap(name="cap_2"), SetCap(name="cap", cm=0.7)).character.caps == held.character.caps
    for wrong, said in (
        (AddCap(part="skin", vertices=[10**9]), "out of range"),
        (AddCap(part="chin", vertices=[1]), "no part called"),
        (SetCap(name="nose", cm=1), "no cap called"),
        (RemoveCap(name="nose"), "no cap called"),
    ):
        with pytest.raises(BadRequest, match=said):
            wrong.apply(held.character, held.store)
    for numbers in ({"cm": -0.1}, {"cm": 11}, {"soft": float("nan")}, {"fades": 1e9}, {"vertices": []}):
        with pytest.raises(ValidationError):
            AddCap(**({"part": "skin", "vertices": [1]} | numbers))


def test_it_follows_the_head_and_goes_with_its_part(held):
    larger = rescaled(held.character, held.store, 2.0)
    assert (larger.caps[0].cm, larger.caps[0].soft) == (1.4, 0.2)
    assert without(held.character, "part", {"skin"}).caps == ()
    assert find_part(held.character, "skin").name == held.character.caps[0].part


def test_files_bring_it_back_and_a_glb_plays_it(held):
    whole = after(held, KeepPose(label="Both", values=BOTH))
    store = MemoryStore(whole.store)
    assert read_character(write_character(whole.character, store), store).caps == whole.character.caps
    data = write_glb(whole.character, store)
    assert read_glb(data, store).caps == whole.character.caps
    second = [p.label for p in whole.character.poses].index("Both")
    assert pose_values(whole.character, whole.character.poses[second])["puff"] == 1.0
    assert np.abs(100 * PosedGlb(data).at(second)["skin"] - posed(whole, BOTH)).max() < 0.002


def test_where_expressions_add_up_to_a_fault_a_cap_is_a_way_and_what_it_says_is_what_comes(rigged):
    """A smile and a pucker that both swell one cheek, each as far as it can bear."""
    planter = Planter(rigged["hob"].with_controls(("smile", "pucker")))
    for name in ("smile", "pucker"):
        planter.character = planter.swollen(name, 1.8)
    before = swept(planter.character, planter.store)
    cause = next(c for c in before.report.causes if before.worst_of(c).kind == "crumple")
    way = next(m for m in mendings(before, cause) if m.kind == "cap")
    assert (way.left, way.harms, way.clean) == (0, 0, True)
    head = after(Head(before.character, before.store), make_step(way.edit, way.params).params)
    left = swept(head.character, head.store).report.findings
    assert {f.title for f in left} == {f.title for f in before.report.findings} - {before.worst_of(cause).title}
    together = 10 * np.linalg.norm(posed(head, {"smile": 1.0, "pucker": 1.0}) - posed(head, {}), axis=1)
    assert float(re.search(r"than ([\d.]+) mm", way.text)[1]) == pytest.approx(together.max(), abs=0.3)


def test_no_cap_is_proposed_where_nothing_adds_up(rigged):
    planter = Planter(rigged["hob"].with_controls(("jaw_open", "pucker")))
    before = swept(planter.sunken(0.6), planter.store)
    assert before.report.causes
    assert not [p for c in before.report.causes for p in capped(before, c)]
