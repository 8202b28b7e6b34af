"""How well Check-in finds faults it has never seen: other places, sides and sizes, two at once, on re-ordered and subdivided heads."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.random_faults import KINDS, Planter, report_of, score, share_found, variant

TRIALS = 24  # of each of two series, with one or two faults each


@pytest.fixture(scope="module")
def variants(raw_heads):
    rng = np.random.default_rng(1)
    return {f"{n}{', subdivided' if fine else ''}": variant(h, rng, fine) for n, h in raw_heads.items() for fine in (False, True)}


@pytest.fixture(scope="module")
def hobs_report(variants):
    return report_of(variants["hob"])


@pytest.mark.parametrize("series", [5, 6])
def test_random_faults_are_found_and_none_is_made_up(variants, series):
    found = score(variants, TRIALS, seed=series)
    assert found.planted >= 42
    assert found.recall >= 0.97, found.missed
    assert found.precision >= 0.97, found.invented


@pytest.mark.parametrize("kind", KINDS)
def test_each_kind_of_fault_goes_away_with_its_planting(variants, hobs_report, kind):
    """The same head without the fault has no such finding: what is reported is the fault and nothing that was there before."""
    fault = Planter(variants["hob"], np.random.default_rng(3)).plant(kind)
    assert share_found(fault, hobs_report) == 0
