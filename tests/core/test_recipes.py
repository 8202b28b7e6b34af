"""Recipes: cut from what was done, made again on the same head to the bit, and on another by landmarks."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from tightseam.body.join import body_for
from tightseam.cli import main
from tightseam.demo.body import body_stand_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.sections import dump_sections
from tightseam.edits.body_edits import JoinBody
from tightseam.edits.registry import make_step
from tightseam.edits.together import NamedEdit
from tightseam.exchange.character_file import read_character, write_character
from tightseam.recipes.cut import cut_recipe
from tightseam.recipes.recipe import Recipe, RecipeStep, read_recipe
from tightseam.recipes.replay import replay

from tests import cast

CHEEK = {"part": "skin", "locked": [], "bone": "jaw", "value": 0.25}
EDITS = [
    ("control.set_range", {"control": "smile", "low": 0, "high": 1.2, "rest": 0}),
    ("weights.set", CHEEK),
    ("shape.scale", {"name": "smile", "by": 0.8}),
    ("landmark.place", {"name": "chin_front", "point": [0.1, 9.0, 10.0], "snap": "surface", "mirror": False}),
]


@pytest.fixture(scope="module")
def made():
    """Some edits of Maren: before each, and after all."""
    head = cast.clean("maren")
    store, character, history = MemoryStore(head.store), head.character, []
    cheek = np.argsort(np.linalg.norm(head.rest("skin") - np.array([4.5, 15.0, 8.0]), axis=1))[:9]
    for name, params in EDITS:
        params = params | ({"vertices": sorted(cheek.tolist())} if name == "weights.set" else {})
        history.append((character, store, NamedEdit(edit=name, params=params), f"did {name}"))
        character = make_step(name, params).params.apply(character, store)
    return head, store, history, character


@pytest.fixture(scope="module")
def recipe(made):
    _, _, history, after = made
    return cut_recipe("Maren", history, after)


def test_on_the_same_head_it_makes_the_same_to_the_bit(made, recipe):
    head, store, _, after = made
    found = replay(head.character, store, read_recipe(recipe.json(), "maren.json"))
    assert [o.done for o in found.outcomes] == ["done"] * len(EDITS)
    assert dump_sections(found.character) == dump_sections(after)


def test_chosen_steps_alone_are_made(made, recipe):
    head, store, *_ = made
    found = replay(head.character, store, recipe, [0, 2])
    assert [(o.number, o.edit) for o in found.outcomes] == [(0, "control.set_range"), (2, "shape.scale")]
    assert len(found.edits) == 2


@pytest.fixture(scope="module")
def from_elsewhere(recipe):
    """As if the vertices had been those of a mesh of another order."""
    return replace(recipe, steps=tuple(replace(s, mesh="another" if s.vertices else s.mesh) for s in recipe.steps))


def test_vertices_are_found_by_landmarks_on_a_mesh_of_another_order(made, from_elsewhere):
    """Where the other mesh is the same but for its name, and the landmarks stand where they stood, the vertices are the same."""
    head, store, _, after = made
    found = replay(head.character, store, from_elsewhere)
    assert [o.done for o in found.outcomes] == ["done", "carried over", "done", "done"]
    assert dump_sections(found.character) == dump_sections(after)


def test_on_another_head_they_are_where_they_belong(from_elsewhere):
    hob = cast.clean("hob")
    found = replay(hob.character, MemoryStore(hob.store), from_elsewhere)
    assert [o.done for o in found.outcomes] == ["done", "carried over", "done", "carried over"]
    params = found.edits[1].params
    middle = hob.rest("skin")[params["vertices"]].mean(axis=0)
    places = {m.name: np.array(m.point) for m in hob.character.landmarks}
    corner, ear = places["mouth_corner_L"], places["ear_top_L"]
    assert corner[0] < middle[0] < ear[0]  # between the corner of the mouth and the ear: the cheek
    assert corner[1] < middle[1] < places["brow_middle_L"][1]
    assert "mm away at most" in found.outcomes[1].text


def test_what_cannot_be_done_is_left_out_and_said_and_the_rest_goes_on(from_elsewhere):
    pim = cast.clean("pim")
    lost = RecipeStep("control.set_range", {"control": "wink", "low": 0, "high": 1, "rest": 0})
    unknown = RecipeStep("weights.scrape", {})
    steps = Recipe("odd", (lost, unknown, from_elsewhere.steps[2]), from_elsewhere.landmarks)
    found = replay(pim.character, MemoryStore(pim.store), steps)
    assert [o.done for o in found.outcomes] == ["not done", "not done", "done"]
    assert "wink" in found.outcomes[0].text
    bare = replace(pim.character, landmarks=())
    found = replay(bare, MemoryStore(pim.store), replace(from_elsewhere, steps=from_elsewhere.steps[1:2]))
    assert found.outcomes[0].done == "not done"
    assert "too few landmarks" in found.outcomes[0].text
    assert found.character == bare


def test_what_came_out_of_a_file_for_one_head_is_not_put_on_another(made):
    """A body stands under the head that it was joined to: its bones are no places about a face."""
    head, store, *_ = made
    found = body_for(head.character, body_stand_in("", store), store)
    params = JoinBody(
        parts=list(found.parts), bones=list(found.bones), bindings=list(found.bindings), under=found.under, shift=found.shift
    ).model_dump(mode="json")
    joined = cut_recipe("Maren", [(head.character, store, NamedEdit(edit="body.join", params=params), "")], head.character)
    assert replay(head.character, store, joined).outcomes[0].done == "done"
    hob = cast.clean("hob")
    refused = replay(hob.character, MemoryStore(store), joined)
    assert refused.outcomes[0].done == "not done"
    assert "Take the file in here as well" in refused.outcomes[0].text
    assert refused.character == hob.character


def test_a_plain_list_of_edits_is_a_recipe_too_and_what_is_none_is_refused():
    plain = json.dumps([{"edit": "shape.scale", "params": {"name": "smile", "by": 0.8}}]).encode()
    assert read_recipe(plain, "plain.json").steps[0].params["by"] == 0.8
    for wrong in (b"", b"{}", b"[1]", b"\xff\xfe", b'{"name": 1, "steps": []}', b'{"name": "a", "steps": [{"edit": "x"}]}'):
        with pytest.raises(BadRequest):
            read_recipe(wrong, "wrong.json")


def test_from_the_command_line_over_several_files(made, from_elsewhere, tmp_path, capsys):
    head, *_ = made
    (tmp_path / "recipe.json").write_bytes(from_elsewhere.json())
    hob = cast.clean("hob")
    for name, of in (("maren", head), ("hob", hob)):
        (tmp_path / f"{name}.seam").write_bytes(write_character(of.character, of.store))
    files = [str(tmp_path / "maren.seam"), str(tmp_path / "hob.seam")]
    assert main(["replay", str(tmp_path / "recipe.json"), *files, "--out", str(tmp_path / "out")]) == 0
    assert "carried over" in capsys.readouterr().out
    again = read_character((tmp_path / "out" / "maren.seam").read_bytes(), MemoryStore())
    assert next(c for c in again.controls if c.name == "smile").high == 1.2
    (tmp_path / "odd.json").write_bytes(Recipe("odd", (RecipeStep("weights.scrape", {}),)).json())
    assert main(["replay", str(tmp_path / "odd.json"), files[0], "--out", str(tmp_path / "out")]) == 1


def test_steps_are_made_in_the_order_they_are_chosen_in(made):
    """Of two ranges for the same control the one that comes last stands; what is chosen twice is made once."""
    head, store, *_ = made
    ranges = [RecipeStep("control.set_range", {"control": "smile", "low": 0, "high": high, "rest": 0}) for high in (1.2, 1.5)]
    for order, high in (([0, 1], 1.5), ([1, 0, 1], 1.2)):
        found = replay(head.character, store, Recipe("two", tuple(ranges)), order)
        assert [o.number for o in found.outcomes] == order[:2]
        assert next(c for c in found.character.controls if c.name == "smile").high == high
