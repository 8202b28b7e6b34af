"""What goes wrong without anybody having foreseen it: said in words, written to the log, and kept to where it belongs."""

from __future__ import annotations

import logging
import re

import numpy as np
import pytest
from characters.models import Blob, Character, Report
from django.core.management import call_command
from django.db import DatabaseError, OperationalError
from tightseam.document.derived import DERIVED

from tests.server.conftest import seat
from tests.server.http import edit, post

NUMBER = re.compile(r"error ([0-9A-F]{8})")


@pytest.fixture
def log(caplog, monkeypatch):
    """Lines of our own log, which keeps itself apart from the root's."""
    monkeypatch.setattr(logging.getLogger("tightseam"), "propagate", True)
    return caplog


def test_an_unforeseen_error_has_a_number_under_which_the_log_has_it(client, maren, monkeypatch, log):
    def fails(*_):
        raise ZeroDivisionError("somewhere deep down")

    monkeypatch.setattr("bench.measuring.pulls", fails)
    status, answer = post(client, f"/api/characters/{maren}/pull", {"revision": 1, "part": "skin", "vertices": [0]})
    assert status == 500
    number = NUMBER.search(answer["message"])[1]
    assert "somewhere deep down" not in answer["message"]
    record = next(r for r in log.records if r.name == "tightseam")
    assert number in record.getMessage()
    assert f"POST /api/characters/{maren}/pull" in record.getMessage()
    assert record.exc_info[0] is ZeroDivisionError


def test_an_error_outside_the_api_is_told_the_same_way(client, db, monkeypatch, log):
    client.raise_request_exception = False
    monkeypatch.setattr("pathlib.Path.is_file", lambda _: 1 / 0)
    answer = client.get("/characters/1/binding")
    assert answer.status_code == 500
    assert NUMBER.search(answer.json()["message"])[1] in next(r for r in log.records if r.name == "tightseam").getMessage()


def test_a_damaged_character_keeps_its_place_and_says_why_and_nobody_else_goes(client, shelf, faulty, fresh):
    seat(faulty.character, faulty.store)
    damaged = seat(fresh.character, fresh.store)
    Blob.objects.filter(hash=Character.objects.get(pk=damaged).head.sections["parts"]).delete()
    DERIVED.clear()
    maren, pim = client.get("/api/characters").json()
    assert (maren["name"], "damage" in maren) == ("Maren", False)
    assert (pim["id"], pim["name"]) == (damaged, "Pim")
    assert "parts" in pim["damage"]
    assert client.get(f"/api/characters/{damaged}").status_code == 400


def test_a_character_whose_check_fails_unforeseen_keeps_its_place_too(client, maren, monkeypatch, log):
    def fails(*_):
        raise MemoryError

    monkeypatch.setattr("bench.checkin.check_in", fails)
    entry = client.get("/api/characters").json()[0]
    assert NUMBER.search(entry["damage"])[1] in next(r for r in log.records if r.name == "tightseam").getMessage()


def test_what_was_measured_serves_every_revision_that_is_alike(client, maren):
    def measured(revision: int) -> dict:
        return post(client, f"/api/characters/{maren}/measure", {"revision": revision, "pose": "jaw_open"})[1]

    first = measured(1)
    kept = Report.objects.count()
    assert edit(client, maren, 1, "pose.rename", pose="smile", label="Grin")[0] == 200
    assert measured(2) == first
    assert Report.objects.count() == kept
    assert edit(client, maren, 2, "binding.set_carrier", part="teeth_lower", carrier="rigid", bones=["teeth_lower"])[0] == 200
    assert measured(3) != first
    assert Report.objects.count() == kept + 1
    assert edit(client, maren, 3, "pose.rename", pose="jaw_open", label="Wide open")[0] == 200
    assert measured(4)["readings"] == measured(3)["readings"]
    assert Report.objects.count() == kept + 2  # what is found names the pose


