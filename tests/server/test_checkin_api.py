"""Check-in through HTTP: the report, previews, repairs, the twin, the note, the corrected mesh."""

from __future__ import annotations

import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from tightseam.checkin.report import check_in
from tightseam.exchange.obj_write import write_obj

from tests.core.heads import character_of, scrambled
from tests.server.http import post


def report(client, pim, revision: int = 1) -> dict:
    answer = client.get(f"/api/characters/{pim}/checkin?revision={revision}")
    assert answer.status_code == 200, answer.content
    return answer.json()


def check(found: dict, key: str) -> dict:
    return next(c for c in found["checks"] if c["key"] == key)


def do(client, pim, edit: str, base: int = 1, **params) -> dict:
    status, changed = post(client, f"/api/characters/{pim}/edits", {"base": base, "step": {"edit": edit, "params": params}})
    assert status == 200, changed
    return changed


def test_the_report_is_the_cores_and_is_kept(client, pim, fresh, django_assert_max_num_queries):
    found = report(client, pim)
    core = check_in(fresh.character, fresh.store)
    assert [(c["key"], c["verdict"], c["said"]) for c in found["checks"]] == [(c.key, c.verdict, c.said) for c in core.checks]
    assert (found["faults"], found["looks"]) == (12, 3)
    with django_assert_max_num_queries(4):
        assert report(client, pim) == found
    assert client.get("/api/characters").json()[0]["checkin"]["faults"] == 12


def test_a_head_is_checked_again_only_when_what_is_checked_changed(client, maren, monkeypatch):
    first = report(client, maren)
    monkeypatch.setattr("tightseam.checkin.report._checks", lambda *_: pytest.fail("checked again"))
    do(client, maren, "control.set_range", control="head_turn", low=-30, high=30, rest=0)
    assert report(client, maren, 2) == first | {"revision": 2}


def test_limits_come_with_their_range_and_are_changed_for_one_character(client, pim):
    limit = next(x for x in report(client, pim)["limits"] if x["key"] == "lip_gap")
    assert (limit["value"], limit["ours"], limit["unit"], limit["own"]) == (0.15, 0.15, "mm", False)
    changed = do(client, pim, "checkin.set_limit", limit="lip_gap", value=1.0)
    assert changed["revision"]["text"] == "Set limit: Gap between the lips at rest 1 mm"
    after = report(client, pim, 2)
    assert check(after, "mouth_closed")["verdict"] == "fine"
    assert next(x for x in after["limits"] if x["key"] == "lip_gap")["own"]
    status, refusal = post(
        client,
        f"/api/characters/{pim}/edits",
        {"base": 2, "step": {"edit": "checkin.set_limit", "params": {"limit": "lip_gap", "value": 99}}},
    )
    assert status == 400
    assert "from 0 to 5 mm" in refusal["message"]


def test_a_preview_says_what_moves_and_what_changes_and_stores_nothing(client, pim):
    from characters.models import Blob, Revision

    before = Blob.objects.count(), Revision.objects.count()
    repair = check(report(client, pim), "jumbled")["repairs"][0]
    status, found = post(
        client, f"/api/characters/{pim}/preview", {"base": 1, "step": {"edit": repair["edit"], "params": repair["params"]}}
    )
    assert status == 200, found
    assert found["order_kept"]
    moved = found["parts"][0]
    assert (moved["part"], moved["moved"], moved["gone"]) == ("skin", 22, 0)
    assert len(moved["lines"]) == 22 * 6
    assert {(c["label"], c["before"], c["after"]) for c in found["changes"]} == {("Jumbled patches", "fault", "fine")}
    assert (Blob.objects.count(), Revision.objects.count()) == before


def test_a_preview_of_a_weld_says_that_the_order_changes(client, pim):
    step = {"edit": "mesh.weld", "params": {"part": "skin", "tolerance_mm": 0.001}}
    found = post(client, f"/api/characters/{pim}/preview", {"base": 1, "step": step})[1]
    assert not found["order_kept"]
    assert found["parts"][0]["gone"] == 3


def test_repairs_one_after_another_make_most_of_him_fit_and_undo_brings_it_all_back(client, pim):
    first = report(client, pim)
    base = 1
    for key in ("duplicates", "jumbled", "transforms", "eye_pivot_L", "eye_pivot_R"):
        repair = check(report(client, pim, base), key)["repairs"][0]
        base = do(client, pim, repair["edit"], base, **repair["params"])["revision"]["number"]
    assert report(client, pim, base)["faults"] == first["faults"] - 5
    meshes = client.get(f"/api/characters/{pim}").json()["meshes"]
    for _ in range(5):
        base = post(client, f"/api/characters/{pim}/undo", {"base": base})[1]["revision"]["number"]
    back = client.get(f"/api/characters/{pim}").json()
    assert back["meshes"] != meshes
    assert report(client, pim, base)["checks"] == first["checks"]


