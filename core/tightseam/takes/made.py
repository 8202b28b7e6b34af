"""Three made-up performances as curves of channels over time, with noise and short drop-outs as a capture device has them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tightseam.document.errors import BadRequest
from tightseam.geometry.types import Floats

RATE = 30.0  # frames a second
NOISE = 0.012  # of the range of a channel
DROPS = 4  # drop-outs a take
DROP = (0.1, 0.35)  # seconds that one lasts


@dataclass(frozen=True)
class Take:
    """Frames (T, C) of channels at a rate; a channel goes from 0 to 1, or from -1 to 1 both ways. Lost frames are NaN throughout."""

    name: str
    label: str
    rate: float
    channels: tuple[str, ...]
    frames: Floats


def _wave(t: Floats, seconds: float, shift: float = 0.0) -> Floats:
    return np.asarray(np.sin(2 * np.pi * (t / seconds + shift)))


def _pulse(t: Floats, at: float, width: float) -> Floats:
    return np.asarray(np.exp(-(((t - at) / width) ** 2)))


def _blinks(t: Floats, every: float) -> Floats:
    return np.asarray(sum((_pulse(t, at, 0.07) for at in np.arange(0.8, float(t[-1]), every)), np.zeros_like(t)))


def _read_aloud(t: Floats) -> dict[str, Floats]:
    syllables = np.maximum(_wave(t, 0.31), 0) * (0.6 + 0.4 * _wave(t, 1.7)) * (np.mod(t, 3.1) < 2.5)
    rounded = np.maximum(_wave(t, 0.93, 0.3), 0) * (np.mod(t, 3.1) < 2.5)
    return {
        "Jaw open": 0.42 * syllables,
        "Pucker": 0.55 * rounded,
        "Brows up": 0.4 * np.maximum(_wave(t, 3.1, 0.1), 0),
        "Blink left": _blinks(t, 2.6),
        "Blink right": _blinks(t, 2.6),
        "Head nod": 0.12 * _wave(t, 2.2),
        "Gaze across": 0.2 * _wave(t, 3.1, 0.25),
    }


def _laugh(t: Floats) -> dict[str, Floats]:
    swell = np.clip(np.minimum(t / 1.2, (8 - t) / 1.5), 0, 1)
    shake = np.maximum(_wave(t, 0.22), 0)
    return {
        "Smile": swell,
        "Jaw open": swell * (0.25 + 0.35 * shake),
        "Squint": 0.8 * swell,
        "Head nod": -0.3 * swell + 0.06 * swell * _wave(t, 0.22),
        "Head tilt": 0.25 * swell * _wave(t, 4.0),
        "Blink left": _blinks(t, 3.3),
        "Blink right": _blinks(t, 3.3),
    }


def _look_around(t: Floats) -> dict[str, Floats]:
    across = np.tanh(3 * _wave(t, 7.0))
    return {
        "Gaze across": 0.9 * across,
        "Gaze height": 0.7 * np.tanh(3 * _wave(t, 4.1, 0.2)),
        "Head turn": 0.5 * np.tanh(2 * _wave(t, 7.0, -0.04)),
        "Head nod": 0.2 * _wave(t, 4.1, 0.15),
        "Blink left": np.maximum(_blinks(t, 3.5), 0),
        "Blink right": np.maximum(_blinks(t, 3.5), 0),
        "Brows up": 0.5 * np.maximum(_wave(t, 5.0), 0),
    }


MADE: dict[str, tuple[str, float, int, Callable[[Floats], dict[str, Floats]]]] = {
    "read_aloud": ("A line read aloud", 9.0, 11, _read_aloud),
    "laugh": ("A laugh", 8.0, 12, _laugh),
    "look_around": ("A slow look around", 12.0, 13, _look_around),
}


def take(name: str) -> Take:
    """One of the takes; the same to the bit every time. BadRequest for another name."""
    if name not in MADE:
        raise BadRequest(f"There is no take “{name}”. There are: {', '.join(MADE)}.")
    label, seconds, seed, make = MADE[name]
    t = np.arange(0, seconds, 1 / RATE)
    curves = make(t)
    rng = np.random.default_rng(seed)
    frames = np.column_stack(list(curves.values())) + rng.normal(0, NOISE, (len(t), len(curves)))
    for at, lasts in zip(rng.uniform(0.5, seconds - 1, DROPS), rng.uniform(*DROP, DROPS), strict=True):
        frames[(t >= at) & (t < at + lasts)] = np.nan
    return Take(name, label, RATE, tuple(curves), frames)
