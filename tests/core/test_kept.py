"""Results that outlive a process: the same from there as made anew, whoever keeps them."""

from __future__ import annotations

from dataclasses import replace

import pytest
from pydantic_core import to_jsonable_python
from tightseam.checkin.report import check_in
from tightseam.document.derived import DERIVED
from tightseam.document.kept import keep_in
from tightseam.document.poses import shown_poses
from tightseam.document.progress import Cancelled, heard_by, one_by_one, part_of_it, tell
from tightseam.seams.pose_report import PoseMeter, pose_key
from tightseam.tryout.stations import FINDINGS

from tests import cast


class Shelf:
    """Keeps results in a dict, and counts how often they are asked for."""

    def __init__(self) -> None:
        self.data: dict[str, bytes] = {}
        self.loads = 0

    def load(self, key: str) -> bytes | None:
        self.loads += 1
        return self.data.get(key)

    def save(self, key: str, data: bytes) -> None:
        self.data[key] = data


@pytest.fixture
def shelf():
    found = Shelf()
    keep_in(found)
    yield found
    keep_in(None)


@pytest.mark.parametrize("who", ["maren", "hob"])
def test_what_is_kept_is_what_was_made(who, shelf, monkeypatch):
    head = cast.faulty(who)
    made = {station: find(head.character, head.store) for station, find in FINDINGS.items()}
    report = check_in(head.character, head.store)
    pose = shown_poses(head.character)[1]
    measured = PoseMeter(head.character, head.store).report(pose)
    assert len(shelf.data) == len(FINDINGS) + 2
    monkeypatch.setattr(DERIVED, "get", lambda *_: pytest.fail("it was made again"))
    for station, find in FINDINGS.items():
        assert plain(find(head.character, head.store)) == plain(made[station])
        assert find.key(head.character) in shelf.data
    assert plain(check_in(head.character, head.store)) == plain(report)
    monkeypatch.setattr("tightseam.seams.meter.SeamMeter.measure", lambda *_: pytest.fail("it was measured again"))
    assert PoseMeter(head.character, head.store).report(pose) == measured


def plain(found: object) -> object:
    """Without the difference between a tuple and a list in what a repair's edit is given."""
    return to_jsonable_python(found)


def test_what_is_damaged_is_made_again(shelf, clean):
    find = FINDINGS["bones"]
    found = find(clean.character, clean.store)
    shelf.data = dict.fromkeys(shelf.data, b'[{"kind": 7}]')
    assert find(clean.character, clean.store) == found
    assert shelf.data[find.key(clean.character)] == b"[]"


def test_a_pose_is_kept_under_all_it_hangs_on_and_nothing_else(clean):
    pose = clean.character.poses[1]
    key = pose_key(clean.character, pose)
    assert pose_key(replace(clean.character, poses=()), pose) == key
    assert pose_key(clean.character, replace(pose, hidden=not pose.hidden)) == key
    assert pose_key(clean.character, replace(pose, label="Otherwise")) != key
    assert pose_key(clean.character, replace(pose, closes=("mouth", "lids"))) != key
    assert pose_key(replace(clean.character, seams=clean.character.seams[1:]), pose) != key


def test_steps_are_told_as_shares_of_the_whole_and_stopped_between_two():
    told: list[tuple[float, str]] = []
    with heard_by(lambda share, text: told.append((share, text))):
        tell(0.0, "begin")
        with part_of_it(0.5, 1.0, "After: "):
            assert list(one_by_one("ab", "letter")) == ["a", "b"]
    tell(0.9, "nobody hears")
    assert told == [(0.0, "begin"), (0.5, "After: letter 1 of 2"), (0.75, "After: letter 2 of 2")]

    def stop(share: float, text: str) -> None:
        raise Cancelled

    with pytest.raises(Cancelled), heard_by(stop):
        list(one_by_one("ab", "letter"))
