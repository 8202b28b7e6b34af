"""The frames of a take, measured."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.progress import Cancelled, heard_by
from tightseam.mix.cell import Dialled
from tightseam.mix.sweeper import Sweeper
from tightseam.mix.take import BRIDGED, take_report
from tightseam.takes.follow import Followed, follow, matched_channels
from tightseam.takes.made import take

from tests.core.mix_faults import Planter
from tests.head import Head

FEW = ("smile", "pucker", "jaw_open", "blink")


@pytest.fixture(scope="module")
def sunken(rigged) -> Head:
    """A cheek that falls in where the jaw is open and the lips are puckered."""
    planter = Planter(rigged["hob"].with_controls(FEW))
    return Head(planter.sunken(0.6), planter.store)


def played(*frames: tuple[float, float, float]) -> Followed:
    """Frames of jaw open, pucker and blink."""
    return Followed(30.0, ("jaw_open", "pucker", "blink"), np.array(frames, float), np.zeros(len(frames), bool))


def test_a_fault_is_told_from_its_first_to_its_last_frame_as_it_is_in_its_cell(sunken):
    frames = [(0, 0, 0), (1, 0, 0), (1, 0.9, 0), (1, 1, 0), (1, 0.9, 0), (0, 1, 0), (0, 0, 1)]
    report = take_report(sunken.character, sunken.store, played(*frames))
    assert report.frames == len(frames)
    (fault,) = [f for f in report.faults if f.kind == "hollow"]
    assert (fault.first, fault.frame, fault.last) == (2, 3, 4)
    assert fault.values == {"jaw_open": 1.0, "pucker": 1.0}
    assert "added up" in fault.text
    sweeper = Sweeper(sunken.character, sunken.store)
    cell = sweeper.measure(sweeper.cell(Dialled("jaw_open"), Dialled("pucker")))
    assert fault.size == pytest.approx(next(f.size for f in cell.findings if f.kind == "hollow"), rel=1e-4)


def test_a_fault_that_is_gone_for_long_is_another_one(sunken):
    both, still = (1, 1, 0), (0, 0, 0)

    def hollows(*frames: tuple[float, float, float]) -> list[int]:
        faults = take_report(sunken.character, sunken.store, played(*frames)).faults
        return sorted(f.first for f in faults if f.kind == "hollow")

    assert hollows(both, *[still] * (BRIDGED - 1), both) == [0]
    assert hollows(both, *[still] * (BRIDGED + 1), both) == [0, BRIDGED + 2]


def test_a_clean_head_laughs_cleanly_and_a_take_can_be_stopped(rigged):
    head = rigged["maren"].with_controls(FEW)
    laugh = take("laugh")
    followed = follow(laugh, head.character, matched_channels(laugh, head.character))
    short = Followed(followed.rate, followed.controls, followed.frames[60:90], followed.lost[60:90])
    report = take_report(head.character, head.store, short)
    assert (report.frames, report.faults, report.not_measured, report.at_rest) == (30, (), (), ())

    def impatient(share: float, text: str) -> None:
        if share > 0.3:
            raise Cancelled

    with pytest.raises(Cancelled), heard_by(impatient):
        take_report(head.character, head.store, short)
