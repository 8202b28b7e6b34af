"""Eye seats: balls fitted, gazes swept, and proposals that do what they say, against closed forms and what was planted."""

from __future__ import annotations

import copy
import json

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.checkin.limits import LIMITS
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.edits.eye_edits import CentrePivot, DrawToBall, PushBack, RaiseLids, Shrink
from tightseam.edits.registry import apply_recipe, parse_recipe
from tightseam.geometry.areas import polygon_areas, vertex_areas
from tightseam.geometry.normals import unit
from tightseam.geometry.octahedral import octahedral_cells
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate
from tightseam.head.found import FoundHead
from tightseam.landmarks.eye_seat import CORNEA, fit_eyeball
from tightseam.landmarks.eye_shape import drawn_to_ball
from tightseam.landmarks.gaze_sweep import ACROSS, COARSENESS, HEIGHT, GazeSweep, LidPatch
from tightseam.landmarks.seats import OFF_BALL, cut_through, find_seats, propose

from tests.core.heads import character_of, turned, without_hair
from tests.core.samples import dense
from tests.core.shapes import ball

AHEAD = np.array([0.0, 0.0, 1.0])
WORLD = np.eye(3)


def test_areas_of_a_ball_are_those_of_the_formula():
    points, faces = ball(2.0, 96, 64)
    assert polygon_areas(points, faces).sum() == pytest.approx(4 * np.pi * 4, rel=0.002)
    assert vertex_areas(points, faces).sum() == pytest.approx(polygon_areas(points, faces).sum())


@settings(max_examples=40, deadline=None)
@given(st.floats(0.5, 4), st.tuples(*[st.floats(-30, 30)] * 3))
def test_an_exact_ball_is_found_exactly(radius, centre):
    points, faces = ball(radius, 32, 20)
    found = fit_eyeball(points + centre, faces, AHEAD)
    assert np.abs(found.centre - centre).max() < 1e-6
    assert found.radius == pytest.approx(radius, abs=1e-6)
    assert found.roundness < 1e-5
    assert found.pivot_error(np.array(centre) + [0, 0.3, 0.4]) == pytest.approx(5, abs=1e-4)


def with_cornea(radius: float, bulge: float) -> tuple[np.ndarray, Polygons]:
    points, faces = ball(radius, 48, 36)
    degrees = np.degrees(np.arccos(np.clip(points[:, 2] / radius, -1, 1)))
    return points * (1 + bulge * np.clip(1 - degrees / 30, 0, 1))[:, None], faces


@pytest.mark.parametrize("seed", range(4))
def test_cornea_hole_and_noise_leave_centre_and_radius_within_a_hundredth(seed):
    rng = np.random.default_rng(seed)
    points, faces = with_cornea(1.9, 0.07)
    noisy = points * (1 + 0.05 * rng.uniform(-1, 1, (len(points), 1)))
    holed = Polygons.from_lists([f for f in faces.lists() if points[f][:, 2].mean() > -1.7])
    found = fit_eyeball(noisy, holed, AHEAD)
    assert found.radius == pytest.approx(1.9, rel=0.01)
    assert np.linalg.norm(found.centre) < 0.019


@given(st.floats(0.0, 0.15))
@settings(max_examples=20, deadline=None)
def test_an_eye_pressed_flat_keeps_its_centre_and_tells_by_how_much(by):
    points, faces = ball(2.0, 64, 48)
    found = fit_eyeball(points * [1, 1, 1 - by], faces, AHEAD)
    assert np.abs(found.centre).max() < 0.01
    assert found.roundness == pytest.approx(by * 20, abs=0.08 * by * 20 + 1e-6)


def shell(radius: float) -> LidPatch:
    """Lids as a thin cap of a ball about the origin, facing outwards, with a slit left open."""
    points, faces = ball(radius, 72, 48)
    kept = [f for f in faces.lists() if points[f][:, 2].mean() > -0.1 and abs(points[f][:, 1].mean()) > 0.25]
    return LidPatch(points, triangulate(points, Polygons.from_lists(kept)), np.zeros(3), 1.0, AHEAD)


