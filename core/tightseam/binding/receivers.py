"""As few bones a vertex as receivers of a rig take, without a jump where one bone takes another's place."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.binding.face import face_groups
from tightseam.document.model import Bone
from tightseam.geometry.types import Floats
from tightseam.weights.change import NOTHING, capped
from tightseam.weights.rows import MOST_RECEIVED

BEYOND = 1.5  # times the largest weight that has to go: what is larger stays whole
RATHER = 5.0  # times as much as it is counts what head, neck and jaw carry beside what bones of the face do
LEAST = 0.3  # of all weight: where less would stay the largest are taken as they are


def for_receivers(weights: Floats) -> Floats:
    """Weights (N, B) in which no vertex has more bones than `MOST_RECEIVED`. What comes near to the largest weight that has to go fades, so
    that weights that differ little go on doing so."""
    kept = weights * _staying(weights)
    total = kept.sum(axis=1, keepdims=True)
    hard = capped(weights, np.ones(weights.shape[1], bool), MOST_RECEIVED)
    return np.asarray(np.where(total > LEAST, kept / np.maximum(total, LEAST), hard))


def few_of_the_face(weights: Floats, bones: Sequence[Bone]) -> Floats:
    """The same for bones of the face alone: what goes is shared out among those that hang on the same head or jaw, so that while they are
    at rest the skin moves as before."""
    groups = face_groups(bones)
    of_the_face = np.isin(np.arange(len(bones)), [m for _, members in groups for m in members])
    staying, kept = _staying(weights * np.where(of_the_face, 1, RATHER)), weights.copy()
    for k, members in groups:
        kept[:, members] *= staying[:, members]
        group = [*members, k]
        before, after = weights[:, group].sum(axis=1), kept[:, group].sum(axis=1)
        kept[:, group] *= np.divide(before, after, out=np.ones_like(after), where=after > 0)[:, None]
        kept[:, k] += np.where(after > 0, 0, before)
    return kept


def _staying(weights: Floats) -> Floats:
    """Which share of each weight (N, B) stays, (N, B)."""
    if weights.shape[1] <= MOST_RECEIVED:
        return np.ones_like(weights)
    largest = np.sort(weights, axis=1)[:, [-MOST_RECEIVED - 1]]
    fading = np.clip((weights - largest) / np.maximum((BEYOND - 1) * largest, NOTHING), 0, 1)
    return np.where(largest > 0, fading, 1.0)
