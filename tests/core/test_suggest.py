"""Landmarks found from form alone, against where the generator's formulas put them."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from tightseam.demo.build import RawHead
from tightseam.document.arrays import MemoryStore
from tightseam.exchange.obj_write import write_obj
from tightseam.head.found import FoundHead
from tightseam.head.landmark_catalogue import CATALOGUE, NAMES, entry_of, twin_of
from tightseam.intake.take_in import take_in
from tightseam.landmarks.suggest.found_mark import DOUBTFUL, Marks
from tightseam.landmarks.suggest.suggest import suggest

from tests.core.heads import character_of, finer, in_triangles, lacking, moved, scrambled
from tests.core.shapes import cube

CLOSE, FAR = 0.3, 0.8  # cm: most must be as close; none may be farther and sure of itself
WHO = pytest.mark.parametrize("name", ["maren", "pim", "hob"])


def suggestions(head: RawHead) -> Marks:
    return suggest(FoundHead(*character_of(head)))


def misses(found: Marks, truth: dict[str, np.ndarray], scale: float = 1.0) -> dict[str, float]:
    """How far each landmark was found from where it belongs, cm; infinite where it was not found."""
    return {name: float(np.linalg.norm(found[name].point - p)) / scale if name in found else np.inf for name, p in truth.items()}


def assert_good(found: Marks, truth: dict[str, np.ndarray], scale: float = 1.0) -> None:
    miss = misses(found, truth, scale)
    assert np.mean([m <= CLOSE for m in miss.values()]) >= 0.9, {n: m for n, m in miss.items() if m > CLOSE}
    assert {n: m for n, m in miss.items() if m > FAR and not (n in found and found[n].sure < DOUBTFUL)} == {}


def tilted(head: RawHead, angles: tuple[float, float, float], scale: float) -> RawHead:
    turn = Rotation.from_euler("xyz", angles, degrees=True).as_matrix()
    return moved(head, lambda p: scale * p @ turn.T + [3, -8, 5])


def lopsided(head: RawHead, by: float) -> RawHead:
    """One side a little fuller than the other, smoothly, by at most `by` cm."""
    return moved(head, lambda p: p + by * np.clip(p[:, :1] / 6, 0, 1) * np.sin(p / 3))


@WHO
def test_the_generator_places_every_landmark_of_the_catalogue(raw_heads, name):
    marks = raw_heads[name].landmarks
    assert set(marks) == set(NAMES)
    for left in (n for n in NAMES if n.endswith("_L")):
        assert np.allclose(marks[left] * [-1, 1, 1], marks[twin_of(left)], atol=1e-9), left


@WHO
def test_suggestions_on_a_head_as_it_was_made(raw_heads, name):
    assert_good(suggestions(raw_heads[name]), raw_heads[name].landmarks)


@WHO
@pytest.mark.parametrize(("angles", "scale"), [((10, 0, 0), 1.0), ((-10, 6, 4), 0.8), ((4, -10, 10), 1.25), ((-6, 8, -10), 1.1)])
def test_suggestions_follow_a_head_that_is_tilted_and_scaled(raw_heads, name, angles, scale):
    head = tilted(raw_heads[name], angles, scale)
    assert_good(suggestions(head), head.landmarks, scale)


@WHO
@pytest.mark.parametrize("seed", [1, 2])
def test_only_geometry_is_used(raw_heads, name, seed):
    """Through OBJ: scrambled, in triangles, tilted, no names that say anything, no sets, one side fuller than the other."""
    head = tilted(lopsided(in_triangles(scrambled(raw_heads[name], seed)), 0.05), (5, -4, 6), 1.0)
    for k, part in enumerate(head.parts):
        part.name, part.sets = f"mesh{k}", {}
    store = MemoryStore()
    taken = take_in({"head.obj": write_obj(*character_of(head))}, store).character
    assert_good(suggest(FoundHead(taken, store)), head.landmarks)


@WHO
def test_a_finer_mesh_gives_the_same_landmarks(raw_heads, name):
    coarse, fine = suggestions(raw_heads[name]), suggestions(finer(raw_heads[name]))
    assert np.mean([np.linalg.norm(fine[n].point - coarse[n].point) < CLOSE for n in NAMES]) > 0.95


def test_the_order_of_vertices_does_not_matter(raw_maren):
    one, other = suggestions(raw_maren), suggestions(scrambled(raw_maren, 5))
    assert all(np.linalg.norm(one[n].point - other[n].point) < 0.05 for n in NAMES)


def test_what_has_no_part_of_its_own_is_doubtful_or_left_out(raw_maren):
    found = suggestions(lacking(raw_maren, "brow", "tongue"))
    assert "tongue_tip" not in found
    assert "tongue_root" not in found
    assert all(found[f"brow_{place}_{side}"].sure < DOUBTFUL for place in ("inner", "middle", "outer") for side in "LR")
    assert found["nose_tip"].sure > DOUBTFUL


def test_without_eyes_the_mouth_is_still_found(raw_maren):
    found = suggestions(lacking(raw_maren, "eye"))
    assert "eye_centre_L" not in found
    assert np.linalg.norm(found["mouth_corner_L"].point - raw_maren.landmarks["mouth_corner_L"]) < CLOSE


def test_what_is_no_head_gives_nothing():
    points, faces = cube(3.0)
    obj = "".join(f"v {x} {y} {z}\n" for x, y, z in points)
    obj += "".join("f " + " ".join(str(v + 1) for v in face) + "\n" for face in faces.lists())
    store = MemoryStore()
    found = suggest(FoundHead(take_in({"box.obj": obj.encode()}, store).character, store))
    assert all(np.isfinite(m.point).all() for m in found.values())
    assert not [n for n, m in found.items() if m.sure > DOUBTFUL]


def test_faulty_pim_is_found_as_well(fresh, raw_heads):
    """Flattened eyes, an open mouth and a lost span of the lower lid included."""
    assert_good(suggest(FoundHead(fresh.character, fresh.store)), raw_heads["pim"].landmarks)


def test_every_landmark_says_where_it_belongs():
    assert len(set(NAMES)) == len(NAMES)
    for entry in CATALOGUE:
        assert entry.belongs.endswith(".")
        assert all(entry_of(name) is entry for name in entry.names)
    assert entry_of("third_eye") is None
    assert twin_of("crown") is None
