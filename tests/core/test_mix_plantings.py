"""Faults planted at random are found: as what they are, where they are, with the two controls that bring them about, and nothing else is
called a fault because of them; and they are mended by the first or the second way that is offered.

TIGHT_SEAM_PLANTINGS sets how many; `make plantings` makes it two hundred.
"""

from __future__ import annotations

import os

import pytest

from tests import cast
from tests.core.mix_plantings import outcome, ways_to_mend

COUNT = int(os.environ.get("TIGHT_SEAM_PLANTINGS", "9"))
AT_ONCE = 3  # plantings a test: one on each head


@pytest.mark.parametrize("first", range(0, COUNT, AT_ONCE))
def test_what_is_planted_at_random_is_found_and_nothing_else(first, plantings):
    for seed, name in zip(range(first, first + AT_ONCE), ("hob", "maren", "pim"), strict=True):
        plantings.append(outcome(cast.clean(name), seed))
    assert sum(o.found for o in plantings) >= 0.95 * len(plantings)
    assert sum(o.right_pair for o in plantings) >= 0.9 * len(plantings)
    causes, strays = sum(o.own for o in plantings), sum(o.strays for o in plantings)
    assert causes >= 0.9 * (causes + strays)


@pytest.mark.parametrize("seed", range(COUNT // AT_ONCE))
def test_what_is_planted_at_random_is_mended(seed, mended):
    """To within, with nothing new or worse in the whole sweep nor in any test pose."""
    found = ways_to_mend(cast.clean(("hob", "maren", "pim")[seed % AT_ONCE]), seed)
    if found is not None:
        mended.append(any(m.clean for m in found[:2]))
    assert sum(mended) >= 0.9 * len(mended), [(m.text, m.found, m.left, m.harms) for m in found or ()]


@pytest.fixture(scope="module")
def mended() -> list[bool]:
    """Which of those that were told of are, so far."""
    return []


@pytest.fixture(scope="module")
def plantings() -> list:
    """All that have been planted so far."""
    return []