@pytest.mark.parametrize("offset", [(0, 0, 0), (0, 0.12, 0), (0.1, 0, 0.05), (0, -0.1, -0.2)])
def test_a_ball_about_a_pivot_that_is_off_swings_as_far_as_the_formula_says(offset):
    """A ball of radius 1 whose centre is at c turns about a pivot at o: its centre moves to o + R(c - o). Lids are a cap of radius
    1.02 about the first centre, so the deepest overlap is |displacement| - 0.02 as far as the cap reaches that way."""
    points, faces = ball(1.0, 96, 64)
    pivot = np.array(offset, float)
    sweep = GazeSweep(points, triangulate(points, faces), pivot, shell(1.02), WORLD)
    assert len(sweep.contacts) == len(ACROSS) * len(HEIGHT)
    for contact in sweep.contacts:
        moved = pivot - sweep.turn(contact.across, contact.height) @ pivot
        most = (np.linalg.norm(moved) - 0.02) * 10
        assert contact.depth <= most + 0.03
        cap = sweep._lids.samples
        depth = (1 - np.linalg.norm(cap - moved, axis=1)).max() * 10
        assert contact.depth == pytest.approx(depth, abs=0.03)


def test_the_sweep_of_a_head_agrees_with_an_independent_distance(raw_heads):
    head = FoundHead(*character_of(without_hair(raw_heads["pim"])))
    seat = find_seats(head)[0]
    piece = head.balls["L"].piece
    triangles = triangulate(piece.points, piece.polygons).astype(np.int64)
    for contact in seat.sweep.contacts[::6]:
        turn = seat.sweep.turn(contact.across, contact.height)
        posed = (piece.points - seat.pivot) @ turn.T + seat.pivot
        signed = igl.signed_distance(np.ascontiguousarray(seat.sweep._lids.samples), np.ascontiguousarray(posed), triangles)[0]
        assert contact.depth >= -signed.min() * 10 - 0.01  # mm; the eye through the lid may be deeper
        at = igl.signed_distance(contact.point[None], np.ascontiguousarray(posed), triangles)[0][0]
        assert contact.depth >= -at * 10 - 0.01


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
def test_no_lid_is_nearer_to_the_pivot_than_the_map_of_lids_says(raw_heads, who):
    """By samples all over the lids: what lies nearer than the map says in their direction is in none."""
    seat = find_seats(FoundHead(*character_of(without_hair(raw_heads[who]))))[0]
    sweep = seat.swept(seat.piece.points, seat.pivot + [0.1, -0.2, 0.3])
    places, _ = dense(sweep._lids.points, sweep._lids.triangles, 9)
    offset = places - sweep._pivot
    starts = sweep._lid_starts[octahedral_cells(offset, COARSENESS)]
    assert (np.linalg.norm(offset, axis=1) >= starts - 1e-9).all()
    assert np.isfinite(starts).all()


def test_a_turned_head_has_the_same_seats(raw_heads):
    straight = find_seats(FoundHead(*character_of(without_hair(raw_heads["maren"]))))
    aside = find_seats(FoundHead(*character_of(turned(raw_heads["maren"], 35))))
    for one, other in zip(straight, aside, strict=True):
        assert one.ball.radius == pytest.approx(other.ball.radius, abs=1e-6)
        depths = [[c.depth for c in s.sweep.contacts] for s in (one, other)]
        assert np.abs(np.subtract(*depths)).max() < 0.05


def test_left_and_right_are_mirror_images(raw_heads):
    left, right = find_seats(FoundHead(*character_of(without_hair(raw_heads["hob"]))))
    grids = [np.array([c.depth for c in s.sweep.contacts]).reshape(len(HEIGHT), len(ACROSS)) for s in (left, right)]
    assert np.abs(grids[0] - grids[1][:, ::-1]).max() < 0.02


@pytest.fixture(scope="module")
def pim(fresh):
    return FoundHead(fresh.character, fresh.store)


