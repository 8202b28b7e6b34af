"""What an edit did to all poses, against a full measurement of both revisions."""

from __future__ import annotations

from tightseam.document.arrays import MemoryStore
from tightseam.edits.set_carrier import SetCarrier
from tightseam.seams.effects import side_effects
from tightseam.seams.reading import Reading

from tests.head import Head


def head_of(character, store) -> Head:

    return Head(character, store)


def test_nothing_changed_is_said(clean):
    effects = side_effects(clean.character, clean.readings(), clean.readings())
    assert (effects.better, effects.worse, effects.said) == ((), (), "No seam changed in any pose.")


def test_a_repair_is_told_as_better_with_its_worst_pose(faulty, clean):
    store = MemoryStore(faulty.store)
    mended = SetCarrier(part="teeth_lower", carrier="rigid", bones=["teeth_lower"]).apply(faulty.character, store)
    effects = side_effects(mended, faulty.readings(), head_of(mended, store).readings())
    assert effects.worse == ()
    assert {c.seam for c in effects.better} >= {"follow_teeth_lower"}
    assert effects.better[0].before > 18
    assert effects.better[0].after < 0.01
    assert effects.over_after < effects.over_before
    assert "Better: Lower teeth · jaw in Jaw open, 18.15 → 0.00 mm" in effects.said


def test_a_pose_far_from_the_edit_that_breaks_is_told(clean):
    """A tongue given to the head is right in every pose with the mouth shut, and stays behind wherever it opens."""
    store = MemoryStore(clean.store)
    changed = SetCarrier(part="tongue", carrier="rigid", bones=["head"]).apply(clean.character, store)
    now = head_of(changed, store)
    effects = side_effects(changed, clean.readings(), now.readings())
    assert effects.worse
    # the same as measuring everything again and comparing by hand
    by_hand = {
        (pose, r.seam)
        for pose, rows in now.readings().items()
        for r, before in zip(rows, clean.readings()[pose], strict=True)
        if abs(r.excess - before.excess) > 0.1
    }
    assert {(c.pose, c.seam) for c in (*effects.better, *effects.worse)} == by_hand
    assert {c.pose for c in effects.worse} >= {"jaw_open"}
    assert "neutral" not in {c.pose for c in effects.worse}
    assert effects.said.startswith(f"Over the limit: 0 → {effects.over_after}. Worse: ")


def test_poses_and_seams_that_only_one_side_has_are_left_out(clean):
    one = {"neutral": [Reading("lips", gap=0.1, excess=0.5)], "gone": [Reading("lips", gap=9, excess=60)]}
    other = {
        "neutral": [Reading("lips", gap=0.4, excess=2.0), Reading("new", gap=1, excess=9)],
        "fresh": [Reading("lips", gap=1, excess=9)],
    }
    effects = side_effects(clean.character, one, other)
    assert [(c.seam, c.pose, c.before, c.after) for c in effects.worse] == [("lips", "neutral", 0.1, 0.4)]


def test_seams_that_are_measured_for_the_first_time_are_told_by_their_worst_pose(clean):
    """After a first rig nothing was measured before: that is not to be called unchanged."""
    now = {"neutral": [Reading("lips", excess=0.2), Reading("teeth", excess=0.1)], "jaw": [Reading("lips", excess=3.0)]}
    assert side_effects(clean.character, {}, now).said == "2 seams are measured for the first time, 1 of them over the limit."
    assert side_effects(clean.character, {}, {"neutral": now["neutral"]}).said.endswith("first time, none of them over the limit.")
    assert side_effects(clean.character, now, now).said == "No seam changed in any pose."


def test_what_decides_a_seam_is_told_even_where_it_is_something_else_than_before(clean):
    """A lid that stood open and now lies a little in the eye: the gap is gone, and it is the overlap that is said."""
    open_, deep = (
        Reading("lid", overlap=0.11, gap=4.9, gap_limit=0.5, excess=9.8),
        Reading("lid", overlap=0.44, gap=0.0, gap_limit=0.5, excess=1.5),
    )
    effects = side_effects(clean.character, {"blink": [open_]}, {"blink": [deep]})
    assert "Better: lid in Blink, 4.90 mm of gap → 0.44 mm of overlap." in effects.said
    worse = side_effects(clean.character, {"blink": [deep]}, {"blink": [open_]}).worse[0]
    assert (worse.before_as, worse.after_as, worse.grown) == ("overlap", "gap", 4.9)
