"""A take as values of controls: channels matched by name, drop-outs bridged, noise smoothed, in the order in which frames arrive."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from tightseam.document.lookup import control as find_control
from tightseam.document.model import Character, Control
from tightseam.geometry.types import Bools, Floats
from tightseam.shapes.name_list import NameList, WantedShape, matched
from tightseam.takes.made import Take

HOLD = 0.25  # seconds for which a lost frame is bridged by the last one before it goes back to rest
BACK = 0.5  # seconds in which it does


@dataclass(frozen=True)
class Followed:
    """Values (T, K) of controls at a rate, and which frames (T,) were lost."""

    rate: float
    controls: tuple[str, ...]
    frames: Floats
    lost: Bools


def matched_channels(take: Take, character: Character) -> dict[str, str | None]:
    """The control that each channel is for: the one of its name, else one whose name says the same; None where there is none."""
    wanted = NameList("controls", tuple(WantedShape(c.name) for c in character.controls))
    found = matched(take.channels, wanted)
    near = dict(found.near)
    return {name: name if name in found.same else near.get(name) for name in take.channels}


def follow(take: Take, character: Character, mapping: Mapping[str, str | None], smooth: float = 0.08) -> Followed:
    """Values of controls, frame by frame: each depends on what came before it only, as in a device that is connected.

    A channel's 1 is the upper end of the control, its -1 the lower one, beyond its rest. `smooth` is the time constant, in seconds, of
    exponential smoothing (0 for none). BadRequest for a control that is not there.
    """
    wired = [(k, find_control(character, name)) for k, channel in enumerate(take.channels) if (name := mapping.get(channel))]
    controls = [c for _, c in wired]
    lost: Bools = np.asarray(np.isnan(take.frames).all(axis=1))
    raw = _bridged(take.frames[:, [k for k, _ in wired]], lost, take.rate)
    values = np.column_stack([_scaled(raw[:, k], c) for k, c in enumerate(controls)]) if controls else np.zeros((len(raw), 0))
    return Followed(take.rate, tuple(c.name for c in controls), _smoothed(values, smooth * take.rate), lost)


def _bridged(frames: Floats, lost: Bools, rate: float) -> Floats:
    """Frames (T, K) with lost ones (T,) held at the last that came, and let go to rest when nothing comes for long."""
    found = np.nan_to_num(frames, nan=0.0)
    since = 0
    for k in range(len(found)):
        since = since + 1 if lost[k] else 0
        if lost[k] and k:
            gone = (since / rate - HOLD) / BACK
            found[k] = found[k - 1] if gone <= 0 else found[k - 1] * max(0.0, 1 - 1 / (rate * BACK))
    return found


def _scaled(channel: Floats, control: Control) -> Floats:
    """Values (T,) of a control from those of a channel, within its range."""
    up, down = control.high - control.rest, control.rest - control.low
    return np.clip(control.rest + np.where(channel >= 0, channel * up, channel * down), control.low, control.high)


def _smoothed(values: Floats, frames: float) -> Floats:
    """Exponentially smoothed over so many frames."""
    share = 1.0 if frames <= 0 else 1 - np.exp(-1 / frames)
    found = values.copy()
    for k in range(1, len(found)):
        found[k] = found[k - 1] + share * (values[k] - found[k - 1])
    return found
