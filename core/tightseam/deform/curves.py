"""Curves of a document, ready to be asked."""

from __future__ import annotations

from tightseam.document.basics import CurveKeys
from tightseam.geometry.curve import Curve


def compile_curve(keys: CurveKeys) -> Curve:
    return Curve([(k.at, k.value, k.slope) for k in keys])
