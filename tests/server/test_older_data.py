"""A data folder of an earlier version: opened as it is, worked on, and nothing that was stored is rewritten."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from tests.server.http import edit, get, post

SQL = Path(__file__).resolve().parents[1] / "older" / "data.sql"
TABLES = ("characters_blob", "characters_character", "characters_revision")


@pytest.fixture
def old_post(shelf) -> int:
    """The rows of the folder, in the tables of today."""
    from django.db import connection

    old = sqlite3.connect(":memory:")
    old.executescript(SQL.read_text())
    with connection.constraint_checks_disabled(), connection.cursor() as cursor:
        for table in TABLES:
            rows = old.execute(f"SELECT * FROM {table}").fetchall()
            names = [c[1] for c in old.execute(f"PRAGMA table_info({table})")]
            places = ", ".join(["%s"] * len(names))
            cursor.executemany(f"INSERT INTO {table} ({', '.join(names)}) VALUES ({places})", rows)
    return 1


def test_its_head_is_on_the_shelf_and_its_history_can_be_walked(client, old_post):
    status, found = get(client, f"/api/characters/{old_post}")
    assert (status, found["name"]) == (200, "Old Post")
    assert {b["name"]: b["base"] for b in found["bones"]}["ear_L"] == [2.0, 0.5, 0.0]
    for base in range(9, 1, -1):
        assert post(client, f"/api/characters/{old_post}/undo", {"base": base})[0] == 200
    assert {b["name"] for b in get(client, f"/api/characters/{old_post}")[1]["bones"]} == {"skull", "jaw"}
    for base in range(1, 9):
        assert post(client, f"/api/characters/{old_post}/redo", {"base": base})[0] == 200
    assert get(client, f"/api/characters/{old_post}")[1]["bones"] == found["bones"]


def test_an_edit_goes_on_from_it_and_leaves_what_was_stored(client, old_post):
    from characters.models import Blob, Revision

    before = {b.hash: bytes(b.data) for b in Blob.objects.all()}
    told = list(Revision.objects.order_by("number").values_list("edit", "params"))
    status, _ = edit(client, old_post, 9, "bone.place", bone="jaw", twist=10, mirror=False)
    assert status == 200
    assert {h: bytes(b) for h, b in Blob.objects.filter(hash__in=before).values_list("hash", "data")} == before
    assert list(Revision.objects.filter(number__lte=9).order_by("number").values_list("edit", "params")) == told
    assert b'"base"' in bytes(Blob.objects.get(hash=Revision.objects.get(number=10).sections["bones"]).data)
