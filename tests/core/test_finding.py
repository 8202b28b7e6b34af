"""One kind of finding for all stations, with repairs in words."""

from __future__ import annotations

from collections import defaultdict

import pytest
from tightseam.edits.registry import EDITS, make_step
from tightseam.findings.finding import WORDS, Finding
from tightseam.tryout.stations import FINDINGS, station_of
from tightseam.tryout.tried import tried

from tests import cast
from tests.head import grown, repaired, step_of


@pytest.mark.parametrize("who", ["maren", "hob"])
def test_every_station_says_what_is_wrong_how_much_where_and_what_to_do(who):
    head = cast.faulty(who)
    found = [f for find in FINDINGS.values() for f in find(head.character, head.store)]
    assert len(found) > 5
    counts = {p.name: p.vertex_count for p in head.character.parts}
    for f in found:
        assert f.title
        assert f.text.endswith(".")
        assert f.size >= 0
        assert not f.vertices or max(f.vertices) < counts[f.part]
        for r in f.repairs:
            assert r.text
            make_step(r.edit, r.params)  # it is an edit


def test_a_finding_is_looked_for_by_the_station_whose_repair_it_has():
    head = cast.faulty("hob")
    for station in ("lids", "jaw", "shapes"):
        for f in FINDINGS[station](head.character, head.store):
            assert {station_of(make_step(r.edit, r.params)) for r in f.repairs} <= {station, "weights"}


def test_words_are_of_edits_that_there_are():
    assert set(WORDS) <= set(EDITS)


def test_a_shape_that_no_pose_uses_is_looked_at_alone():
    """That no pose of the strip shows it is no reason to say that nothing moves."""
    head = cast.faulty("hob")
    stray = next(f for f in FINDINGS["shapes"](head.character, head.store) if f.kind == "stray")
    out = tried(head.character, head.store, step_of(stray))
    assert (out.station, out.before - out.after >= 1) == ("shapes", True)
    assert out.shows is not None
    assert out.shows.millimetres > 1


@pytest.mark.parametrize("who", ["maren", "hob"])
def test_a_repair_that_makes_anything_worse_says_so_before_it_is_done(who):
    """Held against seams that the test measures itself, in every pose of the strip: of each kind of finding the first two."""
    head = cast.faulty(who)
    before = head.readings()
    told = 0
    by_kind: dict[tuple[str, str], list[Finding]] = defaultdict(list)
    for station, find in FINDINGS.items():
        for f in find(head.character, head.store):
            by_kind[station, f.kind] += [f] if f.repairs else []
    for f in [f for own in by_kind.values() for f in own[:2]]:
        out = tried(head.character, head.store, step_of(f))
        after = repaired(head, f).readings()
        worse = [
            (pose, now.seam)
            for pose, row in after.items()
            for now in row
            for was in before[pose]
            if was.seam == now.seam and now.excess - was.excess > 0.1 and grown(was, now) > 0.02
        ]
        assert not worse or out.harms, (f.title, worse)
        told += out.harms
    assert told > 0
