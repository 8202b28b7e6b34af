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
PATIENCE = 180.0  # s to come up, the cast made anew


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


class Server:
    def __init__(self, data: Path, demo: bool = False) -> None:
        self.data, self.demo, self.port = data, demo, free_port()
        self.process: subprocess.Popen | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [sys.executable, "server/manage.py", "serve", "--port", str(self.port), *(["--demo"] if self.demo else [])]
        environment = os.environ | {"TIGHT_SEAM_DATA": str(self.data)}
        self.process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE)
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"{self.address}/api/characters", timeout=5)
                return
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                if self.process.poll() is not None:
                    raise RuntimeError(self.process.stderr.read().decode()) from None
                time.sleep(0.05)
        raise RuntimeError("The server did not come up.")

    def take_in(self, name: str, content: bytes, token: str = "t") -> dict:
        """Put a file on the shelf; its entry there."""
        boundary = "----seam"
        head = f'--{boundary}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'.encode()
        body = head + content + f"\r\n--{boundary}--\r\n".encode()
        headers = {"Content-Type": f"multipart/form-data; boundary={boundary}"}
        request = urllib.request.Request(f"{self.address}/api/imports/{token}", body, headers)
        return json.load(urllib.request.urlopen(request, timeout=60))["entry"]

    def kill(self) -> None:
        """As a power cut would: no chance to finish anything."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
