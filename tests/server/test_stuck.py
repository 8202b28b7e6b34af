"""Clients that begin and never end, and a port that is taken."""

from __future__ import annotations

import socket
import subprocess
import sys
from contextlib import ExitStack

import pytest

from tests.serving import ROOT, Server

HALF = b"POST /api/imports HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 1000\r\n\r\nabc"


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    found = Server(tmp_path_factory.mktemp("stuck"))
    found.start()
    yield found
    found.kill()


@pytest.mark.parametrize("sent", [HALF, HALF[:20], b""])
def test_hundreds_of_half_sent_requests_hold_up_nobody(server, sent):
    with ExitStack() as stack:
        for _ in range(300):
            stack.enter_context(socket.create_connection(("127.0.0.1", server.port), timeout=20)).sendall(sent)
        assert server.ask("characters") == (200, [])


def test_a_port_that_is_taken_is_said_in_words(server, tmp_path):
    command = [sys.executable, "server/manage.py", "serve", "--port", str(server.port)]
    ended = subprocess.run(command, cwd=ROOT, env={"TIGHT_SEAM_DATA": str(tmp_path)}, capture_output=True, text=True, timeout=60)
    assert ended.returncode == 2
    assert f"Port {server.port} is in use" in ended.stderr
    assert "Traceback" not in ended.stderr