def test_a_waived_check_counts_no_more(client, pim):
    do(client, pim, "checkin.waive", check="poles", reason="They sit where the lashes hide them")
    after = report(client, pim, 2)
    assert after["faults"] == 11
    assert check(after, "poles")["waived"] == "They sit where the lashes hide them"
    status, refusal = post(
        client, f"/api/characters/{pim}/edits", {"base": 2, "step": {"edit": "checkin.waive", "params": {"check": "quads", "reason": " "}}}
    )
    assert status == 422
    assert "reason" in refusal["message"]


def test_a_second_file_is_compared_and_forgotten(client, pim, fresh, raw_heads):
    from characters.models import Blob

    before = Blob.objects.count()
    same = write_obj(fresh.character, fresh.store)
    found = client.post(f"/api/characters/{pim}/twin?revision=1", {"files": SimpleUploadedFile("again.obj", same)})
    assert (found.status_code, found.json()["verdict"]) == (200, "fine")
    other = write_obj(*character_of(scrambled(raw_heads["pim"], 8)))
    found = client.post(f"/api/characters/{pim}/twin?revision=1", {"files": SimpleUploadedFile("other.obj", other)}).json()
    assert found["verdict"] == "fault"
    assert "Skin: " in found["said"]
    assert client.post(f"/api/characters/{pim}/twin?revision=1", {"files": SimpleUploadedFile("no.obj", b"")}).status_code == 400
    assert Blob.objects.count() == before


def test_the_note_comes_as_a_page_and_as_an_archive(client, pim):
    page = client.get(f"/api/characters/{pim}/note.html")
    assert page["Content-Type"].startswith("text/html")
    assert "12 to mend, 3 worth a look" in page.content.decode()
    archive = client.get(f"/api/characters/{pim}/note.zip")
    assert 'filename="Pim note.zip"' in archive["Content-Disposition"]
    with zipfile.ZipFile(io.BytesIO(archive.content)) as z:
        pictures = [n for n in z.namelist() if n.startswith("pictures/")]
        text = z.read("note.md").decode()
    assert len(pictures) == 15
    assert all(n in text for n in pictures)


def test_the_corrected_mesh_goes_out_whole_or_by_part(client, pim):
    do(client, pim, "mesh.weld", part="skin", tolerance_mm=0.001)
    whole = client.get(f"/api/characters/{pim}/export.obj").content
    skin = client.get(f"/api/characters/{pim}/parts/skin.obj")
    assert 'filename="Pim skin.obj"' in skin["Content-Disposition"]
    assert whole.count(b"\nv ") > skin.content.count(b"\nv ") == 3563
    assert client.get(f"/api/characters/{pim}/parts/hat.obj").status_code == 400
    assert client.get(f"/api/characters/{pim}/export.usd").content[:8] == b"PXR-USDC"


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("preview", {"base": 9, "step": {"edit": "mesh.weld", "params": {"part": "skin"}}}, 404),
        ("preview", {"base": 1, "step": {"edit": "mesh.weld", "params": {"part": "hat"}}}, 400),
        ("preview", {"base": 1, "step": {"edit": "mesh.smooth_patch", "params": {"part": "skin", "vertices": [10**9]}}}, 400),
        ("preview", {"base": 1, "step": {"edit": "mesh.smooth_patch", "params": {"part": "skin", "vertices": []}}}, 422),
        ("preview", {"base": 1, "step": {"edit": "mesh.weld", "params": {"part": "skin", "tolerance_mm": -1}}}, 422),
        ("edits", {"base": 1, "step": {"edit": "part.set_kind", "params": {"part": "skin", "kind": "wheel"}}}, 422),
        ("edits", {"base": 1, "step": {"edit": "part.rename", "params": {"part": "skin", "name": " "}}}, 422),
        ("edits", {"base": 1, "step": {"edit": "character.set_units", "params": {"unit": "parsec"}}}, 422),
    ],
)
def test_requests_that_are_wrong_are_refused_in_words(client, pim, path, body, status):
    answer = client.post(f"/api/characters/{pim}/{path}", json.dumps(body), content_type="application/json")
    assert answer.status_code == status
    assert answer.json()["message"]
    assert client.get(f"/api/characters/{pim}").json()["revision"]["number"] == 1


def test_kinds_and_names_are_set_and_what_follows_changes_with_them(client, pim):
    changed = do(client, pim, "part.set_kind", part="tongue", kind="other")
    assert next(p for p in changed["parts"] if p["name"] == "tongue")["kind"] == "other"
    assert check(report(client, pim, 2), "parts_missing")["verdict"] == "look"
    changed = do(client, pim, "part.rename", 2, part="tongue", name="Tongue, old")
    assert "Tongue, old" in [p["name"] for p in changed["parts"]]
    changed = do(client, pim, "character.set_units", 3, unit="mm")
    assert changed["unit"] == "mm"
    assert check(report(client, pim, 4), "size")["verdict"] == "fault"
