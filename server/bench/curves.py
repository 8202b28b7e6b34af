"""Curves as screens draw them."""

import numpy as np
from ninja import Schema
from tightseam.deform.curves import compile_curve
from tightseam.document.model import CurveKey, CurveKeys

DRAWN = 41  # places of a curve that are drawn


class CurveOut(Schema):
    """A curve by its keys, and as places with what it gives there."""

    keys: list[CurveKey]
    path: list[tuple[float, float]]


def curve_out(keys: CurveKeys, low: float, high: float) -> CurveOut:
    at = np.linspace(low, high, DRAWN)
    values = np.broadcast_to(compile_curve(keys)(at), at.shape) if keys else at * 0
    return CurveOut(keys=list(keys), path=list(zip(at.round(4).tolist(), values.round(4).tolist(), strict=True)) if keys else [])
