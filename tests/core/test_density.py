"""First weights do not tell how a skin was cut into polygons, and are alike on both sides."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.binding.first_weights import heat
from tightseam.binding.skin import skin_weights
from tightseam.document.lookup import part, polygons
from tightseam.document.model import Skeleton
from tightseam.document.part_mesh import part_mesh
from tightseam.edits.build_edits import BuildBones
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import partners
from tightseam.head.surface import Surface, surface_of

from tests import cast
from tests.core.heads import cut_in_four, cut_in_two

MOST = 0.03  # of weight, at any vertex, for what a head itself carries
SMALL = 0.15  # at noses and lips: where bones sit close together and quads are not flat, another cut is another surface


@pytest.fixture(scope="module", params=cast.NAMES)
def case(request):
    """A head with all bones of the face, and its skin cut otherwise: quads split in four, the back, one side or all in triangles."""
    head = cast.clean(request.param)
    character = BuildBones(choices=Skeleton(face="both", ears=True)).apply(head.character, head.store)
    skin = part(character, "skin")
    whole = surface_of(character, head.store, skin)
    points, faces = whole.points, polygons(head.store, skin).lists()
    cuts = {
        "quads": (points, faces),
        "four": cut_in_four(points, faces),
        "back": (points, cut_in_two(faces, points[:, 2] < np.median(points[:, 2]))),
        "side": (points, cut_in_two(faces, points[:, 0] > 0)),
        "all": (points, cut_in_two(faces, np.ones(len(points), bool))),
    }
    surfaces = {name: Surface(SurfaceMesh(p, Polygons.from_lists(f)), whole.landmarks) for name, (p, f) in cuts.items()}
    teeth = [(m.points, m.triangles) for kind in ("upper", "lower") for m in [part_mesh(head.store, part(character, f"teeth_{kind}"))]]
    return character, head.store, surfaces, teeth


def apart(ours: np.ndarray, theirs: np.ndarray) -> np.ndarray:
    return np.abs(ours - theirs[: len(ours)]).max(axis=1)


def test_head_neck_and_jaw_carry_the_same_however_the_skin_is_cut(case):
    _, _, surfaces, teeth = case
    found = {name: skin_weights(surfaces[name], *teeth) for name in ("quads", "four", "back")}
    assert apart(found["quads"], found["back"]).max() < MOST
    finer = apart(found["quads"], found["four"])
    assert (finer > MOST).sum() <= 2  # behind a corner of the mouth
    assert finer.max() < 0.045


def test_so_do_bones_of_the_face_but_where_they_sit_close(case):
    character, store, surfaces, _ = case
    skin = part(character, "skin")
    found = {name: heat(character, store, skin, surfaces[name]) for name in surfaces}
    back = apart(found["quads"], found["back"])
    assert (back > MOST).mean() < 0.003
    assert back.max() < 0.06  # at an ear
    for name in ("four", "side", "all"):
        other = apart(found["quads"], found[name])
        assert (other > MOST).mean() < 0.06, name
        assert other.max() < SMALL + 0.02, name


def test_both_sides_are_alike_also_where_one_is_cut_otherwise(case):
    character, store, surfaces, _ = case
    weights = heat(character, store, part(character, "skin"), surfaces["side"])
    names = [b.name for b in character.bones]
    twins = [names.index(b.twin or b.name) for b in character.bones]
    partner = partners(surfaces["side"].points, 1e-3)
    assert (partner >= 0).all()
    assert np.abs(weights - weights[partner][:, twins]).max() < 1e-9
