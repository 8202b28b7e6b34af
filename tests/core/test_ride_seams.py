"""How far hair leaves the place on the skin that it stands on."""

from __future__ import annotations

import copy
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.cast import raw_parts
from tightseam.document.arrays import MemoryStore
from tightseam.document.check import check_names
from tightseam.document.errors import BadDocument
from tightseam.edits.registry import apply_recipe, make_step
from tightseam.edits.set_carrier import SetCarrier
from tightseam.first_rig import first_rig
from tightseam.geometry.polygons import Polygons
from tightseam.head.roots import lash_feet, strand_roots
from tightseam.seams.findings import findings
from tightseam.seams.meter import SeamMeter
from tightseam.seams.ride import RideGauge

from tests import cast
from tests.head import Head, after


@pytest.fixture(scope="module")
def hob():
    return cast.clean("hob")


@pytest.fixture(scope="module")
def gauges(hob) -> dict[str, RideGauge]:
    meter = hob.meter()
    return {s.name: g for s, g in zip(hob.character.seams, meter.gauges, strict=True) if s.kind == "ride"}


def test_brows_lashes_whiskers_and_hair_have_a_seam_each(hob, gauges):
    kinds = {p.name for p in hob.character.parts if p.kind in ("brow", "lash", "whiskers", "hair")}
    assert gauges.keys() == {f"ride_{name}" for name in kinds}
    assert {s.region for s in hob.character.seams if s.kind == "ride"} == {"hair"}


@settings(max_examples=20)
@given(st.integers(0, 10**6))
def test_a_head_that_moves_as_one_drifts_nowhere(hob, gauges, seed):
    turn, shift = Rotation.random(random_state=seed).as_matrix(), np.random.default_rng(seed).normal(size=3) * 20
    moved = hob.posed_by(lambda _, points: points @ turn.T + shift)
    assert max(g.read(moved).drift for g in gauges.values()) < 1e-6


@pytest.mark.parametrize("by", [0.03, 0.2])
def test_what_leaves_its_place_drifts_as_far(hob, gauges, by):
    """A move of all of a part is off the skin at some roots and along it at others: the worst of both is read against its own limit."""
    reading = gauges["ride_brow_L"].read(hob.posed_by(lambda part, x: x + [0, 0, by] if part == "brow_L" else x))
    assert 10 * by * 0.7 < reading.drift <= 10 * by + 1e-6
    assert reading.excess == pytest.approx(reading.drift / (0.5 if reading.aside else 0.2))
    assert reading.within == (reading.excess <= 1)


def test_hair_that_slides_along_the_skin_is_told_apart_from_hair_that_lifts(hob, gauges):
    gauge, skin = gauges["ride_whiskers"], hob.rest("skin").astype(float)
    middle = hob.rest("whiskers").astype(float).mean(axis=0)
    nearest = skin[np.linalg.norm(skin - middle, axis=1).argmin()]
    out = np.array([0.0, 0.0, 1.0]) * np.sign(middle[2] - nearest[2] + 1)
    lifted, slid = (gauge.read(hob.posed_by(lambda p, x, way=way: x + way if p == "whiskers" else x)) for way in (0.1 * out, [0.1, 0, 0]))
    assert not lifted.aside
    assert lifted.drift == pytest.approx(1.0, abs=0.15)
    assert 0.5 < slid.drift < 1.05


def test_whiskers_that_the_head_carries_are_found_and_put_right(hob):
    head = after(hob, SetCarrier(part="whiskers", carrier="rigid", bones=["head"]))
    finding = next(f for f in findings(head.character, head.store, head.evaluator, head.readings()) if f.kind == "drift")
    assert finding.title == "Whiskers leave the skin"
    assert finding.size > 0.2
    assert finding.part == "whiskers"
    repair = finding.repairs[0]
    assert (repair.text, repair.edit) == ("Let Whiskers ride on the skin", "binding.ride")
    store = MemoryStore(head.store)
    mended = Head(apply_recipe(head.character, store, [make_step(repair.edit, repair.params)]), store)
    assert all(r.within for rows in mended.readings().values() for r in rows if r.seam == "ride_whiskers")


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
def test_lashes_stay_on_the_edge_of_their_lid_as_it_closes(who):
    head = cast.clean(who)
    for pair in head.character.lids:
        for name, roots in pair.lashes:
            held = np.asarray(head.store.get(roots))
            feet = lash_feet(head.rest(name).astype(float), head.rest("skin").astype(float), held)
            for values in ({"blink": 1}, {"blink": 0.5}, {"gaze_height": -25}):
                off = [
                    np.linalg.norm(at(name)[feet] - at("skin")[held[feet]], axis=1)
                    for at in (head.rest, lambda n, v=values: head.posed(n, v))
                ]
                assert np.abs(off[1] - off[0]).max() < 2e-3  # cm


def test_roots_are_the_deepest_patch_of_each_strand():
    """Three strands of six vertices: one dips in at its root and, less deep, at its tip; one touches nearly; one floats."""
    strips = [[[k, k + 1, k + 4, k + 3] for k in (a, a + 1)] for a in (0, 6, 12)]
    polygons = Polygons.from_lists([f for strip in strips for f in strip])
    height = np.array([-0.3, 0.4, -0.05, -0.2, 0.5, 0.6, 0.12, 0.5, 0.6, 0.13, 0.5, 0.6, 0.9, 1, 1, 0.8, 1, 1])
    assert strand_roots(height, polygons).tolist() == [3, 6]


def test_a_seam_that_rides_on_nothing_is_no_document(hob):
    seam = next(s for s in hob.character.seams if s.kind == "ride")
    for broken in (replace(seam, probe_set=None), replace(seam, solid=None), replace(seam, probe_set="curls")):
        other = replace(hob.character, seams=(broken,))
        with pytest.raises(BadDocument, match="ride"):
            check_names(other)


def test_roots_that_edits_took_away_and_lids_that_hold_by_loose_vertices_are_measured_without_a_fault(hob):
    store = MemoryStore(hob.store)
    none, loose = store.put(np.zeros(0, np.int32)), store.put(np.full(75, len(hob.rest("skin")) - 1, np.int32))
    parts = tuple(replace(p, sets=p.sets | {"roots": none}) if p.name == "whiskers" else p for p in hob.character.parts)
    lids = tuple(replace(pair, lashes=tuple((name, loose) for name, _ in pair.lashes)) for pair in hob.character.lids)
    head = replace(hob.character, parts=parts)
    readings = SeamMeter(head, store, Evaluator(head, store)).measure_pose(head.poses[0])
    assert next(r for r in readings if r.seam == "ride_whiskers").drift is None
    seam = next(s for s in hob.character.seams if s.name == "ride_lash_upper_L")
    assert RideGauge(seam, replace(hob.character, lids=lids), store, hob.evaluator).read(hob.posed_by()).drift == pytest.approx(0, abs=1e-9)


def test_whiskers_that_float_before_the_face_are_rigged_without_such_a_seam(raw_heads):
    raw = copy.deepcopy(raw_heads["hob"])
    whiskers = next(p for p in raw.parts if p.kind == "whiskers")
    whiskers.points[:, 2] += 4
    store = MemoryStore()
    rig = first_rig("Hob", "", raw_parts(raw, store), raw.landmarks, store)
    assert "ride_whiskers" not in {s.name for s in rig.seams}
    assert next(b for b in rig.bindings if b.part == "whiskers").carrier == "rigid"


def test_a_part_without_roots_has_no_such_seam(hob):
    assert not SeamMeter(replace(hob.character, seams=()), hob.store, hob.evaluator).measure_pose(hob.character.poses[0])
