"""The Jaw station through HTTP."""

from __future__ import annotations

import msgpack
import numpy as np
import pytest

from tests.server.http import HUGE, edit, get, post

RISING = [{"at": 0, "value": 0}, {"at": 1, "value": 1}]


def test_the_set_up_says_how_the_jaw_moves_and_what_drives_the_lips(client, maren):
    status, jaw = get(client, f"/api/characters/{maren}/jaw?revision=1")
    assert status == 200, jaw
    assert jaw["movement"]["opens"] == 22
    assert jaw["controls"] == {"jaw_open": "jaw_open", "jaw_side": "jaw_side", "jaw_thrust": "jaw_thrust"}
    assert jaw["teeth_gap"] > 0
    assert [d["control"] for d in jaw["lips"]["driven"]["seal_L"]] == ["lip_seal_L"]
    assert {p["name"] for p in jaw["presets"]} == {"cheek_upper", "cheek_lower", "under", "drag", "fold"}
    assert jaw["reliefs"] == []


def test_a_relief_is_added_set_and_seen_in_frames_and_curves(client, maren):
    assert edit(client, maren, 1, "relief.preset", preset="cheek_lower")[0] == 200
    status, changed = edit(client, maren, 2, "relief.set", name="cheek_lower_L", cm=-0.6)
    assert status == 200
    assert changed["revision"]["text"] == "Set the relief Jowl L"
    relief = get(client, f"/api/characters/{maren}/jaw?revision=3")[1]["reliefs"][0]
    assert (relief["cm"], relief["twin"]) == (-0.6, "cheek_lower_R")
    assert relief["driven"][0]["curve"]["path"][0] == [0, 0]
    curves = [post(client, f"/api/characters/{maren}/jaw/curves", {"revision": r})[1] for r in (1, 3)]
    deep = [c["regions"][0]["hollow"][-1] for c in curves]
    assert deep[1] > deep[0] + 2
    assert len(curves[0]["openings"]) == len(curves[0]["gap"]) == 21
    answer = client.post(f"/api/characters/{maren}/frame", {"revision": 3, "region_of": "cheek_lower_L"}, content_type="application/json")
    own = np.frombuffer(msgpack.unpackb(answer.content)["weights"]["skin"]["own"], np.float32)
    assert (own.max(), (own > 0).sum()) == (pytest.approx(1), relief["count"])


def test_a_region_is_painted_live_as_it_is_stored(client, maren, faulty):
    edit(client, maren, 1, "relief.preset", preset="under")
    at = faulty.rest("skin")[600].tolist()
    painting = {"relief": "under", "brush": {"radius": 3.0, "strength": 0.8}, "values": {"jaw_open": 0.5}}
    dab = {"vertex": 600, "place": at, "tool": "add"}
    asked = {"revision": 2, "token": "a stroke", "painting": painting, "first": 0, "dabs": [dab]}
    live = msgpack.unpackb(client.post(f"/api/characters/{maren}/paint", asked, content_type="application/json").content)
    assert edit(client, maren, 2, "relief.paint", painting=painting, dabs=[dab])[0] == 200
    answer = client.post(f"/api/characters/{maren}/frame", {"revision": 3, "region_of": "under"}, content_type="application/json")
    stored = np.frombuffer(msgpack.unpackb(answer.content)["weights"]["skin"]["own"], np.float32)
    vertices, own = np.frombuffer(live["vertices"], np.uint32), np.frombuffer(live["own"], np.float32)
    assert len(vertices) > 3
    assert np.abs(np.where(own > 1e-3, own, 0) - stored[vertices]).max() < 1e-6


def test_the_section_shows_posed_and_neutral(client, maren):
    body = {"revision": 1, "cut": "cheeks", "at": 0.3, "values": {"jaw_open": 1}}
    status, cut = post(client, f"/api/characters/{maren}/jaw/section", body)
    assert status == 200
    assert cut["posed"] != cut["neutral"]
    assert post(client, f"/api/characters/{maren}/jaw/section", body | {"values": {}})[1]["posed"] == cut["neutral"]


