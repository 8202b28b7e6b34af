"""What is shown while a stroke is drawn is what is stored, whatever closes the lids."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.deform.evaluator import Evaluator
from tightseam.document.lookup import part
from tightseam.edits.jaw_edits import SetDual
from tightseam.edits.lid_edits import DriveLids
from tightseam.edits.lid_map_edits import PaintMap
from tightseam.edits.paint_edits import PaintWeights, begun
from tightseam.edits.relief_edits import AddPreset
from tightseam.edits.relief_region_edits import PaintRegion
from tightseam.edits.sculpt_edits import SculptShape
from tightseam.edits.set_order import SetOrder
from tightseam.jaw.relief_stroke import ReliefPainting, ReliefStroke
from tightseam.lids.map_stroke import MapPainting, MapStroke
from tightseam.shapes.sculpt import SculptDab, Sculpting, SculptStroke
from tightseam.weights.brush import Brush, Dab, Painting
from tightseam.weights.canvas import canvas_of
from tightseam.weights.value_stroke import ValueStroke

from tests.core.lid_heads import DRIVERS
from tests.head import Head, after

POSE = {"blink_L": 0.5, "blink_R": 0.5, "smile": 0.6, "jaw_open": 0.5, "head_turn": 15.0}
SAME = 1e-4  # cm


@pytest.fixture(scope="module", params=DRIVERS.values(), ids=DRIVERS)
def head(request, clean) -> Head:
    """Maren with a relief of the cheeks, her lids closed by each of the drivers."""
    return after(clean, AddPreset(preset="cheek_lower"), DriveLids(side="L", driver=request.param, mirror=True))


def touch(head: Head, mark: str) -> tuple[int, tuple[float, float, float]]:
    place = next(m.point for m in head.character.landmarks if m.name == mark)
    vertex = int(np.linalg.norm(head.rest("skin") - place, axis=1).argmin())
    x, y, z = head.posed("skin", POSE)[vertex].tolist()
    return vertex, (x, y, z)


def canvas(head: Head):
    return canvas_of(head.character, head.store, part(head.character, "skin"))


def drawn(stroke: ValueStroke, edit: type[PaintMap | PaintRegion], head: Head, painting, dab: Dab) -> tuple[np.ndarray, Head]:
    stroke.paint([dab])
    return stroke.seen(), after(head, edit(painting=painting, dabs=[dab]))


def map_stroke(head: Head) -> tuple[np.ndarray, Head]:
    painting = MapPainting("L", "share", Brush(0.4, 0.5), head.values(POSE))
    stroke = MapStroke(head.character, head.store, painting, canvas(head))
    return drawn(stroke, PaintMap, head, painting, Dab(*touch(head, "lid_upper_L"), "take"))


def weight_stroke(head: Head) -> tuple[np.ndarray, Head]:
    painting = Painting("skin", "jaw", Brush(1.0, 0.6), head.values(POSE))
    dabs = [Dab(*touch(head, "cheek_L"), "add")]
    stroke = begun(head.character, head.store, painting, Evaluator(head.character, head.store), canvas(head))
    for dab in dabs:
        stroke.dab(dab)
    return stroke.posed, after(head, PaintWeights(painting=painting, dabs=dabs))


def relief_stroke(head: Head) -> tuple[np.ndarray, Head]:
    painting = ReliefPainting("cheek_lower_L", Brush(1.0, 0.6), head.values(POSE))
    stroke = ReliefStroke(head.character, head.store, painting, canvas(head))
    return drawn(stroke, PaintRegion, head, painting, Dab(*touch(head, "cheek_L"), "add"))


def sculpt_stroke(head: Head) -> tuple[np.ndarray, Head]:
    sculpting = Sculpting("smile", "skin", Brush(1.0, 0.6), head.values(POSE))
    dabs = [SculptDab(*touch(head, "mouth_corner_L"), "swell")]
    stroke = SculptStroke(head.character, head.store, sculpting, canvas(head), Evaluator(head.character, head.store))
    stroke.sculpt(dabs)
    return stroke.posed, after(head, SculptShape(sculpting=sculpting, dabs=dabs))


SKINNED = {
    "linear": (),
    "dual": (SetDual(part="skin", amount=1.0),),
    "half dual": (SetDual(part="skin", amount=0.5),),
    "bones first": (SetOrder(part="skin", first="bones"),),
}
MOUTH = {"jaw_open": 0.7, "lip_seal_L": 0.6, "lip_seal_R": 0.3, "corner_L": 0.5, "head_turn": 40.0, "smile": 0.5, "jaw_side": 0.5}


@pytest.mark.parametrize("skinned", SKINNED)
@pytest.mark.parametrize(("bone", "mark"), [("jaw", "lip_lower"), ("jaw", "mouth_corner_L"), ("neck_2", "jaw_hinge_R")])
def test_weights_are_shown_as_they_are_stored_however_the_skin_is_posed(clean, skinned, bone, mark):
    """Dual quaternions, sealed lips and shapes after the bones included; drawn on both sides."""
    head = after(clean, *SKINNED[skinned])
    place = next(m.point for m in head.character.landmarks if m.name == mark)
    vertex = int(np.linalg.norm(head.rest("skin") - place, axis=1).argmin())
    x, y, z = head.posed("skin", MOUTH)[vertex].tolist()
    painting = Painting("skin", bone, Brush(1.5, 0.7), head.values(MOUTH), mirror=True)
    dabs = [Dab(vertex, (x, y, z), tool) for tool in ("add", "smooth", "take")]
    stroke = begun(head.character, head.store, painting, Evaluator(head.character, head.store), canvas(head))
    before = stroke.posed.copy()
    assert np.abs(before - head.posed("skin", MOUTH)).max() < SAME
    for dab in dabs:
        stroke.dab(dab)
    kept = after(head, PaintWeights(painting=painting, dabs=dabs)).posed("skin", MOUTH)
    assert np.abs(kept - before).max() > 20 * SAME
    assert np.abs(stroke.posed - kept).max() < 2 * SAME


@pytest.mark.parametrize("stroke", [map_stroke, weight_stroke, relief_stroke, sculpt_stroke], ids=lambda s: s.__name__)
def test_what_was_drawn_is_there_after_it_was_stored(head, stroke):
    shown, stored = stroke(head)
    kept = stored.posed("skin", POSE)
    assert np.abs(kept - head.posed("skin", POSE)).max() > 100 * SAME  # it did something
    assert np.abs(shown - kept).max() < SAME
