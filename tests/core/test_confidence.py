"""How sure suggested landmarks are of themselves, on heads that the table was not fitted on."""

from __future__ import annotations

import json

import numpy as np
import pytest
from tightseam.head.found import FoundHead
from tightseam.head.landmark_catalogue import NAMES
from tightseam.landmarks.suggest.confidence import TABLE, evidence, kind_of
from tightseam.landmarks.suggest.found_mark import DOUBTFUL, FoundMark
from tightseam.landmarks.suggest.suggest import places, suggest

from tests.core.heads import character_of, decimated, distorted

RIGHT, FAR = 0.3, 0.7  # cm
UNSEEN = 500_000  # seeds that the calibration never takes
HEADS = 8  # of each of the cast
SAMPLE = 0.01  # by how much what 24 heads give goes up and down; 120 heads give 0.956


def suggested(head, truth) -> list[tuple[str, float, float]]:
    """Name, confidence and miss in cm of each suggestion."""
    return [(name, m.sure, float(np.linalg.norm(m.point - truth[name]))) for name, m in suggest(FoundHead(*character_of(head))).items()]


@pytest.fixture(scope="module")
def on_distorted(raw_heads) -> list[tuple[str, float, float]]:
    heads = [distorted(raw, np.random.default_rng([UNSEEN + k, n])) for n, raw in enumerate(raw_heads.values()) for k in range(HEADS)]
    return [found for head in heads for found in suggested(head, head.landmarks)]


def test_there_is_a_table_for_every_landmark():
    assert set(json.loads(TABLE.read_text())) == {kind_of(name) for name in NAMES}


def test_of_what_is_sure_95_of_100_are_right_and_most_are_sure(on_distorted):
    sure = [miss for _, how, miss in on_distorted if how >= DOUBTFUL]
    assert len(on_distorted) == 3 * HEADS * len(NAMES)
    assert len(sure) >= (0.8 - SAMPLE) * len(on_distorted)
    assert np.mean(np.array(sure) <= RIGHT) >= 0.95 - SAMPLE


def test_a_confidence_is_how_often_it_is_right(on_distorted):
    how, right = np.array([how for _, how, _ in on_distorted]), np.array([miss <= RIGHT for *_, miss in on_distorted])
    for low, high in ((0.0, 0.5), (0.5, 0.9), (0.9, 1.0)):
        within = (how >= low) & (how < high)
        assert within.sum() >= 30
        assert abs(how[within].mean() - right[within].mean()) < 0.12, (low, high)


@pytest.mark.parametrize("name", ["maren", "pim", "hob"])
def test_on_a_coarse_skin_no_lid_is_far_off_and_sure(raw_heads, name):
    for k, share in enumerate((0.5, 0.3)):
        head = decimated(distorted(raw_heads[name], np.random.default_rng([UNSEEN + 100 + k, len(name)])), share)
        far_off = [found for found in suggested(head, head.landmarks) if found[0].startswith("lid") and found[2] > FAR]
        assert [found for found in far_off if found[1] > 0.8] == []
        assert [found for found in far_off if "fold" not in found[0] and found[1] > DOUBTFUL] == []


def test_what_is_seen_can_only_speak_against_a_suggestion(raw_maren):
    head = FoundHead(*character_of(raw_maren))
    found = places(head)
    before = evidence(head, found)
    shifted = found | {"lid_outer_L": FoundMark(found["lid_outer_L"].point + [0, 0.5, 0], 0.7)}
    after = evidence(head, shifted)
    assert before["lid_outer_L"][0] == 1
    assert after["lid_outer_L"][3] == pytest.approx(before["lid_outer_L"][3] + 0.5 / 0.642, rel=0.05)  # a tenth of the eyes' distance
    assert after["lid_outer_L"][4] == pytest.approx(0.3)
    assert after["crown"][5] > before["crown"][5]


def test_a_guess_stays_a_guess(raw_maren):
    found = suggest(FoundHead(*character_of(raw_maren)))
    assert all(0 < m.sure <= 0.99 for m in found.values())
    without = [p for p in raw_maren.parts if p.kind not in ("brow", "hair", "whiskers")]
    guessed = suggest(FoundHead(*character_of(type(raw_maren)(without, raw_maren.landmarks))))
    assert max(guessed[f"brow_{place}_L"].sure for place in ("inner", "middle", "outer")) <= 0.3