def test_what_was_planted_in_pims_eyes_is_reported(fresh, pim):
    planted = {f.check: f.size for f in fresh.planted}
    for seat in find_seats(pim):
        assert seat.own_pivot
        assert seat.pivot_error == pytest.approx(planted[f"eye_pivot_{seat.side}"], abs=0.2)
        assert seat.ball.roundness == pytest.approx(planted[f"eye_round_{seat.side}"], abs=0.2)
        assert seat.sweep.worst.depth > 0.5


def test_each_proposal_does_what_it_says(fresh, pim):
    for proposal in propose(find_seats(pim)[0]):
        store = MemoryStore(fresh.store)
        steps = parse_recipe(json.dumps([{"edit": proposal.edit, "params": proposal.params}]))
        changed = apply_recipe(fresh.character, store, steps)
        after = next(s for s in find_seats(FoundHead(changed, store)) if s.side == "L")
        assert after.sweep.worst.depth == pytest.approx(proposal.after, abs=0.02), proposal.text
        assert proposal.after < proposal.before
        pairs = zip(fresh.character.parts, changed.parts, strict=True)
        moves = max(np.linalg.norm(np.asarray(store.get(b.points)) - store.get(a.points), axis=1).max() for a, b in pairs)
        assert moves * 10 == pytest.approx(proposal.moves, abs=0.02)


def test_accepted_proposals_bring_the_sweep_to_nothing(fresh):
    character, store = fresh.character, MemoryStore(fresh.store)
    for _ in range(6):
        head = FoundHead(character, store)
        offered = propose(find_seats(head)[0])
        if not offered:
            break
        least = min(offered, key=lambda p: (p.after > 0, p.moves))
        params = {**least.params, "parts": ["eye_L", "eye_R"]}
        character = apply_recipe(character, store, parse_recipe(json.dumps([{"edit": least.edit, "params": params}])))
    for seat in find_seats(FoundHead(character, store)):
        assert seat.sweep.worst.depth <= 0
        assert seat.pivot_error < 0.05
        assert seat.ball.roundness < 0.1


def test_a_round_eye_that_clears_its_lids_gets_no_proposal(clean):
    store = MemoryStore(clean.store)
    sunk = PushBack(parts=["eye_L", "eye_R"], back_mm=4).apply(clean.character, store)
    for seat in find_seats(FoundHead(sunk, store)):
        assert seat.sweep.worst.depth < 0
        assert propose(seat) == []
    assert LIMITS["eye_roundness"].value > OFF_BALL  # whatever Check-in calls a fault is proposed to be mended


def test_drawing_to_the_ball_keeps_the_iris_and_makes_the_white_round(raw_heads):
    eye = copy.deepcopy(next(p for p in raw_heads["maren"].parts if p.name == "eye_L"))
    centre = raw_heads["maren"].landmarks["eye_centre_L"]
    flat = centre + (eye.points - centre) * [1, 1, 0.9]
    faces = Polygons.from_lists(eye.polygons)
    found = fit_eyeball(flat, faces, AHEAD)
    drawn = drawn_to_ball(flat, found)
    again = fit_eyeball(drawn, faces, AHEAD)
    cap = unit(flat - found.centre) @ AHEAD > np.cos(np.radians(CORNEA - 1))
    shift = drawn[cap] - flat[cap]
    assert np.abs(shift - shift.mean(axis=0)).max() < 1e-9  # moved as one
    white = unit(drawn - found.centre) @ AHEAD < np.cos(np.radians(CORNEA + 15))
    assert np.abs(np.linalg.norm(drawn[white] - found.centre, axis=1) - found.radius).max() < 1e-9
    assert again.roundness < 0.15 * found.roundness


def test_the_cut_goes_through_the_contact(pim):
    seat = find_seats(pim)[0]
    worst = seat.sweep.worst
    cut = cut_through(pim, seat, worst)
    assert cut.skin
    assert cut.eye
    offset = worst.point - seat.ball.centre
    assert np.linalg.norm(cut.contact) == pytest.approx(np.linalg.norm(offset) * 10, abs=1e-6)
    nearest = min(np.linalg.norm(line - cut.contact, axis=1).min() for line in cut.skin)
    assert nearest < 3  # mm: the skin line passes by
    assert min(np.linalg.norm(line, axis=1).max() for line in cut.eye) > 15


