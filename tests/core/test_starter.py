"""The starter set of action units."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.document.errors import BadRequest
from tightseam.document.model import Pose
from tightseam.edits.shape_making_edits import AddStarterSet
from tightseam.shapes.checks import shape_findings
from tightseam.shapes.name_list import shipped_list
from tightseam.shapes.offsets import offsets_of

from tests.head import after


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
def test_no_seam_is_over_its_limit_in_any_unit_at_full_strength(rigged, who):
    head = after(rigged[who], AddStarterSet())
    fresh = [s for s in head.character.shapes if s.name.startswith("AU")]
    assert len(fresh) >= 30
    known = {s.name for s in shipped_list("action_units").shapes}
    assert {s.name for s in fresh} <= known
    for shape in fresh:
        readings = head.meter().measure_pose(Pose("x", "x", {f"{shape.name}.strength": 1.0}))
        assert [r.seam for r in readings if not r.within] == [], shape.name
        assert 0.5 < 10 * max(np.linalg.norm(x, axis=1).max() for x in offsets_of(head.character, head.store, shape).values()) < 30
    assert shape_findings(head.character, head.store) == []


def test_both_sides_in_one_are_the_halves_together(clean):
    apart, both = after(clean, AddStarterSet(units=["AU12", "AU43"])), after(clean, AddStarterSet(units=["AU12", "AU43"], which="both"))
    of = {s.name: offsets_of(h.character, h.store, s) for h in (apart, both) for s in h.character.shapes}
    for unit in ("AU12", "AU43"):
        halves = of[f"{unit}_L"]["skin"] + of[f"{unit}_R"]["skin"]
        assert np.abs(halves - of[unit]["skin"]).max() < 1e-3
    assert "lash_upper_L" in of["AU43_L"]


def test_what_is_there_already_stays_and_what_is_not_there_is_said(clean):
    once = after(clean, AddStarterSet(units=["AU33"]))
    assert after(once, AddStarterSet(units=["AU33"])).character == once.character
    with pytest.raises(BadRequest, match="no action unit “AU99”"):
        after(clean, AddStarterSet(units=["AU99"]))
    bare = replace(clean.character, landmarks=())
    with pytest.raises(BadRequest, match=r"landmark"):
        AddStarterSet(units=["AU12"]).apply(bare, clean.store)
