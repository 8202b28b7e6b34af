"""Revisions: undo, redo, branches, and edits that come too late."""

from __future__ import annotations

import pytest
from bench.character_out import HISTORY
from characters.history import StaleBase, edit, load, redo, undo
from characters.models import Blob, Character, Revision
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadRequest
from tightseam.edits.registry import parse_recipe
from tightseam.edits.set_range import SetRange

from tests.record.script import Subject, rig_script
from tests.server.http import edit as send
from tests.server.http import get, post


def step(text: str):
    return parse_recipe(f"[{text}]")[0]


NARROW = step('{"edit": "control.set_range", "params": {"control": "head_turn", "low": -30, "high": 30, "rest": 0}}')
WIDE = step('{"edit": "control.set_range", "params": {"control": "head_turn", "low": -60, "high": 60, "rest": 0}}')
TEETH = step('{"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}}')


def head(maren) -> Revision:
    return Character.objects.get(pk=maren).head


def turn(maren) -> float:
    document, _ = load(head(maren))
    return next(c for c in document.controls if c.name == "head_turn").high


def test_undo_and_redo_go_along_the_branch(maren):
    edit(maren, 1, NARROW)
    edit(maren, 2, WIDE)
    assert (head(maren).number, turn(maren)) == (3, 60)
    undo(maren, 3)
    assert (head(maren).number, turn(maren)) == (2, 30)
    undo(maren, 2)
    assert (head(maren).number, turn(maren)) == (1, 50)
    redo(maren, 1)
    redo(maren, 2)
    assert (head(maren).number, turn(maren)) == (3, 60)
    with pytest.raises(BadRequest, match="nothing to redo"):
        redo(maren, 3)


def test_a_revision_of_before_the_reliefs_were_renamed_is_read_and_worked_on(maren):
    was, sections = load(head(maren))[0], head(maren).sections
    former = {"eye_reliefs": "reliefs", "reliefs": "surface_reliefs"}
    Revision.objects.filter(pk=head(maren).pk).update(sections={former.get(name, name): key for name, key in sections.items()})
    DERIVED.clear()
    assert was.eye_reliefs
    assert load(head(maren))[0] == was
    edit(maren, 1, NARROW)
    assert head(maren).sections == sections | {"controls": head(maren).sections["controls"]}
    assert load(head(maren))[0].eye_reliefs == was.eye_reliefs


def test_an_edit_after_undo_branches_and_the_old_branch_stays(maren):
    edit(maren, 1, NARROW)
    undo(maren, 2)
    branched = edit(maren, 1, WIDE)
    assert branched.number == 3
    assert branched.parent.number == 1
    assert Revision.objects.get(character_id=maren, number=2).text.startswith("Set Head turn to go from -30")
    with pytest.raises(BadRequest, match="nothing to redo"):
        redo(maren, 3)


def test_a_stale_base_is_refused_and_says_what_changed(maren):
    edit(maren, 1, NARROW)
    with pytest.raises(StaleBase, match="Set Head turn to go from -30 to 30°") as refused:
        edit(maren, 1, TEETH)
    assert refused.value.head.number == 2
    with pytest.raises(StaleBase):
        undo(maren, 1)
    assert Revision.objects.count() == 2


def test_undo_brings_back_the_very_same_hashes(maren):
    before = head(maren).sections
    edit(maren, 1, TEETH)
    assert head(maren).sections != before
    undo(maren, 2)
    assert head(maren).sections == before


def test_an_edit_stores_only_what_it_changed(maren):
    before = Blob.objects.count()
    edit(maren, 1, NARROW)
    assert Blob.objects.count() == before + 1
    assert {k for k, v in head(maren).sections.items() if v != Revision.objects.get(number=1).sections[k]} == {"controls"}


def test_an_edit_that_fails_stores_nothing(maren):
    before = Blob.objects.count(), Revision.objects.count()
    with pytest.raises(BadRequest):
        edit(maren, 1, step('{"edit": "control.set_range", "params": {"control": "smile", "low": 0, "high": 0.5, "rest": 0}}'))
    assert (Blob.objects.count(), Revision.objects.count()) == before


