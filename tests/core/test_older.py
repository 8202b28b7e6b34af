"""Files of earlier versions are read in the spelling they were written in, and written in that of today."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.lookup import binding, bone
from tightseam.document.sections import dump_section
from tightseam.edits.registry import apply_recipe, parse_recipe
from tightseam.edits.relief_edits import AddPreset
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.glb_extras import KEY, find_extras, make_extras
from tightseam.jaw.movement import THRUST, driver, movement_of
from tightseam.shapes.offsets import offsets_of

from tests.head import after

OLDER = Path(__file__).resolve().parents[1] / "older"


def read(name: str):
    store = MemoryStore()
    return read_character((OLDER / name).read_bytes(), store), store


def test_a_file_from_before_is_read_whole_and_comes_back_in_the_words_of_today():
    character, store = read("old-post.seam")
    ear = bone(character, "ear_L")
    assert (ear.base, ear.tip) == ((2.0, 0.5, 0.0), (3.0, 0.5, 0.0))
    assert binding(character, "hair").ride.tufts
    assert read_character(write_character(character, store), MemoryStore()) == character
    written = json.loads(dump_section(character, "bones"))
    assert all({"base", "tip"} <= b.keys() and not {"head", "tail"} & b.keys() for b in written)
    assert b"locks" not in dump_section(character, "bindings")


def test_the_recipe_of_its_history_makes_the_same_head_again():
    """Every spelling that has changed since stands in it: ends and turn of bones, tufts, brushes along the normal, shapes added up."""
    before, store = read("old-post-before.seam")
    steps = parse_recipe((OLDER / "recipe.json").read_bytes())
    again, (kept, kept_store) = apply_recipe(before, store, steps), read("old-post.seam")
    assert replace(again, shapes=()) == replace(kept, shapes=())
    assert [(s.name, s.label, s.muted) for s in again.shapes] == [(s.name, s.label, s.muted) for s in kept.shapes]
    for one, other in zip(again.shapes, kept.shapes, strict=True):  # what is sculpted is solved for, and may be rounded otherwise
        now, then = offsets_of(again, store, one), offsets_of(kept, kept_store, other)
        assert now.keys() == then.keys()
        assert max(np.abs(now[part] - then[part]).max() for part in now) < 1e-6
    assert "shape.add_up" in {s.edit for s in steps}
    tools = {dab["tool"] for s in steps if s.edit == "shape.sculpt" for dab in s.params.model_dump(mode="json")["dabs"]}
    assert tools == {"swell", "sink"}


def test_a_control_keeps_its_name_and_is_known_by_what_it_does():
    character, _store = read("old-post.seam")
    thrust = driver(character, THRUST)
    assert thrust is not None
    assert thrust is character.controls[1]
    assert movement_of(character).forward == 0.4


@pytest.mark.parametrize("targets", [None, 5, {}, [], [7], [["seal_L"]]])
def test_what_drove_nothing_that_can_be_named_is_refused_in_words(targets):
    with pytest.raises(BadRequest, match="The recipe is not right"):
        parse_recipe(json.dumps([{"edit": "jaw.drive", "params": {"control": "jaw_open", "targets": targets}}]))


def zipped(files: dict[str, bytes]) -> bytes:
    found = io.BytesIO()
    with zipfile.ZipFile(found, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return found.getvalue()


SECTIONS_OF_2 = {"sections/eye_reliefs.json": "sections/reliefs.json", "sections/reliefs.json": "sections/surface_reliefs.json"}


def test_a_file_of_version_2_has_its_reliefs_under_other_names(clean):
    head = after(clean, AddPreset(preset="cheek_upper"))
    today = write_character(head.character, head.store)
    with zipfile.ZipFile(io.BytesIO(today)) as archive:
        files = {SECTIONS_OF_2.get(name, name): archive.read(name) for name in archive.namelist()}
    files["manifest.json"] = files["manifest.json"].replace(b'"version": 3', b'"version": 2')
    assert b'"version": 2' in files["manifest.json"]
    back = read_character(zipped(files), MemoryStore())
    assert back.reliefs
    assert back.eye_reliefs
    assert back == head.character
    # of today's version it is one that has lost a section
    files["manifest.json"] = files["manifest.json"].replace(b'"version": 2', b'"version": 3')
    with pytest.raises(BadDocument, match="eye_reliefs” is missing"):
        read_character(zipped(files), MemoryStore())


def test_a_glb_of_version_2_has_its_reliefs_under_other_names(clean):
    head = after(clean, AddPreset(preset="cheek_upper"))
    extras = make_extras(head.character, head.store)
    former = {"eyeReliefs": "reliefs", "reliefs": "surfaceReliefs"}
    before = {former.get(name, name): value for name, value in extras.items()} | {"version": 2}
    assert find_extras({"extras": {KEY: before}}) == extras | {"version": 2}


def test_what_drives_the_seal_and_maps_of_lids_are_read_under_their_former_names():
    keys = [{"at": 0, "value": 0}, {"at": 1, "value": 1}]
    seals = ["seal_L", "seal_R"]
    before = [
        {"edit": "jaw.drive", "params": {"control": "jaw_open", "targets": seals, "keys": keys}},
        {"edit": "jaw.drive", "params": {"control": "jaw_open", "targets": ["relief"]}},
        {"edit": "control.link", "params": {"control": "smile", "kind": "shape", "target": "pucker", "gain": 0.5}},
        {"edit": "lids.set_map", "params": {"side": "L", "map": "relief", "vertices": [1], "value": 0.5}},
    ]
    today = [
        {"edit": "control.link", "params": {"control": "jaw_open", "kind": "seal", "targets": seals, "keys": keys}},
        {"edit": "control.link", "params": {"control": "jaw_open", "kind": "relief", "targets": ["relief"], "gain": 0}},
        {"edit": "control.link", "params": {"control": "smile", "kind": "shape", "targets": ["pucker"], "gain": 0.5}},
        {"edit": "lids.set_map", "params": {"side": "L", "map": "eye_relief", "vertices": [1], "value": 0.5}},
    ]
    assert parse_recipe(json.dumps(before)) == parse_recipe(json.dumps(today))