def test_housekeeping_drops_what_nothing_names_and_nothing_else(client, maren, capsys, monkeypatch):
    monkeypatch.setattr("bench.management.commands.tidy.compact", lambda: None)  # not within the test's transaction
    for pose in ("neutral", "jaw_open"):
        post(client, f"/api/characters/{maren}/measure", {"revision": 1, "pose": pose})
    client.get("/api/characters")
    before = set(Blob.objects.values_list("hash", flat=True)), set(Report.objects.values_list("key", flat=True))
    Blob.objects.create(hash="0" * 64, kind="array", data=b"x" * 2_000_000)
    Report.objects.create(key="1" * 64, data=b"{}")
    call_command("tidy", "--dry-run")
    assert "Would drop 1 data blocks (2.0 MB) and 1 reports." in capsys.readouterr().out
    assert Blob.objects.filter(hash="0" * 64).exists()
    call_command("tidy")
    assert "Dropped 1 data blocks (2.0 MB) and 1 reports." in capsys.readouterr().out
    assert (set(Blob.objects.values_list("hash", flat=True)), set(Report.objects.values_list("key", flat=True))) == before
    assert client.get(f"/api/characters/{maren}").status_code == 200


@pytest.mark.parametrize("size", [8 * 1024 * 1024 + 1, 10**18])
def test_a_request_that_is_too_large_is_refused_before_it_is_read(client, maren, size):
    answer = client.post(
        f"/api/characters/{maren}/frame", "{}", content_type="application/json", headers={"Content-Length": str(size)}, CONTENT_LENGTH=size
    )
    assert answer.status_code == 413
    assert "8 MB are the most" in answer.json()["message"]


def test_a_busy_database_is_said_and_taken_for_nobodys_damage(client, maren, monkeypatch):
    def fails(*_):
        raise OperationalError("database is locked")

    monkeypatch.setattr("bench.summary.shelf_entry", fails)
    answer = client.get("/api/characters")
    assert answer.status_code == 503
    assert "busy" in answer.json()["message"]


@pytest.mark.parametrize(
    "path", ["characters/{}", "characters/{}/head", "characters/1/meshes?revision={}", "characters/1/findings/lids?revision={}"]
)
def test_numbers_beyond_any_that_are_stored_are_not_found(client, maren, path):
    answer = client.get(f"/api/{path.format(2**63)}")
    assert answer.status_code == 404
    assert answer.json()["message"]


@pytest.mark.parametrize(
    ("error", "status", "said"),
    [
        (np.linalg.LinAlgError("Singular matrix"), 400, "collapsed"),
        (MemoryError(), 400, "more memory"),
        (DatabaseError("database disk image is malformed"), 503, "restore the last backup"),
    ],
)
def test_what_is_known_to_go_wrong_is_told_in_words(client, maren, monkeypatch, error, status, said):
    def fails(*_):
        raise error

    monkeypatch.setattr("bench.measuring.pulls", fails)
    told, answer = post(client, f"/api/characters/{maren}/pull", {"revision": 1, "part": "skin", "vertices": [0]})
    assert told == status
    assert said in answer["message"]


def test_a_section_that_is_not_what_its_hash_says_is_not_believed(client, shelf, fresh):
    id = seat(fresh.character, fresh.store)
    key = Character.objects.get(pk=id).head.sections["parts"]
    spoilt = bytes(Blob.objects.get(hash=key).data).replace(b"skin", b"skon")
    Blob.objects.filter(hash=key).update(data=spoilt)
    DERIVED.clear()
    answer = client.get(f"/api/characters/{id}")
    assert answer.status_code == 400
    assert "“parts” of this character is damaged" in answer.json()["message"]


def test_a_page_stands_in_no_other_and_is_taken_for_what_it_says(client, db):
    for address in ("/", "/api/characters", "/api/nothing"):
        headers = client.get(address).headers
        assert headers["X-Frame-Options"] == "DENY"
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["Referrer-Policy"] == "no-referrer"


def test_the_settings_pass_the_framework_s_own_check(capsys):
    call_command("check", "--deploy", "--fail-level", "WARNING")