def test_a_damaged_blob_is_named_and_not_believed(maren):
    revision = head(maren)
    document, _ = load(revision)
    key = document.parts[0].points
    blob = Blob.objects.get(hash=key)
    Blob.objects.filter(hash=key).update(data=bytes(blob.data)[:-1] + b"\x01")
    DERIVED.clear()
    with pytest.raises(ValueError, match="is damaged"):
        load(revision)[1].get(key)
    Blob.objects.filter(hash=key).delete()
    with pytest.raises(ValueError, match="is missing"):
        load(revision)[1].get(key)


def test_an_edit_asks_the_database_for_nothing_it_has_read_before(maren, django_assert_max_num_queries):
    """Arrays stay in memory under their hash, whichever store asks; sections that stay as they are, are not written again."""
    edit(maren, 1, NARROW)
    with django_assert_max_num_queries(16):
        undo(maren, 2)
        edit(maren, 1, NARROW)


def test_an_edit_asks_the_database_no_more_the_longer_the_history_is(client, maren, django_assert_max_num_queries):
    for k in range(6):
        turned(client, maren, k + 1)
    with django_assert_max_num_queries(13):
        turned(client, maren, 7)


def test_far_behind_the_newest_state_nothing_asks_for_all_that_was_undone(client, maren, django_assert_max_num_queries):
    first = parent = head(maren)
    for number in range(2, 202):
        stored = {"sections": first.sections, "edit": "pose.rename", "params": {}, "text": "Renamed"}
        parent = Revision.objects.create(character_id=maren, parent=parent, number=number, **stored)
    Character.objects.filter(pk=maren).update(tip=parent)
    get(client, f"/api/characters/{maren}")
    with django_assert_max_num_queries(6):
        assert get(client, f"/api/characters/{maren}")[1]["can_redo"]
    with django_assert_max_num_queries(20):
        assert post(client, f"/api/characters/{maren}/redo", {"base": 1})[0] == 200
    assert head(maren).number == 2


def turned(client, maren: int, base: int) -> None:
    assert send(client, maren, base, "control.set_range", control="head_turn", low=-30 - base, high=30, rest=0)[0] == 200


def test_an_edit_is_computed_while_nobody_waits_and_refused_where_the_head_moved_meanwhile(client, maren, monkeypatch):
    """Somebody else's edit comes in while this one is made."""
    apply = SetRange.apply

    def interrupted(self, character, store):
        monkeypatch.setattr(SetRange, "apply", apply)
        turned(client, maren, 1)
        return apply(self, character, store)

    monkeypatch.setattr(SetRange, "apply", interrupted)
    status, answer = send(client, maren, 1, "control.set_range", control="head_turn", low=-70, high=30, rest=0)
    assert (status, answer["head"]) == (409, 2)
    assert client.get(f"/api/characters/{maren}").json()["revision"]["number"] == 2
    assert Revision.objects.filter(character_id=maren).count() == 2


def merged(known: dict, told: dict) -> dict:
    """What a page knows after a change, as changes.ts has it."""
    newer = told["revision"]["number"] > known["history"][0]["number"]
    return known | told | {"history": ([told["revision"]] * newer + known["history"])[:HISTORY]}


def test_what_a_change_leaves_out_is_as_it_was(client, maren, faulty):
    """Every edit of the record, and each undone again."""
    _, whole = get(client, f"/api/characters/{maren}")
    known, told_least = whole, set(whole)
    for steps in rig_script(Subject(faulty)).values():
        for name, params in steps:
            status, told = send(client, maren, known["revision"]["number"], name, **params)
            if status == 200:
                known, told_least = merged(known, told), told_least & set(told)
                assert known == get(client, f"/api/characters/{maren}")[1], name
        while known["can_undo"]:
            known = merged(known, post(client, f"/api/characters/{maren}/undo", {"base": known["revision"]["number"]})[1])
        assert known == get(client, f"/api/characters/{maren}")[1]
        assert {**known, "history": [], "can_redo": False} == {**whole, "history": [], "can_redo": False}
    assert told_least == {"revision", "can_undo", "can_redo", "mixed"}
