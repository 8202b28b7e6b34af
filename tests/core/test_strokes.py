"""What is shown while a stroke is drawn is what is stored: with every brush, whatever drives the lids, however the skin is posed."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import cache
from itertools import product

import numpy as np
import pytest
from tightseam.brush.brush import Brush, Dab, Painting
from tightseam.document.arrays import MemoryStore
from tightseam.edits.base import Edit
from tightseam.edits.drawing import DRAWINGS, AnyPainting, Drawing
from tightseam.edits.jaw_edits import SetDual
from tightseam.edits.lid_edits import DriveLids
from tightseam.edits.lid_map_edits import PaintMap
from tightseam.edits.paint_edits import PaintWeights
from tightseam.edits.relief_edits import AddPreset
from tightseam.edits.relief_region_edits import PaintRegion
from tightseam.edits.ride_edits import SetRide
from tightseam.edits.sculpt_edits import SculptShape
from tightseam.edits.set_order import SetOrder
from tightseam.jaw.relief_stroke import ReliefPainting
from tightseam.lids.map_stroke import MapPainting
from tightseam.shapes.sculpt import SculptDab, Sculpting

from tests import cast
from tests.core.lid_heads import DRIVERS
from tests.head import Head, after

SAME = 1e-3  # cm
STROKES = int(os.environ.get("TIGHT_SEAM_STROKES", "48"))
SKINNED: dict[str, tuple[Edit, ...]] = {
    "linear": (),
    "dual": (SetDual(part="skin", amount=1.0),),
    "half dual": (SetDual(part="skin", amount=0.5),),
    "bones first": (SetOrder(part="skin", first="bones"),),
}
POSES = (
    {"blink_L": 0.5, "blink_R": 0.5, "smile": 0.6, "jaw_open": 0.5, "head_turn": 15.0},
    {"jaw_open": 0.7, "lip_seal_L": 0.6, "lip_seal_R": 0.3, "corner_L": 0.5, "head_turn": 40.0, "smile": 0.5, "jaw_side": 0.5},
    {"smile": 1.0, "gaze_height": -15.0, "gaze_across": 20.0, "blink_L": 0.2, "head_nod": 10.0},
)
ON_LIDS = ("lid_upper_L", "lid_lower_R", "lid_upper_R")
ON_FACE = ("cheek_L", "mouth_corner_R", "lip_lower", "brow_inner_L", "jaw_angle_R", "lip_upper")
Made = tuple[AnyPainting, list, Edit]


@cache
def head_of(driver: str, skinned: str) -> Head:
    """Maren with a relief of the cheeks and a brow that rides on her skin, her lids closed by one of the drivers."""
    driven = DriveLids(side="L", driver=DRIVERS[driver], mirror=True)
    return after(cast.plain_maren(), AddPreset(preset="cheek_lower"), SetRide(part="brow_L", on="skin"), driven, *SKINNED[skinned])


class Hand:
    """Draws at random on a posed head."""

    def __init__(self, head: Head, seed: int) -> None:
        self.head, self.rng = head, np.random.default_rng(seed)
        self.values = head.values(POSES[self.rng.integers(len(POSES))])
        self.posed = head.posed("skin", self.values)
        self.brush = Brush(float(self.rng.uniform(0.4, 1.6)), float(self.rng.uniform(0.2, 0.8)))
        self.mirror = bool(self.rng.random() < 0.5)

    def places(self, marks: tuple[str, ...]) -> list[tuple[int, tuple[float, float, float]]]:
        """Three touches about a landmark."""
        name = marks[self.rng.integers(len(marks))]
        mark = next(m.point for m in self.head.character.landmarks if m.name == name)
        near = np.argsort(np.linalg.norm(self.head.rest("skin") - mark, axis=1))[:12]
        return [(int(v), tuple(self.posed[v].tolist())) for v in self.rng.choice(near, 3)]

    def one_of(self, *things: str) -> str:
        return things[self.rng.integers(len(things))]

    def dabs(self, marks: tuple[str, ...]) -> list[Dab]:
        tool = self.one_of("set", "add", "take", "smooth", "even")
        return [Dab(v, place, tool) for v, place in self.places(marks)]

    def weights(self) -> Made:
        painting = Painting("skin", self.one_of("jaw", "neck_2", "head"), self.brush, self.values, mirror=self.mirror)
        dabs = self.dabs(ON_FACE)
        return painting, dabs, PaintWeights(painting=painting, dabs=dabs)

    def lid_map(self) -> Made:
        painting = MapPainting("L", self.one_of("share", "eye_relief"), self.brush, self.values, mirror=self.mirror)
        dabs = self.dabs(("lid_upper_L",))
        return painting, dabs, PaintMap(painting=painting, dabs=dabs)

    def relief(self) -> Made:
        painting = ReliefPainting("cheek_lower_L", self.brush, self.values, mirror=self.mirror)
        dabs = self.dabs(("cheek_L",))
        return painting, dabs, PaintRegion(painting=painting, dabs=dabs)

    def shape(self) -> Made:
        sculpting = Sculpting("smile", "skin", self.brush, self.values | {"smile": 0.7}, mirror=self.mirror)
        self.posed = self.head.posed("skin", sculpting.values)
        tool = self.one_of("move", "swell", "sink", "smooth", "flatten", "erase")
        dabs = [SculptDab(v, place, tool) for v, place in self.places(ON_FACE + ON_LIDS)]
        return sculpting, dabs, SculptShape(sculpting=sculpting, dabs=dabs)


BRUSHES: dict[str, Callable[[Hand], Made]] = {"weights": Hand.weights, "lid map": Hand.lid_map, "relief": Hand.relief, "shape": Hand.shape}
CASES = list(product(DRIVERS, SKINNED, BRUSHES))


@pytest.mark.parametrize("seed", range(STROKES))
def test_all_parts_are_shown_where_the_stored_stroke_takes_them(seed):
    """Drawn live and stored are two runs of their own; the brow that rides on the skin and the lashes are looked at as well."""
    driver, skinned, brush = CASES[(seed * 7) % len(CASES)]
    head = head_of(driver, skinned)
    painting, dabs, edit = BRUSHES[brush](Hand(head, seed))
    drawing = Drawing(head.character, head.store, painting)
    drawing.draw(dabs)
    stored = after(head, edit)
    assert np.abs(drawing.stroke.seen() - stored.evaluator.points(painting.values)).max() < SAME


def test_what_rides_on_the_skin_goes_along_while_it_is_painted():
    head = head_of("arc", "linear")
    hand = Hand(head, 3)
    mark = next(m.point for m in head.character.landmarks if m.name == "brow_inner_L")
    vertex = int(np.linalg.norm(head.rest("skin") - mark, axis=1).argmin())
    values = head.values({"jaw_open": 1.0})
    painting = Painting("skin", "jaw", Brush(2.0, 0.8), values)
    drawing = Drawing(head.character, head.store, painting)
    drawing.draw([Dab(vertex, tuple(head.posed("skin", values)[vertex].tolist()), "add")] * 2)
    rows = head.evaluator.meshes.rows("brow_L")
    moved = np.linalg.norm(drawing.stroke.seen()[rows] - head.posed("brow_L", values), axis=1)
    assert moved.max() > 0.1
    assert hand.head is head


@pytest.mark.parametrize("brush", BRUSHES)
def test_a_stroke_that_was_just_drawn_is_stored_without_being_drawn_again(brush, monkeypatch):
    head = head_of("arc", "linear")
    painting, dabs, edit = BRUSHES[brush](Hand(head, 11))
    anew = edit.apply(head.character, MemoryStore(head.store))
    drawing = DRAWINGS.begin(head.character, head.store, painting)
    drawing.draw(dabs[:1])
    drawing.draw(dabs[1:])
    monkeypatch.setattr(Drawing, "draw", lambda *_: pytest.fail("it was drawn again"))
    assert edit.apply(head.character, MemoryStore(head.store)) == anew


def test_a_stroke_that_is_not_the_same_is_drawn(monkeypatch):
    head = head_of("arc", "linear")
    painting, dabs, _ = Hand(head, 5).weights()
    DRAWINGS.begin(head.character, head.store, painting).draw(dabs)
    drawn: list[int] = []
    really = Drawing.draw
    monkeypatch.setattr(Drawing, "draw", lambda self, some: drawn.append(1) or really(self, some))
    others = (
        PaintWeights(painting=painting, dabs=dabs[:2]),
        PaintWeights(painting=Painting("skin", painting.bone, Brush(0.7, 0.3), painting.values), dabs=dabs),
    )
    for edit in others:
        edit.apply(head.character, MemoryStore(head.store))
    after(head, SetDual(part="skin", amount=0.2), PaintWeights(painting=painting, dabs=dabs))
    assert len(drawn) == 3
