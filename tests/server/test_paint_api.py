"""Strokes through HTTP: what is shown while painting is what is stored."""

from __future__ import annotations

import msgpack
import numpy as np
import pytest

from tests.server.http import edit, painted, post

PAINTING = {"part": "skin", "bone": "jaw", "brush": {"radius": 1.2, "strength": 0.3}, "values": {"jaw_open": 0.6}, "mirror": True}


@pytest.fixture
def dabs(faulty) -> list[dict]:
    """Six touches of the chin with the jaw open."""
    posed = faulty.posed("skin", {"jaw_open": 0.6})
    chin = faulty.set("lip_lower")[:6]
    return [{"vertex": int(v), "place": posed[v].tolist(), "tool": "take" if k % 2 else "smooth"} for k, v in enumerate(chin)]


def paint(client, who: int, dabs: list[dict], first: int = 0, token: str = "a stroke of mine", revision: int = 1):
    body = {"revision": revision, "token": token, "painting": PAINTING, "first": first, "dabs": dabs}
    return client.post(f"/api/characters/{who}/paint", body, content_type="application/json")


def test_what_was_shown_is_what_is_stored(client, maren, dabs):
    shown: dict[int, float] = {}
    points: dict[int, np.ndarray] = {}
    for first in (0, 2, 4):
        answer = paint(client, maren, dabs[first : first + 2], first)
        assert answer.status_code == 200, answer.content
        found = painted(answer)
        assert np.abs(found["total"] - 1).max() < 1e-6
        assert np.abs(np.linalg.norm(found["normals"].reshape(-1, 3), axis=1) - 1).max() < 1e-5
        shown |= dict(zip(found["vertices"].tolist(), found["own"].tolist(), strict=True))
        points |= dict(zip(found["vertices"].tolist(), found["points"].reshape(-1, 3), strict=True))
    step = {"edit": "weights.paint", "params": {"painting": PAINTING, "dabs": dabs}}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})
    assert status == 200, changed
    assert changed["revision"]["text"] == "Smoothed Jaw on Skin on both sides"
    body = {"revision": 2, "values": PAINTING["values"], "weights_of": "jaw"}
    frame = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, content_type="application/json").content)
    own = np.frombuffer(frame["weights"]["skin"]["own"], np.float32)
    stored = np.frombuffer(frame["parts"]["skin"]["points"], np.float32).reshape(-1, 3)
    assert len(shown) > 40
    assert [own[v] for v in shown] == list(shown.values())
    assert max(np.abs(stored[v] - points[v]).max() for v in points) < 1e-4


def test_what_rides_on_what_is_painted_is_shown_where_it_is_stored(client, maren, faulty):
    """A brow let ride on the skin goes along with it while the jaw is painted under it, and is told whole."""
    assert edit(client, maren, 1, "binding.ride", part="brow_L", on="skin")[0] == 200
    mark = next(m.point for m in faulty.character.landmarks if m.name == "brow_inner_L")
    vertex = int(np.linalg.norm(faulty.rest("skin") - mark, axis=1).argmin())
    place = faulty.posed("skin", {"jaw_open": 0.6})[vertex].tolist()
    dabs = [{"vertex": vertex, "place": place, "tool": "add"}] * 3
    others = msgpack.unpackb(paint(client, maren, dabs, revision=2).content)["others"]
    assert list(others) == ["brow_L"]
    shown = np.frombuffer(others["brow_L"]["points"], np.float32)
    assert edit(client, maren, 2, "weights.paint", painting=PAINTING, dabs=dabs)[0] == 200
    body = {"revision": 3, "values": PAINTING["values"]}
    frame = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, content_type="application/json").content)
    for what in ("points", "normals"):
        stored = np.frombuffer(frame["parts"]["brow_L"][what], np.float32)
        assert np.abs(stored - np.frombuffer(others["brow_L"][what], np.float32)).max() < 1e-3
    assert np.abs(shown.reshape(-1, 3) - faulty.posed("brow_L", {"jaw_open": 0.6})).max() > 0.05


def test_a_stroke_that_was_lost_or_is_out_of_order_is_refused(client, maren, dabs):
    assert paint(client, maren, dabs[2:], first=2, token="never begun").json()["message"].startswith("This stroke was lost on the way.")
    assert paint(client, maren, dabs[:2], token="out of order").status_code == 200
    answer = paint(client, maren, dabs[4:], first=4, token="out of order")
    assert answer.status_code == 400
    assert "out of order" in answer.json()["message"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"vertex": 99999}, "out of range"),
        ({"place": [0, float("1e9"), 0]}, "less than or equal to 10000"),
        ({"tool": "scrape"}, "'set', 'add'"),
        ({"pressure": 0}, "greater than 0"),
    ],
)
def test_hostile_dabs_are_refused_in_words(client, maren, dabs, change, said):
    answer = paint(client, maren, [dabs[0] | change])
    assert answer.status_code in (400, 422)
    assert said in answer.json()["message"]


def test_first_weights_and_envelopes_through_edits(client, maren):
    step = {"edit": "binding.weigh", "params": {"part": "skin", "how": "heat"}}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})
    assert (status, changed["revision"]["text"]) == (200, "Made weights of Skin by heat over the surface")
    whole = client.get(f"/api/characters/{maren}").json()
    assert len(whole["envelopes"]) == len(whole["bones"])
    step = {"edit": "bone.set_envelope", "params": {"bone": "jaw", "inner": 1.5, "outer": 4}}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 2, "step": step})
    jaw = [b["name"] for b in changed["bones"]].index("jaw")
    assert (status, changed["envelopes"][jaw]) == (200, [1.5, 4.0])
