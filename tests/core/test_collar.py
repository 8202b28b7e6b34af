"""Cloth about the neck: what carries it, and its seams with neck and chin."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import binding, part
from tightseam.document.lookup import polygons as polygons_of
from tightseam.edits.set_carrier import SetCarrier
from tightseam.first_rig import first_rig
from tightseam.geometry.adjacency import is_closed
from tightseam.geometry.polygons import Polygons
from tightseam.seams.meter import SeamMeter

from tests import cast
from tests.core.shapes import cube, grid

LOW = {"head_nod": 25.0, "jaw_open": 1.0}


def readings(character, store, values):
    meter = SeamMeter(character, store, Evaluator(character, store))
    rest = {c.name: c.rest for c in character.controls}
    return {r.seam: r for r in meter.measure(rest | values)}


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
def test_a_clean_collar_is_clear_of_neck_and_chin_however_the_head_turns(who):
    head = cast.clean(who)
    assert is_closed(head.polygons("collar"), len(head.rest("collar")))
    assert binding(head.character, "collar").carrier == "weighted"
    for values in ({}, {"head_turn": 50.0}, {"head_tilt": -25.0}, {"head_nod": -25.0}, LOW):
        found = readings(head.character, head.store, values)
        assert all(found[f"collar_{place}"].within for place in ("neck", "chin")), values


def test_a_collar_on_the_head_bone_runs_into_the_neck(tmp_path):
    head = cast.clean("maren")
    store = MemoryStore(head.store)
    wrong = SetCarrier(part="collar", carrier="rigid", bones=["head"]).apply(head.character, store)
    tilted = readings(wrong, store, {"head_tilt": 25.0})
    assert not tilted["collar_neck"].within
    assert tilted["collar_neck"].overlap > 1  # mm
    assert tilted["collar_neck"].worst.part == "collar"  # its edge goes deeper into the neck than the neck into the wool
    assert readings(wrong, store, {})["collar_neck"].within


def test_a_chin_that_sinks_into_the_collar_is_told_as_deep_as_it_sinks():
    """The collar lifted towards a chin that is low: deeper with every step, by no more than it was lifted."""
    head = cast.clean("pim")
    rest = head.rest("collar")
    depths = []
    for up in (0.7, 0.75, 0.8):
        store = MemoryStore(head.store)
        lifted = replace(part(head.character, "collar"), points=store.put((rest + [0, up, 0]).astype(np.float32)))
        moved = replace(head.character, parts=tuple(lifted if p.name == "collar" else p for p in head.character.parts))
        depths.append(readings(moved, store, LOW)["collar_chin"].overlap)
    assert depths == sorted(depths)
    assert 0.2 < depths[2] - depths[0] < 1.1  # mm, of the 1 it was lifted: the chin does not go straight down


def test_an_open_sheet_has_no_seams_and_no_cloth_none(raw_heads):
    raw = raw_heads["maren"]
    with_sheet = list(cast.clean("maren").character.parts)
    store = MemoryStore(cast.clean("maren").store)
    sheet = next(p for p in with_sheet if p.kind == "cloth")
    own = polygons_of(store, sheet)
    cut = Polygons.from_lists(own.lists()[:-200])
    opened = replace(sheet, sizes=store.put(cut.sizes), corners=store.put(cut.corners), polygon_count=len(cut))
    for parts, expected in (((opened,), set()), ((), set()), ((sheet,), {"collar_neck", "collar_chin"})):
        others = tuple(p for p in with_sheet if p.kind != "cloth")
        rigged = first_rig("Maren", "", (*others, *parts), raw.landmarks, store)
        assert {s.name for s in rigged.seams if s.region == "neck"} == expected | {"skin_throat"}


def test_a_surface_is_closed_where_every_edge_has_two_faces():
    assert is_closed(cube()[1], 8)
    assert not is_closed(grid(2, 2)[1], 9)
