"""Requests as tests make them: the status and the JSON of the answer."""

from __future__ import annotations

import json

import msgpack
import numpy as np

HUGE = 10**30  # a number that no array can hold


def post(client, path: str, body) -> tuple[int, dict]:
    answer = client.post(path, json.dumps(body), content_type="application/json")
    return answer.status_code, answer.json()


def get(client, path: str):
    answer = client.get(path)
    return answer.status_code, answer.json()


def edit(client, who: int, base: int, name: str, /, **params):
    return post(client, f"/api/characters/{who}/edits", {"base": base, "step": {"edit": name, "params": params}})


def painted(answer) -> dict[str, np.ndarray]:
    """What some dabs changed of the part that is painted."""
    raw = msgpack.unpackb(answer.content)
    return {k: np.frombuffer(v, np.uint32 if k == "vertices" else np.float32) for k, v in raw.items() if isinstance(v, bytes)}
