"""A frame over HTTP on one kept connection, to the decoded answer, against the evaluator alone."""

from __future__ import annotations

import http.client
import json
import tempfile
import time
from pathlib import Path

import msgpack
import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character
from tightseam.exchange.character_file import write_character

from benchmarks.heads import posed_values
from benchmarks.timing import Row, medians
from tests.serving import Server

REQUESTS = 300
HEADERS = {"Content-Type": "application/json"}


def run(name: str, character: Character, store: MemoryStore) -> list[Row]:
    evaluator = Evaluator(character, store)
    rest = {c.name: c.rest for c in character.controls}
    alone = medians({"evaluator": lambda: evaluator.frame(rest | posed_values(1))}, 40)["evaluator"]
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        server.start()
        try:
            times = _request_times(server, write_character(character, store))
        finally:
            server.kill()
    median, p95, p99 = (float(np.percentile(times, q)) for q in (50, 95, 99))
    return [
        Row(f"frame over HTTP, {name}, median", median, "evaluator alone + 6 ms", alone + 6, "<= reference", median <= alone + 6),
        Row(f"frame over HTTP, {name}, 95th percentile", p95, "60 a second", 1000 / 60, "<= reference", p95 <= 1000 / 60),
        Row(f"frame over HTTP, {name}, 99th percentile", p99, "60 a second", 1000 / 60, "<= reference", p99 <= 1000 / 60),
    ]


def _request_times(server: Server, character_file: bytes) -> list[float]:
    connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=60)
    number = server.take_in("bench.seam", character_file)["id"]
    times = []
    for k in range(REQUESTS + 20):
        request = json.dumps({"revision": 1, "values": posed_values(k)})
        start = time.perf_counter()
        connection.request("POST", f"/api/characters/{number}/frame", request, HEADERS)
        answer = msgpack.unpackb(connection.getresponse().read())
        points = np.frombuffer(answer["parts"]["skin"]["points"], np.float32)
        if k >= 20:  # the first ones also load the kernels and the character
            times.append((time.perf_counter() - start) * 1000)
        assert len(points) > 10_000
    return times