def test_the_neck_is_measured_above_any_line(client, maren):
    status, usual = get(client, f"/api/characters/{maren}/jaw/neck?revision=1")
    assert status == 200
    assert len(usual["readings"]) == 6
    low = get(client, f"/api/characters/{maren}/jaw/neck?revision=1&line={usual['line'] - 3}")[1]
    assert max(r["squash"] for r in low["readings"]) > max(r["squash"] for r in usual["readings"])
    tint = client.post(
        f"/api/characters/{maren}/frame", {"revision": 1, "values": {"head_turn": 50}, "tint": "dual"}, content_type="application/json"
    )
    apart = np.frombuffer(msgpack.unpackb(tint.content)["tint"]["skin"], np.float32)
    assert apart.max() > 0.5


def test_findings_can_be_tried_before_they_are_accepted(client, maren):
    assert edit(client, maren, 1, "jaw.set_movement", opens=0)[0] == 200
    status, found = get(client, f"/api/characters/{maren}/findings/jaw?revision=2")
    assert status == 200
    assert found[0]["title"] == "The jaw does not open"
    repair = found[0]["repairs"][0]
    step = {"edit": repair["edit"], "params": repair["params"]}
    status, answer = post(client, f"/api/characters/{maren}/try", {"base": 2, "step": step})
    assert status == 200, answer
    tried = answer["tried"]
    assert tried["station"] == "jaw"
    assert tried["before"] == len(found)
    assert tried["text"] == "Set the jaw to open 22° and slide 1.2 mm"
    errors = get(client, f"/api/characters/{maren}/jaw/baked?revision=1")[1]
    assert [e["what"] for e in errors] == ["Lip seal and corners"]


@pytest.mark.parametrize(
    ("name", "params", "status"),
    [
        ("relief.preset", {"preset": "chin"}, 422),
        ("relief.set", {"name": "nobody", "cm": 1}, 400),
        ("relief.set", {"name": "nobody", "cm": HUGE}, 422),
        ("relief.add", {"label": "x", "part": "skin", "vertices": [HUGE]}, 400),
        ("relief.add", {"label": "x", "part": "skin", "vertices": [-1], "soft": 0}, 400),
        ("relief.add", {"label": "", "part": "skin", "vertices": [1]}, 422),
        ("relief.move", {"name": "a", "before": "b"}, 400),
        ("control.link", {"control": "jaw_open", "kind": "seal", "targets": ["x"], "keys": RISING}, 400),
        ("control.link", {"control": "jaw_open", "kind": "seal", "targets": ["seal_L"], "keys": [{"at": 0, "value": "NaN"}]}, 422),
        ("jaw.set_movement", {"opens": -5}, 422),
        ("jaw.set_movement", {"opens": 1e9}, 422),
        ("jaw.harden_head", {"part": "teeth_upper", "above": -100}, 400),
        ("lips.set", {"soft": 0}, 422),
        ("binding.set_dual", {"part": "skin", "amount": 2}, 422),
        ("binding.set_dual", {"part": "nobody", "amount": 1}, 400),
    ],
)
def test_what_makes_no_sense_is_refused_and_nothing_is_stored(client, maren, name, params, status):
    found, answer = edit(client, maren, 1, name, **params)
    assert found == status, answer
    assert answer["message"]
    assert client.get(f"/api/characters/{maren}").json()["revision"]["number"] == 1


@pytest.mark.parametrize("what", ["jaw", "findings/jaw", "jaw/neck", "jaw/baked"])
def test_a_head_without_a_jaw_says_what_is_missing(client, pim, what):
    status, answer = get(client, f"/api/characters/{pim}/{what}?revision=1")
    if what == "jaw/baked":
        assert (status, answer) == (200, [])
    else:
        assert status == 400
        assert "not placed yet" in answer["message"] or "no jaw bone" in answer["message"] or "no neck" in answer["message"]
