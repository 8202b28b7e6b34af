"""Where the record lies: numbers of posed points as compressed arrays, all else as lines of JSON, a name and what belongs to it on each."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

DATA = Path(__file__).parent / "data"


def write_points(name: str, by_driver: dict[str, np.ndarray]) -> None:
    np.savez_compressed(DATA / f"{name}.points.npz", **by_driver)


def read_points(name: str) -> dict[str, np.ndarray]:
    with np.load(DATA / f"{name}.points.npz") as found:
        return dict(found)


def write(name: str, what: str, found: dict[str, Any]) -> None:
    lines = (json.dumps([key, value], ensure_ascii=False) for key, value in found.items())
    _place(name, what).write_text("\n".join(lines) + "\n")


def read(name: str, what: str) -> dict[str, Any]:
    return dict(json.loads(line) for line in _place(name, what).read_text().splitlines())


def _place(name: str, what: str) -> Path:
    return DATA / f"{name}.{what}.jsonl"
