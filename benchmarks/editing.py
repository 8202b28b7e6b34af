"""Opening a character cold and warm, a stroke drawn and stored over HTTP, and what an edit derives anew."""

from __future__ import annotations

import http.client
import json
import tempfile
import time
from pathlib import Path

import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part
from tightseam.document.model import Character
from tightseam.exchange.character_file import write_character
from tightseam.head.found import plane_of
from tightseam.seams.meter import SeamMeter

from benchmarks.timing import Row, medians
from tests.serving import Server

DABS = 30
RADIUS = 1.5  # cm
STROKES, BEFORE = 29, 8  # after those of BEFORE each thread of the server has opened the database
HEADERS = {"Content-Type": "application/json"}


def opening(name: str, character: Character, store: MemoryStore) -> list[Row]:
    """Posed, measured, and its plane of symmetry found."""
    values = {c.name: c.rest for c in character.controls}

    def opened() -> None:
        evaluator = Evaluator(character, store)
        evaluator.frame(values)
        SeamMeter(character, store, evaluator).measure(values)
        plane_of(character, store)

    def cold() -> None:
        DERIVED.clear()
        opened()

    cold()
    print(f"     what is derived of {name}: {DERIVED.held / 2**20:.1f} MB")
    warm = medians({"warm": opened}, 7)["warm"]
    slow = medians({"cold": cold}, 5, 1)["cold"]
    return [Row(f"opening {name}, warm", warm, "cold", slow, ">= 4x", slow >= 4 * warm)]


def strokes(name: str, character: Character, store: MemoryStore) -> list[Row]:
    """A stroke of 30 dabs, two a request: storing it against drawing its last two, both over HTTP."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        server.start()
        try:
            drawn, stored = _stroke_times(server, character, store)
        finally:
            server.kill()
    return [Row(f"{DABS} dabs stored, {name}", stored, "its last dab drawn", drawn, "<= 1.5 times", stored <= 1.5 * drawn)]


def _stroke_times(server: Server, character: Character, store: MemoryStore) -> tuple[float, float]:
    connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=120)
    number = server.take_in("bench.seam", write_character(character, store))["id"]
    points = np.asarray(store.get(part(character, "skin").points))
    rng, drawn, stored = np.random.default_rng(2), [], []
    for k in range(STROKES):
        middle = points[rng.integers(len(points))]
        near = np.argsort(np.linalg.norm(points - middle, axis=1))[:DABS]
        dabs = [{"vertex": int(v), "place": points[v].tolist(), "tool": "add", "pressure": 1.0} for v in near]
        painting = {"part": "skin", "bone": character.bones[5].name, "brush": {"radius": RADIUS, "strength": 0.2}}
        for first, dab in enumerate(dabs):
            body = {"revision": k + 1, "token": f"stroke {k}", "painting": painting, "first": first, "dabs": [dab]}
            last = _timed(connection, f"/api/characters/{number}/paint", body)
        step = {"edit": "weights.paint", "params": {"painting": painting, "dabs": dabs}}
        drawn.append(last)
        stored.append(_timed(connection, f"/api/characters/{number}/edits", {"base": k + 1, "step": step}))
    return float(np.median(drawn[BEFORE:])), float(np.median(stored[BEFORE:]))


def _timed(connection: http.client.HTTPConnection, address: str, body: dict) -> float:
    start = time.perf_counter()
    connection.request("POST", address, json.dumps(body), HEADERS)
    answer = connection.getresponse()
    said = answer.read()
    assert answer.status == 200, said
    return (time.perf_counter() - start) * 1000
