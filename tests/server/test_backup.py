"""Backups: whole while others store, refused where damaged, and what was there before is kept."""

from __future__ import annotations

import io
import re
import shutil
import sqlite3
from contextlib import closing

import pytest
from characters.at_rest import move_over
from characters.sound import damage_of, faults_of
from django.conf import settings
from django.core.management import CommandError, call_command

from tests.serving import Server


@pytest.fixture(scope="module")
def kept(tmp_path_factory, maren_file):
    """The folder of a server with Maren, killed after an edit; its copy made while it ran; and the database's file alone."""
    folder = tmp_path_factory.mktemp("kept")
    server = Server(folder)
    server.start()
    try:
        server.take_in("m.seam", maren_file)
        step = {"edit": "pose.rename", "params": {"pose": "smile", "label": "Grin"}}
        assert server.ask("characters/1/edits", {"base": 1, "step": step})[0] == 200
        manage("backup", folder, folder / "backup.sqlite3")
    finally:
        server.kill()
    return folder


def manage(command: str, folder, *arguments) -> str:
    out, live = io.StringIO(), settings.DATABASES["default"]
    with pytest.MonkeyPatch.context() as patch:
        patch.setitem(live, "NAME", folder / "tight-seam.sqlite3")
        call_command(command, *arguments, stdout=out)
    return out.getvalue()


def done(file) -> list[str]:
    with closing(sqlite3.connect(file)) as database:
        return [name for (name,) in database.execute("SELECT text FROM characters_revision ORDER BY number")]


def test_a_backup_of_a_running_server_holds_what_was_done_last(kept):
    assert "Grin" in done(kept / "backup.sqlite3")[-1]
    assert not (kept / "backup.sqlite3-wal").exists()
    assert "is sound" in manage("verify", kept, kept / "backup.sqlite3")
    with pytest.raises(CommandError, match="there already"):
        manage("backup", kept, kept / "backup.sqlite3")


def test_what_is_restored_is_the_backup_and_what_was_there_is_kept(kept, tmp_path):
    for file in kept.iterdir():
        if file.is_file():
            shutil.copy(file, tmp_path)
    with closing(sqlite3.connect(tmp_path / "tight-seam.sqlite3")) as database:
        database.execute("UPDATE characters_character SET name = 'Spoilt'")
        database.commit()
    manage("restore", tmp_path, tmp_path / "backup.sqlite3")
    server = Server(tmp_path)
    server.start()
    try:
        assert server.ask("characters/1")[1]["name"] == "Maren"
        with pytest.raises(CommandError, match="running"):
            manage("restore", tmp_path, tmp_path / "backup.sqlite3")
    finally:
        server.kill()
    assert len(list(tmp_path.glob("tight-seam.before-*.sqlite3"))) == 1


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        ("UPDATE characters_blob SET data = x'00' WHERE kind = 'array'", r"array\) is damaged"),
        ("UPDATE characters_blob SET data = x'00' WHERE kind = 'section'", r"section\) is damaged"),
        ("DELETE FROM characters_blob WHERE kind = 'section'", "Of Maren, revision 2, these are missing: .*parts"),
    ],
)
def test_damaged_blocks_are_named(kept, tmp_path, spoil, said):
    file = tmp_path / "spoilt.sqlite3"
    shutil.copy(kept / "backup.sqlite3", file)
    assert faults_of(file) == []
    with closing(sqlite3.connect(file)) as database:
        database.execute(spoil)
        database.commit()
    assert damage_of(file) is None
    assert re.search(said, faults_of(file)[0])
    with pytest.raises(CommandError, match="not sound"):
        manage("verify", tmp_path, file)


@pytest.mark.parametrize("content", [b"", b"not a database" * 100, None])
def test_what_is_no_database_is_not_restored(kept, tmp_path, content):
    file = tmp_path / "other"
    whole = bytearray((kept / "backup.sqlite3").read_bytes())
    whole[100 : len(whole) // 2] = bytes(len(whole) // 2 - 100)
    file.write_bytes(bytes(whole) if content is None else content)
    with pytest.raises(CommandError, match="cannot be restored"):
        manage("restore", tmp_path, file)
    assert not (tmp_path / "tight-seam.sqlite3").exists()


def test_at_rest_the_file_alone_is_whole(tmp_path):
    file = tmp_path / "live.sqlite3"
    with closing(sqlite3.connect(file)) as database:  # stays open, as a server's does
        database.executescript("PRAGMA journal_mode=WAL; CREATE TABLE work (done TEXT); INSERT INTO work VALUES ('much');")
        alone = shutil.copy(file, tmp_path / "before.sqlite3")
        with closing(sqlite3.connect(alone)) as copy, pytest.raises(sqlite3.OperationalError, match="no such table"):
            copy.execute("SELECT * FROM work")
        move_over(file)
        alone = shutil.copy(file, tmp_path / "after.sqlite3")
        with closing(sqlite3.connect(alone)) as copy:
            assert copy.execute("SELECT done FROM work").fetchall() == [("much",)]
