"""All landmarks that a bare head gives."""

from __future__ import annotations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.model import Character
from tightseam.head.found import FoundHead, found_head
from tightseam.head.landmark_catalogue import NAMES, twin_of
from tightseam.landmarks.suggest.ears import ear_and_jaw_marks
from tightseam.landmarks.suggest.face import brow_marks, cheek_and_wing_marks, eye_marks, mouth_marks
from tightseam.landmarks.suggest.found_mark import DOUBTFUL, FoundMark, Marks
from tightseam.landmarks.suggest.middle import middle_marks, profile_of
from tightseam.landmarks.suggest.neck import neck_marks, tongue_marks

AT_ODDS = 0.06  # of the distance of the eyes that twins may be off each other's mirror image


@derived("parts")
def suggestions(character: Character, store: ArrayStore) -> Marks:
    """Landmarks as they are found on the meshes of a character."""
    return suggest(found_head(character, store))


def suggest(head: FoundHead) -> Marks:
    """Landmarks by name, in the order of the catalogue, with how sure each is. What cannot be found is left out.

    Only points and polygons are used: no names, sets, vertex numbers or landmarks.
    """
    if head.skin is None or head.frame is None:
        return {}
    found = eye_marks(head) | mouth_marks(head)
    profile = profile_of(head)
    if profile is not None:
        found |= middle_marks(head, profile)
    found |= cheek_and_wing_marks(head, found) | brow_marks(head) | ear_and_jaw_marks(head, found)
    found |= neck_marks(head, found) | tongue_marks(head)
    return {name: found[name] for name in NAMES if name in found} | _at_odds(head, found)


def _at_odds(head: FoundHead, found: Marks) -> Marks:
    """Twins that do not mirror each other, as doubtful: one of them is wrong, or the head is not symmetric there."""
    assert head.frame is not None
    eyes = [ball.centre for ball in head.balls.values()]
    apart = AT_ODDS * float(np.linalg.norm(eyes[0] - eyes[1])) if len(eyes) == 2 else np.inf
    doubtful: Marks = {}
    for left in (n for n in found if n.endswith("_L") and twin_of(n) in found):
        right = str(twin_of(left))
        if np.linalg.norm(head.frame.plane.mirrored(found[left].point[None])[0] - found[right].point) > apart:
            doubtful |= {name: FoundMark(found[name].point, min(found[name].sure, DOUBTFUL / 2)) for name in (left, right)}
    return doubtful
