"""Where the open face asks for a relief: planted offsets come back as what they are, and the relief takes them away."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tightseam.document.errors import BadRequest
from tightseam.edits.control_edits import RemoveControls
from tightseam.edits.relief_edits import AddPreset
from tightseam.edits.relief_region_edits import BakeRelief
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.face import LowerFace
from tightseam.jaw.needs import LEAST, relief_needs
from tightseam.jaw.reliefs import PRESETS, anatomy_at

from tests.head import Head, after


def needs(head: Head) -> dict[str, tuple[str, float]]:
    meter = JawMeter(LowerFace(head.character, head.store), head.evaluator)
    return {n.preset: (n.found, n.size) for n in relief_needs(meter)}


def test_all_that_is_proposed_is_worth_while_and_is_taken_back_by_as_much(clean):
    meter = JawMeter(LowerFace(clean.character, clean.store), clean.evaluator)
    for need in relief_needs(meter):
        assert need.size >= LEAST
        assert abs(need.cm) * 10 == pytest.approx(need.size)
        assert (need.cm > 0) == (need.found != "full")


@pytest.mark.parametrize(("name", "cm", "found"), [("cheek_lower", -0.4, "hollow"), ("cheek_lower", 0.4, "full"), ("under", 0.3, "full")])
def test_what_bulges_or_sinks_is_told_and_its_relief_lessens_it(clean, name, cm, found):
    """The shape is a relief that is baked: what nobody asks for by a relief is hollow or full."""
    head = after(clean, AddPreset(preset=name, cm=cm))
    for relief in head.character.reliefs:
        head = after(head, BakeRelief(name=relief.name))
    told, size = needs(head)[name]
    assert told == found
    assert size > needs(clean).get(name, ("", 0.0))[1] + 0.5
    meter = JawMeter(LowerFace(head.character, head.store), head.evaluator)
    need = next(n for n in relief_needs(meter) if n.preset == name)
    mended = needs(after(head, AddPreset(preset=name, cm=need.cm)))
    assert mended.get(name, (found, 0.0))[1] < size


def test_a_hollow_that_a_relief_asks_for_is_none(clean):
    head = after(clean, AddPreset(preset="cheek_lower", cm=-0.4))
    assert needs(head).get("cheek_lower", ("", 0))[0] != "hollow"


def test_a_relief_that_fills_is_named_by_its_place(clean):
    face = LowerFace(clean.character, clean.store)
    assert anatomy_at(face, face.surface.vertex("cheek_L")) == "Cheekbone L"
    assert anatomy_at(face, face.surface.vertex("jaw_angle_R")) == "Jowl R"
    assert anatomy_at(face, face.surface.vertex("chin_under")) == "Throat"
    assert {p.label for p in PRESETS.values()} == {"Cheekbone", "Jowl", "Throat", "Chin drag", "Corner fold"}


def test_where_nothing_opens_the_jaw_nothing_can_be_measured(clean):
    shut = after(clean, RemoveControls(controls=["jaw_open"]))
    bones = tuple(replace(b, turn=((0.0, 0.0),) * 3) if b.name == "jaw" else b for b in shut.character.bones)
    still = Head(replace(shut.character, bones=bones), shut.store)
    with pytest.raises(BadRequest, match="Nothing opens the jaw"):
        needs(still)
