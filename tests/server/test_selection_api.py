"""Selections and edits of weights through HTTP."""

from __future__ import annotations

import pytest

from tests.server.http import post


def select(client, who: int, how: str, vertices: list[int], **more) -> list[int]:
    body = {"revision": 1, "part": "skin", "vertices": vertices, "how": how, **more}
    status, answer = post(client, f"/api/characters/{who}/select", body)
    assert status == 200, answer
    return answer["vertices"]


def test_a_selection_is_changed_and_says_what_carries_it(client, maren):
    jaw = select(client, maren, "weight", [], bone="jaw", low=0.4, high=0.6)
    assert len(jaw) > 20
    assert set(jaw) < set(select(client, maren, "grow", jaw))
    assert sorted(select(client, maren, "across", select(client, maren, "across", jaw))) == sorted(jaw)
    assert len(select(client, maren, "whole", [])) == 3576
    status, found = post(client, f"/api/characters/{maren}/selection", {"revision": 1, "part": "skin", "vertices": jaw})
    assert status == 200
    assert found["count"] == len(jaw)
    assert found["off"] == 0
    carried = {b["bone"]: b for b in found["bones"]}
    assert 0.4 <= carried["jaw"]["mean"] <= 0.6
    assert carried["jaw"]["vertices"] == len(jaw)
    assert found["bones"] == sorted(found["bones"], key=lambda b: -b["mean"])


def test_what_a_shape_moves_is_picked(client, maren):
    smile = select(client, maren, "shape", [], shape="smile")
    assert len(smile) > 100
    lips = select(client, maren, "grow", smile)
    assert set(smile) < set(lips)
    body = {"revision": 1, "part": "skin", "how": "shape"}
    for shape in ("frown", None):
        assert post(client, f"/api/characters/{maren}/select", body | {"shape": shape})[0] == 400
    assert select(client, maren, "shape", [], part="eye_L", shape="smile") == []


def test_weights_are_edited_on_a_selection(client, maren):
    jaw = select(client, maren, "weight", [], bone="jaw", low=0.4, high=0.6)
    params = {"part": "skin", "vertices": jaw, "bone": "jaw", "amount": 0.1, "locked": ["neck_2"], "mirror": True}
    status, changed = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": {"edit": "weights.add", "params": params}})
    assert status == 200, changed
    assert changed["revision"]["text"] == f"Added 0.1 of Jaw to {len(jaw)} vertices of Skin and the other side"


def test_findings_come_with_their_repairs(client, maren):
    found = client.get(f"/api/characters/{maren}/findings/weights?revision=1").json()
    assert [(f["kind"], f["part"], f["about"]) for f in found] == [("mixed", "eye_R", "head"), ("mixed", "teeth_lower", "head")]
    for number, finding in enumerate(found):
        step = {key: finding["repairs"][0][key] for key in ("edit", "params")}
        status, answer = post(client, f"/api/characters/{maren}/edits", {"base": number + 1, "step": step})
        assert status == 200, answer
    assert client.get(f"/api/characters/{maren}/findings/weights?revision=3").json() == []


def test_what_an_edit_did_to_all_poses_equals_measuring_them_all(client, maren):
    params = {"part": "tongue", "carrier": "rigid", "bones": ["head"]}
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": {"edit": "binding.set_carrier", "params": params}})[0] == 200
    effects = client.get(f"/api/characters/{maren}/effects?before=1&after=2").json()
    poses = [p["name"] for p in client.get(f"/api/characters/{maren}").json()["poses"]]
    over = []
    for revision in (1, 2):
        reports = [post(client, f"/api/characters/{maren}/measure", {"revision": revision, "pose": p})[1] for p in poses]
        over.append(sum(r["excess"] > 1 for report in reports for r in report["readings"]))
    assert [effects["over_before"], effects["over_after"]] == over
    assert over[1] > over[0]
    assert effects["worse"][0]["seam"] == "follow_tongue"
    assert effects["said"].startswith(f"Over the limit: {over[0]} → {over[1]}. Worse: Tongue · tongue bones in ")
    assert client.get(f"/api/characters/{maren}/effects?before=1&after=9").status_code == 404


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("select", {"revision": 1, "part": "skin", "vertices": [], "how": "grow"}, 400),
        ("select", {"revision": 1, "part": "skin", "vertices": [0], "how": "loop"}, 400),
        ("select", {"revision": 1, "part": "skin", "vertices": [0], "how": "sideways"}, 422),
        ("select", {"revision": 1, "part": "skin", "how": "weight"}, 400),
        ("select", {"revision": 1, "part": "hat", "vertices": [0], "how": "grow"}, 400),
        ("selection", {"revision": 1, "part": "skin", "vertices": [99999]}, 400),
        ("selection", {"revision": 7, "part": "skin", "vertices": [0]}, 404),
    ],
)
def test_what_cannot_be_selected_is_refused_in_words(client, maren, path, body, status):
    answered, refusal = post(client, f"/api/characters/{maren}/{path}", body)
    assert (answered, bool(refusal["message"])) == (status, True)


