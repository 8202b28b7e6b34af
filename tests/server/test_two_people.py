"""Two people at one character: whoever comes second is told, and nobody's edit is lost."""

from __future__ import annotations

import threading

import pytest

from tests.serving import Server

EDITS = 8  # by each of them


@pytest.fixture
def server(tmp_path, maren_file):
    found = Server(tmp_path)
    found.start()
    found.take_in("m.seam", maren_file)
    yield found
    found.kill()


def test_both_get_all_their_edits_in_and_each_is_told_of_the_others(server):
    refused: list[dict] = []
    done: dict[int, tuple[str, float]] = {}

    def work(control: str) -> None:
        base = server.ask("characters/1")[1]["revision"]["number"]
        for k in range(EDITS):
            step = {"edit": "control.set_range", "params": {"control": control, "low": -40 - k, "high": 40, "rest": 0}}
            while True:
                status, answer = server.ask("characters/1/edits", {"base": base, "step": step})
                if status == 200:
                    base = answer["revision"]["number"]
                    done[base] = control, -40 - k
                    break
                assert status == 409, answer
                refused.append(answer)
                base = answer["head"]

    people = [threading.Thread(target=work, args=[control]) for control in ("head_turn", "head_tilt")]
    for person in people:
        person.start()
    for person in people:
        person.join()
    status, found = server.ask("characters/1")
    assert status == 200
    assert sorted(done) == list(range(2, 2 + 2 * EDITS))  # one revision an edit, none twice
    assert found["revision"]["number"] == 1 + 2 * EDITS
    lows = {c["name"]: c["low"] for c in found["controls"]}
    assert (lows["head_turn"], lows["head_tilt"]) == (-40 - EDITS + 1, -40 - EDITS + 1)
    for answer in refused:
        assert answer["changed"]
        assert "has changed since" in answer["message"]
