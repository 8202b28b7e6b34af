"""Work beside the requests: how soon it begins, what a repair takes right after its Try, what frames lose while findings are sought."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from statistics import median

from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character
from tightseam.exchange.character_file import write_character

from benchmarks.timing import Row
from tests.serving import Server

ROUNDS = 9
AT_ONCE = 100.0  # ms in which a job should begin
FRAMES = 40


def run(name: str, character: Character, store: MemoryStore) -> list[Row]:
    with _served(character, store) as server:
        tried, repaired, begun = zip(*(_tried_and_repaired(server, k) for k in range(ROUNDS)), strict=True)
        alone = _frames(server)
        server.ask("characters/1/findings/lids?revision=1")
        beside = _frames(server)
    ours, theirs, late = (1000 * median(times[1:]) for times in (repaired, tried, begun))  # the first finds everything cold
    return [
        Row(f"a repair right after its Try, {name}", ours, "its Try", theirs, "<= 0.1 times", ours <= 0.1 * theirs),
        Row(f"a job begins, {name}", late, "100 ms", AT_ONCE, "<= 1 times", late <= AT_ONCE),
        Row(f"a frame beside findings, {name}", beside, "alone", alone, "<= 1.3 times", beside <= 1.3 * alone),
    ]


@contextmanager
def _served(character: Character, store: MemoryStore) -> Iterator[Server]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        server.start()
        try:
            server.take_in("bench.seam", write_character(character, store))
            yield server
        finally:
            server.kill()


def _tried_and_repaired(server: Server, k: int) -> tuple[float, float, float]:
    """Seconds of a Try, of the repair after it, and from asking for the job to its beginning."""
    base = server.ask("characters/1")[1]["revision"]["number"]
    step = {"edit": "shape.scale", "params": {"name": "smile", "by": 1.01 + 0.01 * k}}
    asked = time.time()
    start = time.perf_counter()
    status, job = server.ask("characters/1/try", {"base": base, "step": step})
    begun = 0.0
    if status == 202:
        job = server.settled(job)
        begun = datetime.fromisoformat(job["started"]).timestamp() - asked
        server.ask("characters/1/try", {"base": base, "step": step})
    tried = time.perf_counter() - start
    start = time.perf_counter()
    server.ask("characters/1/edits", {"base": base, "step": step})
    return tried, time.perf_counter() - start, begun


def _frames(server: Server) -> float:
    """The median of frames while a control moves, ms."""
    times = []
    for k in range(FRAMES):
        start = time.perf_counter()
        server.raw("characters/1/frame", {"revision": 1, "values": {"jaw_open": k / FRAMES}})
        times.append(time.perf_counter() - start)
    return 1000 * median(times)