def test_raising_lids_moves_lids_and_lashes_alone_and_can_be_taken_back(fresh):
    store = MemoryStore(fresh.store)
    raised = RaiseLids(parts=["eye_L"], by_mm=0.8).apply(fresh.character, store)
    seats = {s.side: s for s in find_seats(FoundHead(raised, store))}
    before = {s.side: s for s in find_seats(FoundHead(fresh.character, fresh.store))}
    assert before["L"].sweep.worst.depth - seats["L"].sweep.worst.depth == pytest.approx(0.8, abs=0.1)
    assert seats["R"].sweep.worst.depth == pytest.approx(before["R"].sweep.worst.depth, abs=1e-9)
    far = []
    for name in ("skin", "lash_upper_L", "lash_upper_R", "eye_L"):
        start, there = (np.asarray(store.get(find_part(c, name).points)) for c in (fresh.character, raised))
        far.append(float(np.linalg.norm(there - start, axis=1).max()) * 10)
    assert far == pytest.approx([0.8, 0.8, 0.0, 0.0], abs=1e-6)
    back = RaiseLids(parts=["eye_L"], by_mm=-0.8).apply(raised, store)
    start, there = (np.asarray(store.get(find_part(c, "skin").points)) for c in (fresh.character, back))
    assert np.abs(there - start).max() < 0.02  # the share fades with the distance, which the raising changed a little


def test_edits_of_both_eyes_keep_order_and_can_be_taken_back(fresh):
    store = MemoryStore(fresh.store)
    back = PushBack(parts=["eye_L", "eye_R"], back_mm=2).apply(fresh.character, store)
    forth = PushBack(parts=["eye_L", "eye_R"], back_mm=-2).apply(back, store)
    for name in ("eye_L", "eye_R"):
        start, there, again = (find_part(c, name) for c in (fresh.character, back, forth))
        assert polygons(store, there).lists() == polygons(store, start).lists()
        points = [np.asarray(store.get(p.points)) for p in (start, there, again)]
        assert np.allclose(points[1] - points[0], [0, 0, -0.2], atol=1e-6)
        assert np.abs(points[2] - points[0]).max() < 1e-9
        assert np.allclose(np.subtract(there.pivot, start.pivot), [0, 0, -0.2], atol=1e-6)
    smaller = Shrink(parts=["eye_L"], less=0.1).apply(fresh.character, store)
    start, there = find_part(fresh.character, "eye_L"), find_part(smaller, "eye_L")
    ratio = np.linalg.norm(np.asarray(store.get(there.points)) - start.pivot, axis=1) / np.linalg.norm(
        np.asarray(store.get(start.points)) - start.pivot, axis=1
    )
    assert np.allclose(ratio, 0.9)
    assert smaller.parts[2] == fresh.character.parts[2]  # the other eye stays


@pytest.mark.parametrize(
    "edit",
    [CentrePivot(parts=["tongue"]), DrawToBall(parts=["skin"]), PushBack(parts=["hair"], back_mm=1), Shrink(parts=["brow_L"], less=0.1)],
)
def test_only_eyes_are_seated(fresh, edit):
    with pytest.raises(BadRequest, match="is no eye"):
        edit.apply(fresh.character, MemoryStore(fresh.store))


def test_without_skin_or_eyes_there_are_no_seats(raw_heads):
    from tests.core.heads import lacking

    assert find_seats(FoundHead(*character_of(lacking(raw_heads["maren"], "skin")))) == []
    assert find_seats(FoundHead(*character_of(lacking(raw_heads["maren"], "eye")))) == []
    one = without_hair(raw_heads["maren"])
    one.parts = [p for p in one.parts if p.name != "eye_R"]
    assert [s.side for s in find_seats(FoundHead(*character_of(one)))] == ["L"]
