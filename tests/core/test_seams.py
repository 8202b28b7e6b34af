"""The seam meter: known contacts in millimetres, clean and faulty Maren, and Maren through OBJ."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.faults import plant_in_rig
from tightseam.document.arrays import MemoryStore
from tightseam.document.make import make_delta, make_part
from tightseam.document.model import About, Character, Control, Limits, Link, Pose, Seam, Shape
from tightseam.first_rig import first_rig
from tightseam.geometry.polygons import Polygons
from tightseam.seams.findings import findings
from tightseam.seams.meter import SeamMeter

from tests.core import obj
from tests.core.shapes import ball
from tests.head import TWO_FAULTS, Head


def two_balls(distance: float) -> Head:
    store = MemoryStore()
    points, polygons = ball(1.0, 64, 32)
    parts = (
        make_part(store, "one", "other", points, polygons),
        make_part(store, "two", "other", points + [distance, 0, 0], polygons),
    )
    seam = Seam("pair", "One · two", "inside", "apart", "solid", "one", Limits(overlap=0.1), "two")
    character = Character(About("Balls"), parts, seams=(seam,))
    return Head(character, store)


@pytest.mark.parametrize("overlap", [0.02, 0.1, 0.3])
def test_two_balls_overlap_by_what_they_were_pushed_together(overlap):
    reading = two_balls(2 - overlap).meter().measure({})[0]
    assert reading.overlap == pytest.approx(overlap * 10, abs=0.03)
    assert not reading.within
    assert reading.worst.part in ("one", "two")


def test_two_balls_apart_have_a_gap_and_no_overlap():
    reading = two_balls(2.05).meter().measure({})[0]
    assert reading.overlap == 0
    assert reading.gap == pytest.approx(0.5, abs=0.03)
    assert reading.within


def pushed_lip(clean: Head, millimetres: float) -> Head:
    """Clean Maren with a shape that lowers the upper lip by so much."""
    store = MemoryStore(clean.store)
    offsets = np.zeros((len(clean.rest("skin")), 3))
    offsets[clean.set("lip_upper"), 1] = -millimetres / 10
    delta = make_delta(store, "skin", offsets)
    shapes = (*clean.character.shapes, Shape("press", "Press", (delta,)))
    controls = (*clean.character.controls, Control("press", "Press", -1, 1, 0, (Link("shape", "press", 1),)))
    pose = Pose("pressed", "Pressed", {"press": 1}, ("lips",))
    character = replace(clean.character, shapes=shapes, controls=controls, poses=(*clean.character.poses, pose))
    return Head(character, store)


def lips_of(head: Head, **values: float):
    meter = head.meter()
    return next(r for r in meter.measure(head.values(values), ("lips",)) if r.seam == "lips")


def test_a_lip_pressed_on_the_other_overlaps_beyond_the_design(clean):
    # the lips meet on a slope, so that pushing down by 1 mm is an overlap of a little less, more by the slope's cosine
    reading = lips_of(pushed_lip(clean, 1.0), press=1)
    assert 0.4 < reading.overlap <= 1.15
    assert not reading.within


def test_a_lip_lifted_off_the_other_gapes_where_closing_is_claimed(clean):
    head = pushed_lip(clean, 4.0)
    reading = lips_of(head, press=-1)
    assert 1.5 < reading.gap < 4.1
    assert reading.gap / 0.15 == pytest.approx(reading.excess)
    assert next(r for r in head.meter().measure(head.values({"press": -1}), ()) if r.seam == "lips").gap is None


def test_a_blink_that_stops_short_gapes_between_the_margins(clean):
    meter = clean.meter()
    claimed = next(r for r in meter.measure(clean.values({"blink_L": 0.9}), ("lids L",)) if r.seam == "lid_upper_L")
    assert claimed.gap > 0.5
    assert claimed.gap_limit == 0.1
    unclaimed = next(r for r in meter.measure(clean.values({"blink_L": 0.9}), ()) if r.seam == "lid_upper_L")
    assert unclaimed.within


def test_readings_do_not_change_when_the_head_turns(clean):
    meter = clean.meter()
    still = meter.measure(clean.values({"smile": 1, "blink_L": 1, "blink_R": 1}), ("lips", "lids L", "lids R"))
    turned = meter.measure(clean.values({"smile": 1, "blink_L": 1, "blink_R": 1, "head_turn": 40}), ("lips", "lids L", "lids R"))
    for a, b in zip(still, turned, strict=True):
        if a.seam.startswith(("lid_", "teeth", "follow")):
            assert (b.overlap or 0) == pytest.approx(a.overlap or 0, abs=0.01)
            assert (b.gap or 0) == pytest.approx(a.gap or 0, abs=0.02)


def out_of_limits(head: Head) -> dict[str, list]:
    return {pose: bad for pose, row in head.readings().items() if (bad := [r for r in row if not r.within])}


def test_clean_maren_keeps_every_limit_in_every_pose(clean):
    assert out_of_limits(clean) == {}


def check_planted(head: Head) -> None:
    readings = head.readings()
    assert {r.seam for row in readings.values() for r in row if not r.within} == {f.seam for f in TWO_FAULTS}
    found = {f.about: f for f in findings(head.character, head.store, head.evaluator, readings)}
    for fault in TWO_FAULTS:
        finding = found[fault.seam]
        assert finding.kind == fault.kind == "lag"
        assert finding.part == fault.part
        assert finding.causes[0].name == fault.cause
        assert finding.repairs[0].params["part"] == fault.part


def test_on_faulty_maren_exactly_the_planted_faults_show(faulty):
    check_planted(faulty)


@pytest.fixture(scope="module")
def through_obj(raw_maren) -> Head:
    store = MemoryStore()
    parts = []
    for k, p in enumerate(raw_maren.parts):
        points, polygons = obj.read(obj.write(*obj.shuffled(p.points, Polygons.from_lists(p.polygons), seed=k)))
        parts.append(make_part(store, p.name, p.kind, points, polygons))
    character = first_rig("Maren", "", tuple(parts), raw_maren.landmarks, store)
    return Head(character, store)


def test_maren_through_obj_with_shuffled_vertices_is_as_clean(through_obj):
    assert out_of_limits(through_obj) == {}


def test_planted_faults_show_through_obj_too(through_obj):
    store = MemoryStore(through_obj.store)
    character = plant_in_rig(through_obj.character, store, TWO_FAULTS)
    check_planted(Head(character, store))


def test_the_order_of_vertices_does_not_change_what_is_measured(clean, through_obj):
    for pose in ("jaw_open", "smile_blink"):
        a, b = clean.readings()[pose], through_obj.readings()[pose]
        for one, other in zip(a, b, strict=True):
            assert (one.overlap or 0) == pytest.approx(other.overlap or 0, abs=0.02), one.seam
            assert (one.gap or 0) == pytest.approx(other.gap or 0, abs=0.02), one.seam


def test_meter_of_a_character_without_seams_reads_nothing():
    head = two_balls(3)
    bare = replace(head.character, seams=())
    assert SeamMeter(bare, head.store, Evaluator(bare, head.store)).measure({}) == []
