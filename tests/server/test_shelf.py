"""Characters off the shelf and back on it, and gone for good only when they are tidied away."""

from __future__ import annotations

from datetime import timedelta

from characters.models import Blob, Character, Revision
from django.core.management import call_command
from django.utils import timezone

from tests.server.conftest import seat
from tests.server.http import edit, post


def names(client, path: str = "characters") -> list[str]:
    return [entry["name"] for entry in client.get(f"/api/{path}").json()]


def test_what_is_taken_off_is_put_back_as_it_was(client, shelf, faulty, fresh, monkeypatch):
    monkeypatch.setattr("bench.management.commands.tidy.compact", lambda: None)  # not within the test's transaction
    maren, pim = seat(faulty.character, faulty.store), seat(fresh.character, fresh.store)
    assert edit(client, maren, 1, "pose.rename", pose="smile", label="Grin")[0] == 200
    before = client.get("/api/characters").json()
    assert client.post(f"/api/characters/{maren}/take-off").status_code == 204
    assert names(client) == ["Pim"]
    assert {entry["character"] for entry in client.get("/api/lately").json()} == {pim}
    assert names(client, "characters/taken-off") == ["Maren"]
    # whoever works on it in another window loses nothing
    assert edit(client, maren, 2, "pose.rename", pose="smile", label="Smile")[0] == 200
    assert post(client, f"/api/characters/{maren}/undo", {"base": 3})[0] == 200
    call_command("tidy")
    assert client.post(f"/api/characters/{maren}/put-back").status_code == 204
    assert names(client, "characters/taken-off") == []
    assert [e["name"] for e in client.get("/api/characters").json()] == ["Maren", "Pim"]
    assert client.get("/api/characters").json()[0]["revision"] == before[0]["revision"]
    assert client.post("/api/characters/99/take-off").status_code == 404


def test_a_month_later_it_is_tidied_away_and_nothing_else(client, shelf, faulty, fresh, capsys, monkeypatch):
    monkeypatch.setattr("bench.management.commands.tidy.compact", lambda: None)
    maren, pim = seat(faulty.character, faulty.store), seat(fresh.character, fresh.store)
    assert edit(client, maren, 1, "pose.rename", pose="smile", label="Grin")[0] == 200
    Character.objects.filter(pk=maren).update(taken_off=timezone.now() - timedelta(days=31))
    call_command("tidy", "--dry-run")
    assert "Would drop what was taken off the shelf over 30 days ago: Maren." in capsys.readouterr().out
    assert Revision.objects.filter(character_id=maren).count() == 2
    call_command("tidy")
    assert not Character.objects.filter(pk=maren).exists()
    assert set(Blob.objects.filter(kind="section").values_list("hash", flat=True)) == set(
        Character.objects.get(pk=pim).head.sections.values()
    )
    assert client.get(f"/api/characters/{pim}").status_code == 200
