"""Jobs over files have a process of their own, with limits: what it dies of stays with it, and is told."""

from __future__ import annotations

import faulthandler
import os
import signal

import pytest
from jobs import apart
from jobs.apart import Apart, Limits, perform_apart
from jobs.models import Job

from tests.core.hostile_files import deep_usda
from tests.serving import Server

TRIANGLE = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"


def spin(_: str) -> None:
    while True:
        pass


def hog(_: str) -> None:
    bytearray(4_000_000_000)


def crash(_: str) -> None:
    faulthandler.disable()  # or it writes a page about this
    os.kill(os.getpid(), signal.SIGSEGV)


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(
    ("does", "said"), [(spin, "in the time that sound ones"), (hog, "more memory"), (crash, "damaged"), (lambda _: None, None)]
)
def test_a_process_that_dies_of_its_files_is_told_and_cleared_away(monkeypatch, does, said):
    monkeypatch.setattr(apart, "perform", does)
    job, forgotten = Job.objects.create(kind="import", title="Adding", key="a", lasting=True), []
    perform_apart(job, Apart(lambda _: Limits(memory=1_000_000_000, seconds=1), forgotten.append))
    job.refresh_from_db()
    if said is None:
        assert (job.state, forgotten) == (Job.State.WAITING, [])  # whoever does it says how it ended
        return
    assert (job.state, job.status, forgotten) == (Job.State.REFUSED, 400, [job])
    assert said in job.problem["message"]


def test_a_server_takes_in_what_comes_after_a_file_that_its_reader_died_of(tmp_path):
    server = Server(tmp_path)
    server.start()
    try:
        job = server.settled(server.send("deep.usda", deep_usda()))
        assert job["state"] == "refused"
        assert "Nothing was stored" in job["problem"]["message"]
        assert list((tmp_path / "inbox").iterdir()) == []
        assert server.take_in("good.obj", TRIANGLE)["name"] == "Good"
    finally:
        server.kill()