def test_weights_go_out_as_csv_and_come_back_by_position(client, maren):
    from django.core.files.uploadedfile import SimpleUploadedFile

    table = client.get(f"/api/characters/{maren}/weights.csv?part=skin")
    assert table["Content-Disposition"].endswith('"Maren skin weights.csv"')
    head, *lines = table.content.decode().splitlines()
    only_head = "\n".join([head, *[line for line in reversed(lines) if ",head," in line]])
    query = f"/api/characters/{maren}/weights.csv?base=1&part=skin&match=position"
    answer = client.post(query, {"file": SimpleUploadedFile("w.csv", only_head.encode())})
    assert answer.status_code == 200, answer.content
    assert answer.json()["revision"]["text"].startswith("Set Head by table on ")
    bad = client.post(query.replace("base=1", "base=2"), {"file": SimpleUploadedFile("w.csv", b"vertex,bone\n1,jaw\n")})
    assert (bad.status_code, bad.json()["message"][:28]) == (400, "The table needs the columns ")


def test_a_table_of_weights_lists_bones_with_most_first(client, maren):
    status, found = post(client, f"/api/characters/{maren}/weights/table", {"revision": 1, "part": "skin", "vertices": [5, 9]})
    assert status == 200
    assert found["vertices"] == [5, 9]
    assert [sum(row) for row in found["weights"]] == pytest.approx(found["totals"])
    assert post(client, f"/api/characters/{maren}/weights/table", {"revision": 1, "part": "skin", "vertices": list(range(3000))})[0] == 422


def test_selections_are_kept_found_again_and_removed(client, maren):
    step = {"edit": "selection.keep", "params": {"name": "chin", "part": "skin", "vertices": [7, 3, 3]}}
    status, kept = post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})
    assert (status, kept["selections"]) == (200, [{"name": "chin", "part": "skin", "vertices": 2}])
    assert "meshes" not in kept
    body = {"revision": 2, "part": "skin", "how": "saved", "saved": "chin"}
    assert post(client, f"/api/characters/{maren}/select", body) == (200, {"vertices": [3, 7]})
    step = {"edit": "selection.remove", "params": {"name": "chim"}}
    status, refused = post(client, f"/api/characters/{maren}/edits", {"base": 2, "step": step})
    assert status == 400
    assert "Did you mean “chin”?" in refused["message"]


def test_trying_an_edit_out_says_what_doing_it_does_and_stores_nothing(client, maren):
    """Giving the teeth to the jaw, tried out, against doing it and measuring both revisions anew."""
    from characters.models import Revision

    step = {"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}}
    status, answer = post(client, f"/api/characters/{maren}/try", {"base": 1, "step": step})
    assert status == 200
    tried = answer["tried"]
    assert Revision.objects.filter(character_id=maren).count() == 1
    assert tried["before"] - tried["after"] == 1
    assert tried["shows"]["pose"] in ("jaw_open", "jaw_pucker")
    assert 10 < tried["shows"]["millimetres"] < 30
    assert 0 < len(tried["shows"]["arrows"]) <= 20 * 6
    assert [m["part"] for m in tried["shows"]["moved"]] == ["teeth_lower"]
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})[0] == 200
    assert client.get(f"/api/characters/{maren}/effects?before=1&after=2").json() == tried["effects"]


def test_differences_as_colours(client, maren):
    import msgpack
    import numpy as np

    def tint(revision: int, kind: str, **more) -> np.ndarray:
        body = {"revision": revision, "tint": kind, **more}
        answer = client.post(f"/api/characters/{maren}/frame", body, content_type="application/json")
        assert answer.status_code == 200, answer.content
        return np.frombuffer(msgpack.unpackb(answer.content)["tint"]["skin"], np.float32)

    assert tint(1, "mirror", values={"jaw_open": 1}).max() < 0.01
    assert tint(1, "mirror", values={"blink_L": 1, "head_turn": 30}).max() > 3
    assert tint(1, "weights").max() < 0.01
    step = {"edit": "weights.add", "params": {"part": "skin", "vertices": [100], "bone": "jaw", "amount": 0.5}}
    assert post(client, f"/api/characters/{maren}/edits", {"base": 1, "step": step})[0] == 200
    weights = tint(2, "weights")
    assert weights[100] == pytest.approx(50, abs=1)
    moved = tint(2, "pin", pinned=1, values={"jaw_open": 1})
    assert np.flatnonzero(moved > 1e-3).tolist() == [100]
    refused = client.post(f"/api/characters/{maren}/frame", {"revision": 2, "tint": "pin"}, content_type="application/json")
    assert (refused.status_code, refused.json()["message"]) == (400, "Pin a revision first, then compare.")


def test_islands_of_a_part_say_what_carries_each(client, maren):
    found = client.get(f"/api/characters/{maren}/islands?revision=1&part=hair").json()
    assert len(found) > 3
    carried = [{b["bone"] for b in island["bones"]} for island in found]
    assert {"head"} in carried  # tufts of the crown,
    assert {"head", "neck_1", "neck_2"} in carried  # and of the nape
    assert all(bones <= {"head", "neck_1", "neck_2"} for bones in carried)
    assert client.get(f"/api/characters/{maren}/islands?revision=1&part=hat").status_code == 400
