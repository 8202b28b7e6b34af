"""Eye seats through HTTP: sweep, section, proposals, and the edits they lead to."""

from __future__ import annotations

import numpy as np
import pytest

from tests.server.http import post


def seats(client, pim, revision: int = 1) -> list[dict]:
    answer = client.get(f"/api/characters/{pim}/eyes?revision={revision}")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_the_seats_say_what_was_planted(client, pim):
    left, right = seats(client, pim)
    assert (left["side"], right["side"], left["part"]) == ("L", "R", "eye_L")
    assert left["pivot_error"] == pytest.approx(3.0, abs=0.2)
    assert left["roundness"] == pytest.approx(1.57, abs=0.2)
    assert len(left["contacts"]) == len(left["across"]) * len(left["height"]) == 35
    assert left["contacts"][left["worst"]]["depth"] == max(c["depth"] for c in left["contacts"])


def test_a_section_goes_through_each_contact(client, pim):
    for gaze in (0, 17, 34):
        found = client.get(f"/api/characters/{pim}/eyes/R/cut?revision=1&gaze={gaze}").json()
        assert found["skin"]
        assert max(np.linalg.norm(line, axis=1).max() for line in np.array(found["eye"], dtype=object).tolist()) > 15
    for address in (
        "eyes/R/cut?revision=1&gaze=35",
        "eyes/R/cut?revision=1&gaze=-1",
        "eyes/X/cut?revision=1&gaze=0",
    ):
        answer = client.get(f"/api/characters/{pim}/{address}")
        assert answer.status_code == 404
        assert answer.json()["message"]
    assert client.get(f"/api/characters/{pim}/eyes/X/proposals?revision=1").status_code == 422


def test_a_proposal_taken_for_both_eyes_seats_them_and_is_kept_no_longer(client, pim):
    offered = client.get(f"/api/characters/{pim}/eyes/L/proposals?revision=1").json()
    assert client.get(f"/api/characters/{pim}/eyes/L/proposals?revision=1").json() == offered
    pivot = next(p for p in offered if p["edit"] == "eye.centre_pivot")
    assert pivot["after"] < pivot["before"]
    params = {**pivot["params"], "parts": ["eye_L", "eye_R"]}
    status, changed = post(client, f"/api/characters/{pim}/edits", {"base": 1, "step": {"edit": pivot["edit"], "params": params}})
    assert (status, changed["revision"]["text"]) == (200, "Put the pivot of Eye L and Eye R to its centre")
    for seat in seats(client, pim, 2):
        assert seat["pivot_error"] < 0.01
        assert seat["contacts"][seat["worst"]]["depth"] == pytest.approx(pivot["after"], abs=0.05)
    later = client.get(f"/api/characters/{pim}/eyes/L/proposals?revision=2").json()
    assert "eye.centre_pivot" not in [p["edit"] for p in later]


@pytest.mark.parametrize(
    ("edit", "params", "status"),
    [
        ("eye.push_back", {"parts": ["skin"], "back_mm": 1}, 400),
        ("eye.push_back", {"parts": [], "back_mm": 1}, 422),
        ("eye.push_back", {"parts": ["eye_L"], "back_mm": 1e9}, 422),
        ("eye.shrink", {"parts": ["eye_L"], "less": 2}, 422),
        ("eye.draw_to_ball", {"parts": ["eye_L"], "iris": True}, 422),
    ],
)
def test_edits_that_do_not_fit_are_refused(client, pim, edit, params, status):
    answered, refusal = post(client, f"/api/characters/{pim}/edits", {"base": 1, "step": {"edit": edit, "params": params}})
    assert answered == status
    assert refusal["message"]
