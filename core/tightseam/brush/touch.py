"""What one touch of a brush reaches, and what it makes of the values there."""

from __future__ import annotations

import numpy as np

from tightseam.brush.brush import Brush, Tool, Touch, falloff
from tightseam.brush.canvas import Canvas
from tightseam.geometry.reach import Reach
from tightseam.geometry.types import Floats, Ints

SMALLEST = 1e-4  # less than that a brush does not leave behind


def touched(brush: Brush, canvas: Canvas, reach: Reach, posed: Floats, dab: Touch) -> tuple[Ints, Floats]:
    """The vertices (K,) of a posed surface (N, 3) under the brush, sorted, and how much (K,) of the dab arrives there."""
    place, radius = np.array(dab.place), brush.radius
    if brush.through:
        far = np.linalg.norm(posed - place, axis=1)
        near: Ints = np.flatnonzero(far <= radius)
        far = far[near]
    else:
        near, far = reach.from_place(posed, dab.vertex, place, radius)
        if dab.eye is not None and len(near):
            facing = ((np.array(dab.eye) - posed[near]) * canvas.normals(posed, near)).sum(axis=1) > 0
            near, far = near[facing], far[facing]
    return near, falloff(brush.falloff, far / radius) * brush.strength * dab.pressure


def painted(brush: Brush, tool: Tool, canvas: Canvas, near: Ints, amount: Floats, values: Floats, before: Floats) -> Floats:
    """What values (N,) become on the vertices `near` (K,), 0..1, where `before` (K,) is what they were when the stroke began."""
    own = values[near]
    if tool == "smooth":
        wanted = own + amount * (canvas.mesh.average[near] @ values - own)
    elif tool == "even":
        wanted = own + amount * (np.average(own, weights=np.maximum(amount, 1e-9)) - own)
    elif tool == "set":
        wanted = own + amount * (brush.value - own)
    else:
        wanted = own + (amount if tool == "add" else -amount)
    if brush.most is not None:
        wanted = np.clip(wanted, before - brush.most, before + brush.most)
    wanted = np.clip(wanted, 0, 1)
    return np.where(wanted < SMALLEST, 0.0, wanted)
