"""Eyes made round with the iris kept; lids raised off them."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.easing import smoothstep
from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats
from tightseam.landmarks.eye_seat import CORNEA, EyeBall

BLEND = 15.0  # degrees beyond the cornea over which the white takes over
LIFTED = (1.15, 1.5)  # radii from the centre up to which lids are raised wholly, and beyond which not at all
FRONT = (-0.15, 0.3)  # radii before the centre from which they are raised at all, and wholly


def drawn_to_ball(points: Floats, ball: EyeBall) -> Floats:
    """Points (N, 3) of an eye with the white on its ball.

    The cap about the gaze, iris and cornea, moves as one along the gaze until its rim lies on the ball: what is drawn on it keeps
    its shape. Between the two the one goes over smoothly into the other.
    """
    offset = points - ball.centre
    direction = unit(offset)
    degrees = np.degrees(np.arccos(np.clip(direction @ ball.gaze, -1, 1)))
    weight = smoothstep((degrees - CORNEA) / BLEND)
    rim = np.abs(degrees - CORNEA) < BLEND / 2
    forward = (
        float(((ball.radius - np.linalg.norm(offset[rim], axis=1)) / np.maximum(direction[rim] @ ball.gaze, 0.2)).mean())
        if rim.any()
        else 0.0
    )
    on_ball = direction * ball.radius - offset
    moved = weight[:, None] * on_ball + (1 - weight)[:, None] * (forward * ball.gaze)
    return np.asarray(points + moved)


def lids_raised(points: Floats, centre: Floats, radius: float, forward: Floats, by: float) -> Floats:
    """Points (N, 3) of lids and lashes moved away from the eye's centre by `by` cm, less and less beyond the lids and behind the
    eye's middle; all else stays."""
    offset = points - centre
    length = np.linalg.norm(offset, axis=1)
    beyond = smoothstep((length / radius - LIFTED[0]) / (LIFTED[1] - LIFTED[0]))
    before = smoothstep((offset @ forward / radius - FRONT[0]) / (FRONT[1] - FRONT[0]))
    share = (1 - beyond) * before
    return np.asarray(points + by * (share / np.maximum(length, 1e-9))[:, None] * offset)
