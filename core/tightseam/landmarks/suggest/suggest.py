"""All landmarks that a bare head gives."""

from __future__ import annotations

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.model import Character
from tightseam.head.found import FoundHead, found_head
from tightseam.head.landmark_catalogue import NAMES
from tightseam.landmarks.suggest.confidence import with_confidence
from tightseam.landmarks.suggest.ears import ear_and_jaw_marks
from tightseam.landmarks.suggest.face import brow_marks, cheek_and_wing_marks, eye_marks, mouth_marks
from tightseam.landmarks.suggest.found_mark import Marks
from tightseam.landmarks.suggest.middle import middle_marks, profile_of
from tightseam.landmarks.suggest.neck import neck_marks, tongue_marks


@derived("parts")
def suggestions(character: Character, store: ArrayStore) -> Marks:
    """Landmarks as they are found on the meshes of a character."""
    return suggest(found_head(character, store))


def suggest(head: FoundHead) -> Marks:
    """Landmarks by name, in the order of the catalogue, with how likely each is right. What cannot be found is left out.

    Only points and polygons are used: no names, sets, vertex numbers or landmarks.
    """
    return with_confidence(head, places(head))


def places(head: FoundHead) -> Marks:
    """The same, each as sure as the way is by which it was found."""
    if head.skin is None or head.frame is None:
        return {}
    found = eye_marks(head) | mouth_marks(head)
    profile = profile_of(head)
    if profile is not None:
        found |= middle_marks(head, profile)
    found |= cheek_and_wing_marks(head, found) | brow_marks(head) | ear_and_jaw_marks(head, found)
    found |= neck_marks(head, found) | tongue_marks(head)
    return {name: found[name] for name in NAMES if name in found}
