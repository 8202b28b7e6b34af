"""Lids and lips found on bare meshes, against the vertices the generator made them of."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.geometry.distance import closest_points
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.head.found import FoundHead
from tightseam.head.openings import middle_profile
from tightseam.head.regions import lids, lips
from tightseam.head.surface import Surface

from tests.core.heads import character_of, finer, in_triangles, turned, without_hair

NAMES = ("maren", "pim", "hob")
FORMS = {"plain": without_hair, "turned": lambda h: turned(h, 20), "subdivided": finer, "triangles": in_triangles}


def subject_of(head) -> FoundHead:
    return FoundHead(*character_of(head))


@pytest.fixture(params=[(n, f) for n in NAMES for f in FORMS], ids=lambda p: " ".join(p), scope="module")
def found(request, raw_heads):
    """What is found without landmarks, and the same from landmarks on the plain head."""
    name, form = request.param
    head = raw_heads[name]
    skin = head.parts[0]
    surface = Surface(SurfaceMesh(skin.points, Polygons.from_lists(skin.polygons)), head.landmarks)
    return subject_of(FORMS[form](head)), surface, form


def share_of(line: np.ndarray, rim_line: np.ndarray, count: int) -> float:
    """Share of a line's vertices that are on the line landmarks lead to; those that subdivision added are left out."""
    own = line[line < count]
    return float(np.isin(own, rim_line).mean())


def test_lid_margins_are_the_vertices_that_landmarks_lead_to(found):
    subject, surface, _ = found
    for side in ("L", "R"):
        truth, opening = lids(surface, side), subject.lids[side]
        assert share_of(opening.upper, truth.upper, len(surface.points)) == 1, side
        assert share_of(opening.lower, truth.lower, len(surface.points)) == 1, side


def test_the_lip_line_is_the_one_that_landmarks_lead_to(found):
    subject, surface, _ = found
    truth = lips(surface)
    assert share_of(subject.lips.upper, truth.upper, len(surface.points)) == 1
    assert share_of(subject.lips.lower, truth.lower, len(surface.points)) == 1


def test_lines_run_as_they_say(found):
    subject, _, _ = found
    local = subject.frame.local(subject.skin.points)
    assert local[subject.lips.upper[0], 0] < local[subject.lips.upper[-1], 0]  # from the right to the left
    for side, sign in (("L", 1), ("R", -1)):
        opening = subject.lids[side]
        assert (local[opening.upper[-1], 0] - local[opening.upper[0], 0]) * sign > 0  # from the inner to the outer corner
        assert local[opening.upper, 1].mean() > local[opening.lower, 1].mean()
        assert opening.upper[0] == opening.lower[0]
        assert opening.upper[-1] == opening.lower[-1]
        assert len(set(opening.loop.tolist())) == len(opening.loop)


def test_the_profile_runs_down_the_middle(raw_heads):
    subject = subject_of(turned(raw_heads["hob"], 20))
    line = middle_profile(subject.skin.surface, subject.frame)
    local = subject.frame.local(line.points)
    assert np.abs(local[:, 0]).max() < 1e-6
    assert np.ptp(local[:, 1]) > 20


def test_the_closest_points_of_a_skin_are_those_of_all_its_triangles(raw_maren):
    skin = raw_maren.parts[0]
    surface = Surface(SurfaceMesh(skin.points, Polygons.from_lists(skin.polygons)), {})
    rng = np.random.default_rng(3)
    for scale in (0.1, 2.0, 20.0):
        queries = skin.points[rng.integers(len(skin.points), size=12)] + rng.normal(size=(12, 3)) * scale
        assert np.allclose(surface.closest(queries), closest_points(queries, surface.points, surface.triangles)[2], atol=1e-9)
