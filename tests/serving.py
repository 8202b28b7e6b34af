"""A real server in a process of its own, with data of its own."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

ROOT = Path(__file__).parents[1]
POLL = 0.05  # s between two questions, so that the server has the processor
PATIENCE = 180.0  # s to come up, the cast made anew


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


def _answered(request: urllib.request.Request) -> tuple[int, dict]:
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.status, json.loads(answer.read() or b"null")
    except urllib.error.HTTPError as refused:
        return refused.code, json.load(refused)


class Server:
    def __init__(self, data: Path, demo: bool = False, **environment: str) -> None:
        self.data, self.demo, self.port, self._environment = data, demo, free_port(), environment
        self.process: subprocess.Popen | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [sys.executable, "server/manage.py", "serve", "--port", str(self.port), *(["--demo"] if self.demo else [])]
        environment = os.environ | {"TIGHT_SEAM_DATA": str(self.data)} | self._environment
        self.process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE)
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"{self.address}/api/characters", timeout=5)
                return
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                if self.process.poll() is not None:
                    raise RuntimeError(self.process.stderr.read().decode()) from None
                time.sleep(POLL)
        raise RuntimeError("The server did not come up.")

    def ask(self, path: str, body: dict | None = None, method: str | None = None, window: str = "tests") -> tuple[int, dict]:
        """Status and JSON of an answer."""
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-Window": window}
        request = urllib.request.Request(f"{self.address}/api/{path}", data, headers, method=method)
        return _answered(request)

    def raw(self, path: str, body: dict) -> bytes:
        """An answer that is no JSON."""
        request = urllib.request.Request(f"{self.address}/api/{path}", json.dumps(body).encode(), {"Content-Type": "application/json"})
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.read()

    def settled(self, job: dict) -> dict:
        """A job once it has ended."""
        while job["state"] in ("waiting", "running"):
            time.sleep(POLL)
            job = self.ask(f"jobs/{job['id']}")[1]
        return job

    def take_in(self, name: str, content: bytes) -> dict:
        """Put a file on the shelf; its entry there."""
        job = self.settled(self.send(name, content))
        assert job["state"] == "done", job
        entries = self.ask("characters")[1]
        return next(e for e in entries if e["id"] == job["result"]["character"])

    def send(self, name: str, content: bytes) -> dict:
        """Send a file to be put on the shelf; the job that does it."""
        boundary = "----seam"
        head = f'--{boundary}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'.encode()
        body = head + content + f"\r\n--{boundary}--\r\n".encode()
        headers = {"Content-Type": f"multipart/form-data; boundary={boundary}", "X-Window": "tests"}
        return _answered(urllib.request.Request(f"{self.address}/api/imports", body, headers))[1]

    def kill(self) -> None:
        """As a power cut would: no chance to finish anything."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
