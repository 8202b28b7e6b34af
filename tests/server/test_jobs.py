"""Jobs in the processes beside a real server: told of by steps, shared, stopped, and done even where a process or the server dies."""

from __future__ import annotations

import os
import shutil
import signal
from pathlib import Path

import psutil
import pytest

from tests.serving import Server

JAW = "characters/1/findings/jaw?revision=1"
TURN = {"base": 1, "step": {"edit": "control.set_range", "params": {"control": "head_turn", "low": -30, "high": 30, "rest": 0}}}
GIVE = {"base": 1, "step": {"edit": "binding.set_carrier", "params": {"part": "teeth_lower", "carrier": "rigid", "bones": ["teeth_lower"]}}}


@pytest.fixture(scope="module")
def shelf_of_one(tmp_path_factory, maren_file) -> Path:
    """A data folder with Maren on the shelf, nothing measured."""
    found = Server(tmp_path_factory.mktemp("jobs"))
    found.start()
    found.take_in("m.seam", maren_file)
    found.kill()
    return found.data


@pytest.fixture
def server(tmp_path, shelf_of_one):
    found = Server(tmp_path / "data")
    shutil.copytree(shelf_of_one, found.data)
    found.start()
    yield found
    for pid in processes(found):
        os.kill(pid, signal.SIGCONT)  # what stands still does not see that its server is gone
    found.kill()


def processes(server: Server) -> list[int]:
    """The processes beside the server that do jobs: children of the one that they are forked from."""
    assert server.process is not None
    return [p.pid for child in psutil.Process(server.process.pid).children() for p in child.children()]


def test_what_takes_long_is_told_of_and_then_there_for_everybody(server):
    status, job = server.ask(JAW, window="one")
    assert (status, job["title"], job["character"], job["base"]) == (202, "Looking for what is wrong with jaw", 1, 1)
    assert server.ask(f"jobs/{job['id']}")[1]["character"] == 1
    same = server.ask(JAW, window="two")[1]
    assert same["id"] == job["id"]
    assert same["askers"] == ["one", "two"]
    told = [job]
    while told[-1]["state"] in ("waiting", "running"):
        told.append(server.ask(f"jobs/{job['id']}")[1])
    assert told[-1]["state"] == "done"
    shares = [t["share"] for t in told]
    assert shares == sorted(shares)
    status, found = server.ask(JAW)
    assert status == 200
    assert {f["kind"] for f in found} >= {"clash"}


def test_a_repair_after_its_try_takes_what_was_made_and_measured(server):
    assert server.settled(server.ask("characters/1/try", GIVE)[1])["state"] == "done"
    tried = server.ask("characters/1/try", GIVE)[1]["tried"]
    assert tried["station"] == "weights"
    assert server.ask("characters/1/edits", GIVE)[1]["revision"]["number"] == 2
    status, after = server.ask("characters/1/findings/weights?revision=2")
    assert (status, len(after)) == (200, tried["after"])
    effects = "characters/1/effects?before=1&after=2"
    status, found = server.ask(effects)
    if status == 202:  # on a busy machine
        server.settled(found)
        status, found = server.ask(effects)
    assert (status, found["over_after"]) == (200, tried["effects"]["over_after"])


def test_it_is_stopped_when_nobody_wants_it_any_more(server):
    job = server.ask("characters/1/try", TURN, window="one")[1]
    server.ask("characters/1/try", TURN, window="two")
    assert server.ask(f"jobs/{job['id']}", method="DELETE", window="one")[0] == 204
    assert server.ask(f"jobs/{job['id']}")[1]["state"] in ("waiting", "running")
    assert server.ask(f"jobs/{job['id']}", method="DELETE", window="two")[0] == 204
    ended = server.settled(job)
    assert ended["state"] == "stopped"
    assert ended["problem"]["message"] == "Stopped. Nothing was stored."
    assert server.settled(server.ask("characters/1/try", TURN)[1])["state"] == "done"


def test_one_that_does_not_listen_is_made_to_stop(server):
    job = server.ask("characters/1/try", TURN)[1]
    while job["state"] == "waiting":
        job = server.ask(f"jobs/{job['id']}")[1]
    assert job["state"] == "running"
    for pid in processes(server):
        os.kill(pid, signal.SIGSTOP)
    server.ask(f"jobs/{job['id']}", method="DELETE")
    assert server.settled(job)["state"] == "stopped"
    assert server.settled(server.ask("characters/1/try", TURN)[1])["state"] == "done"


@pytest.mark.parametrize("all_of_them", [False, True])
def test_a_process_that_dies_is_said_and_the_next_takes_its_place(server, all_of_them):
    """With it the one that they are forked from, or not."""
    job = server.ask("characters/1/try", TURN)[1]
    while job["state"] == "waiting":
        job = server.ask(f"jobs/{job['id']}")[1]
    first = [p.pid for p in psutil.Process(server.process.pid).children()] if all_of_them else []
    for pid in (*first, *processes(server)):
        os.kill(pid, signal.SIGKILL)
    ended = server.settled(job)
    assert ended["state"] == "failed"
    assert "broke off" in ended["problem"]["message"]
    assert server.settled(server.ask("characters/1/try", TURN)[1])["state"] == "done"
    assert server.ask("characters/1/edits", TURN)[1]["revision"]["number"] == 2


def test_files_that_were_sent_are_taken_in_once_even_if_the_server_goes_down(server, maren_file):
    job = server.send("again.seam", maren_file)
    server.kill()
    server.start()
    ended = server.settled(server.ask(f"jobs/{job['id']}")[1])
    assert ended["state"] == "done"
    names = [c["name"] for c in server.ask("characters")[1]]
    assert names == ["Maren", "Maren"]
    assert not any((server.data / "inbox").iterdir())


def test_an_import_that_is_stopped_leaves_nothing_behind(server, maren_file):
    server.take_in("first.seam", maren_file)  # what takes files in is ready
    for pid in processes(server):
        os.kill(pid, signal.SIGSTOP)
    job = server.send("again.seam", maren_file)
    assert server.ask(f"jobs/{job['id']}", method="DELETE")[0] == 204
    for pid in processes(server):
        os.kill(pid, signal.SIGCONT)
    assert server.settled(job)["state"] == "stopped"
    assert len(server.ask("characters")[1]) == 2
