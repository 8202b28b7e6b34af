"""How far left and right disagree where they should agree."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.model import PartDelta
from tightseam.document.poses import pose_values, rest_values
from tightseam.edits.set_carrier import SetCarrier
from tightseam.head.found import FoundHead
from tightseam.seams.asymmetry import MirrorGauge, mirror_gauge

from tests import cast
from tests.head import Head, after

ONE_SIDED = {"look_left", "look_right"}
NOISE = 0.02  # mm: points are posed with 24 bits


@pytest.fixture(scope="module")
def maren():
    return cast.clean("maren")


@pytest.fixture(scope="module")
def gauge(maren) -> MirrorGauge:
    return gauge_of(maren)


def gauge_of(head: Head) -> MirrorGauge:
    return mirror_gauge(FoundHead(head.character, head.store), head.evaluator, head.meter())


def read(head: Head, gauge: MirrorGauge, pose: str) -> dict:
    found = next(p for p in head.character.poses if p.name == pose)
    read = gauge.read(pose_values(head.character, found), head.meter().measure_pose(found))
    return {u.region: u for u in read or ()}


@pytest.mark.parametrize("name", cast.NAMES)
def test_clean_heads_are_even_in_every_pose_that_is_and_no_other_is_judged(name):
    head = cast.clean(name)
    gauge, meter = gauge_of(head), head.meter()
    found = {p.name: gauge.read(pose_values(head.character, p), meter.measure_pose(p)) for p in head.character.poses}
    assert {pose for pose, uneven in found.items() if uneven is None} == ONE_SIDED
    judged = [u for uneven in found.values() for u in uneven or ()]
    assert {u.region for u in judged} == {"eyes", "hair", "skin"}
    assert max(u.millimetres for u in judged) < NOISE


@settings(max_examples=25)
@given(st.data())
def test_a_pose_is_judged_where_both_sides_are_asked_for_alike(maren, gauge, data):
    pairs = [("blink_L", "blink_R"), ("corner_L", "corner_R"), ("lip_seal_L", "lip_seal_R")]
    even = {n: data.draw(st.floats(0, 1)) for n in ("jaw_open", "smile", "pucker", "blink", "brows_up", "squint")}
    for pair in pairs:
        even |= dict.fromkeys(pair, data.draw(st.floats(0, 1)))
    assert gauge.judges(checked_values(maren.character, even))
    # a sealed or cornered mouth is uneven only where the jaw is open, and blinks where the lids are not closed already: by what is asked
    uneven = data.draw(st.sampled_from([{"gaze_across": 8.0}, {"head_turn": -5.0}, {"jaw_side": 0.4}, {"head_tilt": 3.0}]))
    assert not gauge.judges(checked_values(maren.character, even | uneven))
    left, right = data.draw(st.sampled_from(pairs))
    rest = rest_values(maren.character)
    assert not gauge.judges(rest | {left: 0.5})
    assert not gauge.judges(rest | {left: 0.5, right: 0.25})


def test_a_smile_that_is_higher_on_the_left_reads_as_much_and_where(maren):
    mm, store = 1.3, MemoryStore(maren.store)
    smile = next(s for s in maren.character.shapes if s.name in ("smile", "smile_left"))
    skin = find_part(maren.character, "skin")
    delta = next(d for d in smile.deltas if d.part == skin.name)
    vertices, offsets = np.asarray(store.get(delta.vertices)), np.array(store.get(delta.offsets))
    points = maren.rest(skin.name)
    row = int(np.argmax(np.where(points[vertices, 0] > 1, np.linalg.norm(offsets, axis=1), 0)))
    offsets[row, 1] += mm / 10
    changed = replace(smile, deltas=tuple(PartDelta(d.part, d.vertices, store.put(offsets)) if d is delta else d for d in smile.deltas))
    shapes = tuple(changed if s is smile else s for s in maren.character.shapes)
    head = Head(replace(maren.character, shapes=shapes), store)
    before = read(maren, gauge_of(maren), "smile")["skin"].millimetres
    found = read(head, gauge_of(head), "smile")["skin"]
    assert found.millimetres == pytest.approx(mm, abs=before + NOISE)
    partner = gauge_of(maren)._partners[vertices[row]]
    assert found.worst.vertex in (vertices[row], partner)
    assert read(head, gauge_of(head), "jaw_open")["skin"].millimetres < 0.5


def test_what_is_uneven_at_rest_is_no_fault_of_a_pose(maren):
    store = MemoryStore(maren.store)
    skin = find_part(maren.character, "skin")
    points = np.array(maren.rest(skin.name))
    cheek = int(np.argmin(np.linalg.norm(points - [5.0, 12.0, 6.0], axis=1)))
    points[cheek, 0] += 0.04
    parts = tuple(replace(p, points=store.put(points)) if p is skin else p for p in maren.character.parts)
    head = Head(replace(maren.character, parts=parts), store)
    gauge = gauge_of(head)
    assert gauge._apart_at_rest[cheek] == pytest.approx(0.4, abs=NOISE)
    plain = read(maren, gauge_of(maren), "smile")["skin"].millimetres
    assert read(head, gauge, "smile")["skin"].millimetres == pytest.approx(plain, abs=0.1)


def test_a_brow_that_stays_behind_on_one_side_is_uneven_by_its_drift(maren):
    head = after(maren, SetCarrier(part="brow_L", carrier="rigid", bones=["head"]))
    values = head.values({"brows_up": 1.0})
    readings = head.meter().measure(values)
    drift = {r.seam: r.drift for r in readings}
    found = {u.region: u for u in gauge_of(head).read(values, readings)}["hair"]
    assert found.seams == ("ride_brow_L", "ride_brow_R")
    assert found.millimetres == pytest.approx(drift["ride_brow_L"] - drift["ride_brow_R"], abs=NOISE)
    assert found.millimetres > found.limit
